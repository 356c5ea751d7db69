"""A grower plans a whole run: library, season, wishes, files, card, schools, locks."""

import re

import pytest
from icalendar import Calendar
from playwright.sync_api import expect

from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


@pytest.fixture
def season(demo):
    demo.get_by_role("link", name="Season").click()
    # three tents with silver walls are prepared the first time
    expect(demo.get_by_role("heading", level=1)).to_contain_text("91 days", timeout=30_000)
    return demo


def test_the_whole_run_day_by_day(season):
    expect(season.get_by_text("Every stage meets its targets")).to_be_visible()
    accessible(season)
    unclipped(season)
    day = season.locator("#season-day")
    expect(day).to_contain_text("day 1 of 91, Cuttings")
    picture = season.get_by_role("application", name="The season")
    picture.press("ArrowRight")
    expect(day).to_contain_text("day 2 of 91")
    box = picture.bounding_box()
    season.mouse.move(box["x"] + box["width"] - 30, box["y"] + 60)
    expect(day).to_contain_text("Short-day flowering")
    # the year's own day one, and cheap hours
    season.get_by_label("Day 1").fill("2027-02-01")
    expect(season.get_by_role("heading", level=1)).to_contain_text("from 1 Feb to 2 May")
    season.get_by_label("Aim").select_option("moves")
    # trips, not moves, are what is counted; further apart there are no more of them
    trips = season.get_by_role("heading", level=1).get_by_text(re.compile("trip"))
    expect(trips).to_be_visible()
    season.get_by_label("Trips apart (d)").fill("14")
    season.get_by_label("Heights").select_option("true")
    accessible(season)
    season.get_by_label("On at").fill("09:00")
    expect(season.get_by_text("09:00 to").first).to_be_visible()
    season.reload()
    expect(season.get_by_role("heading", level=1)).to_contain_text("from 1 Feb")
    expect(season.get_by_label("Aim")).to_have_value("moves")
    expect(season.get_by_label("Trips apart (d)")).to_have_value("14")
    expect(season.get_by_label("Heights")).to_have_value("true")


def test_files_and_the_card_to_take_along(season):
    with season.expect_download() as saved:
        season.get_by_role("button", name="Calendar").click()
    calendar = Calendar.from_ical(saved.value.path().read_bytes())
    assert any(" begins" in str(e["summary"]) for e in calendar.walk("VEVENT"))
    with season.expect_download() as saved:
        season.get_by_role("button", name="Day table, CSV").click()
    assert len(saved.value.path().read_text().splitlines()) == 92
    season.get_by_role("button", name="Card for the door").click()
    expect(
        season.get_by_role("heading", name="Potted chrysanthemums in Box room tent")
    ).to_be_visible()
    expect(season.get_by_text("Short-day flowering begins").first).to_be_visible()
    accessible(season)
    season.emulate_media(media="print")
    expect(season.get_by_role("button", name="Print the card")).to_be_hidden()
    expect(season.get_by_role("link", name="Bench")).to_be_hidden()
    # one page
    assert season.evaluate("document.documentElement.scrollHeight") < 1120


def test_a_stage_set_by_hand_and_given_back(season):
    season.get_by_role("button", name="Open Leafy on the bench").click()
    expect(season.get_by_role("button", name=re.compile("^Leafy"))).to_have_attribute(
        "aria-pressed", "true"
    )
    season.get_by_role("slider", name="Dial").press("PageUp")
    expect(season.get_by_text("Kept", exact=True)).to_be_visible()
    season.get_by_role("link", name="Season").click()
    expect(season.get_by_text("as you set it")).to_be_visible()
    season.get_by_role("button", name="Let the plan choose for Leafy").click()
    expect(season.get_by_text("as you set it")).to_be_hidden()


def test_what_others_would_do_and_a_lever_locked(demo):
    demo.get_by_role("button", name="What others would do").click()
    expect(demo.get_by_text("Hot spot first")).to_be_visible()
    expect(demo.get_by_text("leaves", exact=False).filter(has_text="of the mean")).to_be_visible()
    accessible(demo)
    unclipped(demo)
    demo.get_by_role("button", name="Try: A middle start").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("You have it at 45 cm")
    demo.get_by_role("button", name="Back to the floor").click()
    demo.get_by_role("button", name="Lock the height").click()
    demo.keyboard.press("p")
    # the other two go to the plan's choice for this height, which stays
    expect(demo.get_by_role("heading", level=1)).to_contain_text("Hang it at 45 cm")
    slider = demo.get_by_role("slider", name="Height above the tops")
    slider.press("PageUp")
    expect(slider).to_have_attribute("aria-valuenow", "45")
    expect(demo.get_by_text("Kept", exact=True)).to_be_visible()
    demo.reload()
    demo.get_by_role("button", name="Free the height").click()
    slider.press("PageUp")
    expect(slider).to_have_attribute("aria-valuenow", "50")


def test_a_crop_from_the_library_in_a_window(demo):
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_label("From the library").select_option("Basil")
    demo.get_by_role("button", name="Take a copy").click()
    expect(demo.get_by_label("Stage 2")).to_have_value("Picking")
    demo.get_by_text("Daylight, and heat").click()
    demo.get_by_label("Daylight on the plants").select_option("reckoned")
    demo.get_by_label("Latitude °N").fill("95")
    demo.get_by_text("Hours, days and seasons with another price").click()
    demo.get_by_role("button", name="Add hours").click()
    demo.get_by_text("Where plants stand, if not").click()
    demo.get_by_role("button", name="Add a plot").click()
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("The latitude is 95; give a number from -66 to 66.")).to_be_visible()
    demo.get_by_label("Latitude °N").fill("52")
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("Kept.")).to_be_visible()
    accessible(demo)
    unclipped(demo)
    demo.get_by_role("link", name="Bench").click()
    expect(demo.get_by_text("the lamp supplies the rest")).to_be_visible()
    expect(demo.get_by_text("plants here")).to_be_visible()
