"""Take every main view from fresh demo data at 1280 x 800 into docs/screenshots."""

import os
import re
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).parents[1]
SHOTS = ROOT / "docs" / "screenshots"
PORT = 8898
URL = f"http://127.0.0.1:{PORT}"
UNDER_WAY = "Chrysanthemums for the show"
FLAGS = ["--headless", "--no-sandbox", "--disable-gpu", "--disable-background-networking"]


def bench(page: Page) -> None:
    """The plan's choice for the flowering stage."""
    page.goto(f"{URL}/bench")
    page.get_by_text("inside 10–20").wait_for()


def review(page: Page) -> None:
    """The run under way looked back on: planned and given, what it cost, what was lost."""
    bench(page)
    of_the_show(page)
    page.goto(f"{URL}/review")
    page.get_by_text("Dust on the lamp").wait_for(timeout=60_000)


def space(page: Page) -> None:
    """The space and the crop."""
    page.goto(f"{URL}/space")
    page.get_by_text("Room from the tops to the lamp").wait_for()


def fixtures(page: Page) -> None:
    """The shelf of lamps."""
    page.goto(f"{URL}/fixtures")
    page.get_by_text("lamps on your shelf").wait_for()


def plans(page: Page) -> None:
    """A lining tried in a copy of the plan, beside it."""
    page.goto(f"{URL}/bench")
    page.get_by_label("Plan", exact=True).select_option(label="Herb shelf · Winter herbs")
    page.get_by_role("button", name="What lining would gain").click()
    page.get_by_role("button", name="Try it in a copy").first.click()
    page.get_by_role("row", name=re.compile("^Energy")).wait_for(timeout=60_000)


def of_the_show(page: Page) -> None:
    """Open the run that is under way."""
    page.get_by_label("Plan", exact=True).select_option(label=f"{UNDER_WAY} (running)")


def today(page: Page) -> None:
    """What is due for the run under way, and where things stand."""
    page.goto(f"{URL}/")
    page.get_by_text("3 days late").wait_for(timeout=60_000)
    page.get_by_role("button", name="5 days?").click()
    page.get_by_text("Before you go:").wait_for()


def season(page: Page) -> None:
    """The whole run: planned, and what really was."""
    page.goto(f"{URL}/season")
    of_the_show(page)
    page.get_by_role("button", name="Power cut").wait_for(timeout=60_000)
    page.get_by_role("button", name="Power cut").click()


def ranking(page: Page) -> None:
    """Which lamps would do."""
    fixtures(page)
    page.get_by_role("button", name="Rank them in this tent").click()
    page.get_by_text("the job here").wait_for(timeout=60_000)


LISTING = """TALLOWBEAM 1000 LED GROW LIGHT 1000W FULL SPECTRUM FOR INDOOR PLANTS
- Actual power: 100W ±5% (replaces 250W)
- 240 high output diodes, 3000K + 5000K + 660nm
- PPF 450 µmol/s (380-780nm), dimmable
- Size: 12.2 x 10.6 x 2.3 inch, net weight 4.2 lbs
- Covers 3 x 3 ft for veg, 2 x 2 ft for flower
- PPFD at centre 1,050 µmol/m²/s at 12 in
Two-pack $149.99"""


def listing(page: Page) -> None:
    """A listing read and checked."""
    fixtures(page)
    page.get_by_role("button", name="Paste a listing").click()
    page.get_by_label("The words of a listing").fill(LISTING)
    page.get_by_role("button", name="Read it").click()
    page.get_by_text("figures found").wait_for()


def record(page: Page) -> None:
    """One lamp's record."""
    fixtures(page)
    page.get_by_role("button", name=re.compile("^Record: .*, Wickerlight Six$")).click()
    page.get_by_text("lux meter").first.wait_for()


def compare(page: Page) -> None:
    """Three lamps side by side, one of them there already."""
    fixtures(page)
    for name in ("Wickerlight Six", "Tallow Board 200", "Kiln Sodium 250"):
        page.get_by_role("checkbox", name=f"Compare {name}").check()
    page.get_by_role("button", name="Compare 3 side by side").click()
    page.get_by_text("does the job at").wait_for(timeout=60_000)
    page.get_by_label("Over (years)").fill("5")
    page.get_by_label("The lamp there now").select_option(label="Kiln Sodium 250")
    page.get_by_role("button", name="Compare again").click()
    page.get_by_role("row", name=re.compile("^Pays back")).wait_for()


def logbook(page: Page) -> None:
    """The log of the run under way, a line being typed."""
    page.goto(f"{URL}/logbook")
    of_the_show(page)
    page.get_by_label("In one line").fill("tips bleached back left; cut 22:10-22:27")
    page.get_by_text("17 min, from 22:10").wait_for()
    page.get_by_role("region", name="The light of each day").wait_for(timeout=60_000)
    page.wait_for_timeout(800)


def readings(page: Page) -> None:
    """Five readings, and what they say."""
    page.goto(f"{URL}/readings")
    for value in (412, 255, 248, 262, 251):
        page.get_by_label("Reading at spot").fill(str(value))
        page.get_by_role("button", name="Keep, next spot").click()
    page.get_by_text("What would help most").wait_for()
    page.wait_for_timeout(1500)


def sums(page: Page) -> None:
    """The sums corner, with a map typed in."""
    page.goto(f"{URL}/sums")
    for column, value in enumerate(("404", "455", "410"), start=1):
        for row, more in enumerate((0, 60, 5), start=1):
            cell = f"Row {row} from the back, {column} from the left"
            page.get_by_label(cell, exact=True).fill(str(int(value) + more))
    page.get_by_text("9 readings").wait_for()


def rack(page: Page) -> None:
    """A rack of shelves, two of its three levels planned."""
    space(page)
    page.get_by_role("button", name="Add another").click()
    page.get_by_role("button", name="Rack of shelves").click()
    page.get_by_label("What you call the rack").fill("Kitchen rack")
    page.get_by_label("Board, width").fill("80")
    page.get_by_label("Board, depth").fill("36")
    for level, clear in ((1, "50"), (2, "48"), (3, "55")):
        page.get_by_label(f"Level {level} (").fill(clear)
    page.get_by_label("and lets through").fill("40")
    page.get_by_role("button", name="Add this rack").click()
    page.get_by_text("nothing is planned on it yet").wait_for()
    page.get_by_label(re.compile("Crop$")).first.select_option(label="Winter herbs")
    page.get_by_label(re.compile("Lamp$")).first.select_option(label="Hearth Pair")
    page.get_by_text("1 of 3 levels").wait_for(timeout=60_000)
    page.get_by_role("button", name="Plan here: Kitchen rack, level 2").click()
    page.get_by_label(re.compile("Lamp$")).first.select_option(label="Hearth Pair")
    page.get_by_text("2 of 3 levels").wait_for(timeout=60_000)


def power(page: Page) -> None:
    """What the light costs, and the same for less."""
    page.goto(f"{URL}/power")
    page.get_by_text("The same light for less").wait_for()


def install(page: Page) -> None:
    """The steps to hang it, and this tent drawn with its marks."""
    page.goto(f"{URL}/install")
    page.get_by_text("steps done").wait_for()


def devices(page: Page) -> None:
    """What reports, and what of it to look at."""
    page.goto(f"{URL}/devices")
    page.get_by_text("All 4 devices report").wait_for(timeout=60_000)
    page.get_by_text("planned at").wait_for(timeout=60_000)
    page.get_by_role("img", name=re.compile("^Watts since")).wait_for()


VIEWS = [
    ("today", today, "light", (1280, 800)),
    ("bench", bench, "light", (1280, 800)),
    ("bench-phone", bench, "dark", (390, 844)),
    ("season", season, "light", (1280, 800)),
    ("review", review, "light", (1280, 800)),
    ("space", space, "light", (1280, 800)),
    ("fixtures", fixtures, "light", (1280, 800)),
    ("ranking", ranking, "light", (1280, 800)),
    ("listing", listing, "light", (1280, 800)),
    ("record", record, "light", (1280, 800)),
    ("compare", compare, "light", (1280, 800)),
    ("power", power, "light", (1280, 800)),
    ("install", install, "light", (1280, 800)),
    ("sums", sums, "light", (1280, 800)),
    ("devices", devices, "light", (1280, 800)),
    ("readings", readings, "light", (1280, 800)),
    # last: these keep something
    ("logbook", logbook, "light", (1280, 800)),
    ("rack", rack, "light", (1280, 800)),
    ("plans", plans, "light", (1280, 800)),
]


def main() -> None:
    """Serve the demo from a fresh folder and take the pictures."""
    with tempfile.TemporaryDirectory() as data:
        environment = {**os.environ, "IDLE_CANOPY_DEMO": "1", "IDLE_CANOPY_DATA": data}
        # the stand-ins have caught up by the time they are looked at
        environment["IDLE_CANOPY_STAND_IN_RATE"] = "5000"
        manage = [sys.executable, str(ROOT / "manage.py")]
        for command in (["migrate", "--verbosity", "0"], ["demo"]):
            subprocess.run([*manage, *command], env=environment, check=True, capture_output=True)
        server = subprocess.Popen([*manage, "serve", "--port", str(PORT)], env=environment)
        try:
            for _ in range(100):
                try:
                    urllib.request.urlopen(URL, timeout=1)
                    break
                except OSError:
                    time.sleep(0.1)
            with sync_playwright() as p:
                browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
                for name, view, scheme, (width, height) in VIEWS:
                    context = browser.new_context(
                        viewport={"width": width, "height": height},
                        color_scheme="dark" if scheme == "dark" else "light",
                        reduced_motion="reduce",
                    )
                    page = context.new_page()
                    view(page)
                    page.evaluate("document.fonts.ready")
                    page.screenshot(path=SHOTS / f"{name}.png", animations="disabled")
                    context.close()
                browser.close()
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main()
