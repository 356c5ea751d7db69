"""A stage set otherwise from a day on, lamps in a group of their own, a rack of shelves."""

import re

import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


def test_fewer_hours_from_a_day_of_the_stage_on(demo):
    answer = demo.get_by_role("heading", level=1)
    demo.get_by_role("button", name=re.compile("^Leafy")).click()
    slider = demo.get_by_role("slider", name="Hours", exact=True)
    was, then = "15 h 30", "16 h"
    expect(answer).to_contain_text(was)
    demo.get_by_role("button", name="Change from…").click()
    accessible(demo)
    demo.get_by_role("button", name="Begin there").click()
    part = demo.get_by_role("button", name=re.compile("^Leafy from"))
    expect(part).to_have_attribute("aria-pressed", "true")
    # nothing moves until the grower moves it; then it holds from that day, and the season says so
    expect(answer).to_contain_text(was)
    slider.press("ArrowRight")
    slider.press("ArrowRight")
    expect(answer).to_contain_text(then)
    expect(demo.get_by_text("Kept", exact=True)).to_be_visible()
    demo.reload()
    expect(part).to_have_attribute("aria-pressed", "true")
    expect(answer).to_contain_text(then)
    demo.get_by_role("link", name="Season").click()
    row = demo.get_by_role("row", name=re.compile("Leafy, changed"))
    expect(row).to_contain_text(then)
    expect(row).to_contain_text("as you set it")
    expect(answer).to_contain_text("3 stages")
    accessible(demo)
    row.get_by_role("button", name="Bench").click()
    expect(part).to_have_attribute("aria-pressed", "true")
    demo.get_by_role("button", name="Take this change out").click()
    expect(part).to_be_hidden()
    expect(answer).to_contain_text(was)
    expect(answer).not_to_contain_text(then)


def test_a_second_lamp_with_a_dial_and_timer_of_its_own(demo):
    answer = demo.get_by_role("heading", level=1)
    demo.get_by_role("button", name="One lamp: move, turn, add").click()
    demo.get_by_label("Hang another").select_option(label="Hearth Pair")
    demo.get_by_role("button", name="Add", exact=True).click()
    second = demo.get_by_role("button", name="2 Hearth Pair")
    expect(second).to_have_attribute("aria-pressed", "true")
    demo.get_by_label("Set with").select_option(label="group B")
    accessible(demo)
    demo.get_by_role("button", name="Done").click()
    demo.get_by_role("button", name="Group B").click()
    expect(demo.get_by_text("Nothing is set for it here")).to_be_visible()
    demo.get_by_label("Group B is").select_option(label="on its own dial and timer")
    expect(demo.get_by_text(re.compile("60 W from"))).to_be_visible()
    demo.get_by_label("Dial of B").fill("60")
    demo.get_by_label("Dial of B").blur()
    expect(demo.get_by_text(re.compile("29 W from"))).to_be_visible()
    accessible(demo)
    unclipped(demo)
    demo.get_by_role("button", name="Back to the floor").click()
    expect(demo.get_by_text(re.compile("Beside it B dial 60"))).to_be_visible()
    expect(demo.get_by_text("spread over the others' hours")).to_be_visible()
    demo.get_by_role("link", name="Season").click()
    expect(demo.get_by_role("row", name=re.compile("Short-day"))).to_contain_text("B dial 60")
    expect(answer).to_contain_text("91 days")


def choose(page, label, value):
    page.get_by_label(re.compile(f"{label}$")).first.select_option(label=value)


def test_a_rack_of_shelves_level_by_level(demo):
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_role("button", name="Add another").click()
    demo.get_by_role("button", name="Rack of shelves").click()
    demo.get_by_label("What you call the rack").fill("Kitchen rack")
    demo.get_by_label("Board, width").fill("80")
    demo.get_by_role("button", name="Add this rack").click()
    # what is missing is said where it is missing, and nothing is lost
    expect(demo.get_by_label("Board, depth")).to_have_attribute("aria-invalid", "true")
    demo.get_by_label("Board, depth").fill("36")
    for level, clear in ((1, 50), (2, 48), (3, 55)):
        demo.get_by_label(f"Level {level} (").fill(str(clear))
    demo.get_by_label("and lets through").fill("40")
    accessible(demo)
    demo.get_by_role("button", name="Add this rack").click()
    rack = demo.get_by_role("region", name=re.compile("Kitchen rack"))
    expect(rack.get_by_text("nothing is planned on it yet")).to_be_visible()
    choose(demo, "Crop", "Winter herbs")
    choose(demo, "Lamp", "Hearth Pair")
    low = rack.get_by_role("row", name=re.compile("level 1"))
    expect(low).to_contain_text("46 cm above its board")
    rack.get_by_role("button", name="Plan here: Kitchen rack, level 2").click()
    choose(demo, "Lamp", "Hearth Pair")
    expect(rack.get_by_text("2 of 3 levels are planned")).to_be_visible()
    # two lamps at once, and what the wire board of the upper one lets through to the lower
    expect(low).to_contain_text("falls through from the level above")
    accessible(demo)
    unclipped(demo)
    low.get_by_role("button", name="Bench").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("above the tops")
    expect(demo.get_by_text("falls through from the level above")).to_be_visible()
    expect(demo.get_by_text("Height: the lamps are fixed under the board.")).to_be_visible()
    height = demo.get_by_role("slider", name="Height above the tops")
    before = height.get_attribute("aria-valuenow")
    height.press("ArrowDown")
    expect(height).to_have_attribute("aria-valuenow", before)
    accessible(demo)
    # put away it takes its levels along, and brings them back
    demo.get_by_role("link", name="Space & crop").click()
    rack.get_by_role("button", name="One level more").click()
    expect(rack.get_by_role("row", name=re.compile("level 4"))).to_be_visible()
    rack.get_by_role("button", name="Put it away").click()
    expect(demo.get_by_text("is put away with its levels")).to_be_visible()
    demo.get_by_role("button", name="Undo").click()
    expect(rack.get_by_role("row", name=re.compile("level 4"))).to_be_visible()
