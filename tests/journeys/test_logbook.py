"""A run's log: begun, typed in a line, tapped by thumb, without signal, changed and taken back."""

import re

import pytest
from playwright.sync_api import expect

from server.logbook.models import Entry
from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


@pytest.fixture
def log(demo):
    demo.get_by_role("link", name="Logbook").click()
    expect(demo.get_by_role("heading", level=1)).to_have_text("This plan has not begun.")
    accessible(demo)
    demo.get_by_label("It began on").fill("2026-01-05")
    demo.get_by_role("button", name="Begin the run").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("Nothing in the log yet")
    return demo


def line(page, text):
    page.get_by_label("In one line").fill(text)


def entry(page, text):
    """The entry of the log that says so."""
    return page.get_by_role("region", name="The log").locator(".entry", has_text=text)


def kept(page, count):
    """The entries there are, once so many have come."""
    for _ in range(100):
        if Entry.objects.count() >= count:
            break
        page.wait_for_timeout(100)
    return list(Entry.objects.order_by("id").values_list("kind", "values"))


def keep(page):
    page.get_by_role("button", name="Keep it", exact=True).first.click()


def test_a_line_is_kept_as_it_was_shown_and_nothing_else(log):
    page = log
    line(page, "h 40; dial 60; tips bleached back left; 24")
    shown = page.get_by_role("list", name="What will be kept")
    expect(shown).to_contain_text("lamp 40 cm above the tops, dial 60")
    expect(shown).to_contain_text("tips bleached, back left")
    expect(shown).to_contain_text("“24” was not understood")
    # what is not understood holds the line
    expect(page.get_by_role("button", name="Keep it", exact=True)).to_be_disabled()
    accessible(page)
    line(page, "h 40; dial 60; tips bleached back left")
    expect(shown).not_to_contain_text("not understood")
    keep(page)
    expect(entry(page, "lamp 40 cm above the tops, dial 60")).to_be_visible()
    line(page, "dial 55")
    expect(shown).to_contain_text("dial 55")
    page.keyboard.press("Enter")
    expect(entry(page, "dial 55 (was 60)")).to_be_visible()
    assert kept(page, 3) == [
        ("setting", {"height_cm": 40, "dial_pct": 60}),
        ("symptom", {"what": "bleached", "part": "tips", "where": "back left"}),
        ("setting", {"dial_pct": 55}),
    ]
    page.reload()
    expect(entry(page, "dial 55 (was 60)")).to_be_visible()


def test_by_thumb_without_signal_and_sent_once(log):
    page = log
    page.set_viewport_size({"width": 390, "height": 844})
    unclipped(page)
    page.context.set_offline(True)
    page.get_by_role("button", name="Tops", exact=True).click()
    page.get_by_label("Tops above the floor (cm)").fill("31")
    page.get_by_role("button", name="Keep it", exact=True).last.click()
    expect(entry(page, "31 cm above the floor")).to_be_visible()
    expect(page.get_by_text("No signal: 1 entry waits on this device.")).to_be_visible()
    line(page, "lamp hums at 30")
    expect(page.get_by_text("No signal to read it")).to_be_visible()
    page.get_by_role("button", name="Keep it as a note").click()
    expect(page.get_by_text("No signal: 2 entries wait")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("No signal")).to_be_hidden()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Tops about 31 cm")
    assert [kind for kind, _ in kept(page, 2)] == ["tops", "note"]
    unclipped(page)
    accessible(page)


def test_an_entry_is_changed_taken_out_and_comes_back(log):
    page = log
    line(page, "120 W")
    expect(page.get_by_role("list", name="What will be kept")).to_contain_text("120 W")
    keep(page)
    days = page.get_by_role("region", name="The log")
    days.get_by_role("button", name="Change Meter 120 W").click()
    page.get_by_label("At the plug").fill("112")
    page.get_by_role("button", name="Keep the change").click()
    expect(entry(page, "112 W")).to_be_visible()
    expect(days.get_by_text("changed since")).to_be_visible()
    expect(entry(page, "120 W")).to_be_hidden()
    days.get_by_role("button", name=re.compile("Take out.*112 W")).click()
    expect(page.get_by_text("Taken out: Meter, 112 W.")).to_be_visible()
    expect(days.get_by_text("What you keep stands here")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(entry(page, "112 W")).to_be_visible()
    page.reload()
    expect(entry(page, "112 W")).to_be_visible()
    # what stood before is still below it
    assert len(kept(page, 4)) == 4
    # taken out it can be brought back later on, too
    days.get_by_role("button", name=re.compile("Take out.*112 W")).click()
    expect(entry(page, "112 W")).to_be_hidden()
    page.reload()
    page.get_by_text("Taken out of the log").click()
    accessible(page)
    page.get_by_role("button", name="Bring it back Meter 112 W").click()
    expect(entry(page, "112 W")).to_be_visible()
    expect(page.get_by_text("Nothing is: what you take out")).to_be_visible()


def test_the_light_of_each_day_follows_what_was_set(log):
    page = log
    page.get_by_role("button", name="Set", exact=True).click()
    page.get_by_label("Lamp above the tops (cm)").fill("45")
    page.get_by_label("Dial (%)").fill("60")
    page.get_by_label("On for (h)").fill("12")
    page.get_by_label("When; empty: now").fill("2026-01-06T00:00")
    page.get_by_role("button", name="Keep it", exact=True).last.click()
    expect(
        page.get_by_text(re.compile(r"Plants got \d+(\.\d)? mol a day over the last 7"))
    ).to_be_visible()
    expect(page.get_by_role("region", name="The light of each day")).to_be_visible()
    expect(page.get_by_text(re.compile(r"Day 2, .*: \d+(\.\d)? mol"))).to_be_visible()
    accessible(page)
    page.set_viewport_size({"width": 390, "height": 844})
    unclipped(page)
