"""The real interface in Debian's Chromium against a live server."""

import os
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from server.accounts import services
from server.common.allowance import Allowance
from server.runs.demo import make_demo

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
# the first of everything prepares tents, on machines that may be busy
expect.set_options(timeout=30_000)

ROOT = Path(__file__).parents[2]
CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
AXE = (ROOT / "web/node_modules/axe-core/axe.min.js").read_text(encoding="utf-8")


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return {"executable_path": CHROMIUM, "args": FLAGS}


@pytest.fixture
def browser_context_args():
    return {"viewport": {"width": 1280, "height": 800}}


@pytest.fixture
def page(page, live_server):
    """A page that fails the test when the browser complains."""
    complaints = []
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.on(
        "console",
        # a refused form answers 4xx and a cut wire fails, which the browser logs too
        lambda m: (
            m.type == "error"
            and not re.search("status of 4|ERR_FAILED|ERR_INTERNET_DISCONNECTED", m.text)
            and complaints.append(m.text)
        ),
    )
    page.set_default_timeout(20_000)
    page.live = live_server.url.replace("localhost", "127.0.0.1")
    yield page
    assert complaints == []


@pytest.fixture
def demo(page, transactional_db, settings):
    """The demo, opened at the bench."""
    make_demo()
    settings.DEMO = True
    page.goto(f"{page.live}/bench")
    expect(page.get_by_role("heading", level=1)).to_contain_text("above the tops", timeout=60_000)
    return page


def accessible(page: Page) -> None:
    """Assert that axe finds nothing on the page as it stands."""
    # evaluated, not added as a script tag: the page's policy allows no foreign script
    page.evaluate(AXE)
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    problems = [
        (v["id"], [node["html"][:160] for node in v["nodes"]][:3]) for v in found["violations"]
    ]
    assert problems == []


def unclipped(page: Page) -> None:
    """Assert that the page does not scroll sideways."""
    wide = page.evaluate("document.documentElement.scrollWidth - innerWidth")
    assert wide <= 0, f"{wide} px wider than the window"


@pytest.fixture(autouse=True)
def unhurried(monkeypatch):
    """Let every test make its accounts, whatever others have made in the hour."""
    monkeypatch.setattr(services, "SIGN_UPS", Allowance(20 / 3600, 20))
