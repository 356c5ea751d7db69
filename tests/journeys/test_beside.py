"""Plans and maps side by side, and what was changed taken back, wherever it was."""

import re

import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import accessible, unclipped
from tests.journeys.test_sums import PASTE, cell

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


def place(page, name):
    page.get_by_role("link", name=name, exact=True).click()


def test_a_plan_is_copied_lined_otherwise_and_its_gain_is_read(demo):
    # a copy with a space of its own: what is changed there does not reach the first
    demo.get_by_role("button", name="This plan…").click()
    demo.get_by_role("button", name="Copy, with its space").click()
    plan = demo.get_by_label("Plan", exact=True)
    expect(plan.locator("option:checked")).to_contain_text("(copy)")
    place(demo, "Space & crop")
    demo.get_by_label("Walls and ceiling").select_option("black")
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("Kept.", exact=True)).to_be_visible()
    demo.get_by_role("link", name="Beside other plans").click()
    answer = demo.get_by_text(re.compile("against .*kWh more in all"))
    expect(answer).to_be_visible()
    table = demo.get_by_role("table")
    head = table.get_by_role("columnheader")
    expect(head.nth(1)).to_have_text("Box room tent · Potted chrysanthemums")
    expect(head.nth(2)).to_have_text("Box room tent · Potted chrysanthemums (copy)")
    walls = table.get_by_role("row", name=re.compile("^Walls"))
    expect(walls.get_by_role("cell").nth(0)).to_contain_text("ilver")
    expect(walls.get_by_role("cell").nth(1)).to_contain_text("lack")
    energy = table.get_by_role("row", name=re.compile("^Energy")).get_by_role("cell")
    lined, black = (float(re.match(r"\d+", energy.nth(i).inner_text())[0]) for i in (0, 1))
    # the sentence is what the columns say, to their rounding
    said = float(re.search(r"(\d+) kWh more", answer.inner_text())[1])
    assert abs(black - lined - said) <= 1
    accessible(demo)
    unclipped(demo)
    demo.set_viewport_size({"width": 390, "height": 844})
    unclipped(demo)
    demo.set_viewport_size({"width": 1280, "height": 800})
    # the first plan's tent is as it was
    demo.get_by_role("button", name=re.compile("^Open it")).click()
    expect(plan.locator("option:checked")).not_to_contain_text("(copy)")
    place(demo, "Space & crop")
    expect(demo.get_by_label("Walls and ceiling")).to_have_value("silver")


def test_what_was_changed_is_taken_back_in_any_place_and_made_again(demo):
    heading = demo.get_by_role("heading", level=1)
    before = heading.inner_text()
    dial = demo.get_by_role("slider", name="Dial")
    dial.press("PageDown")
    expect(heading).not_to_have_text(before)
    expect(demo.get_by_text("Kept", exact=True)).to_be_visible()
    moved = heading.inner_text()
    place(demo, "Space & crop")
    height = demo.get_by_label("Height (cm)", exact=True)
    height.fill("170")
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("Kept.", exact=True)).to_be_visible()
    place(demo, "Season")
    demo.get_by_label("Aim").select_option("even")
    back = demo.get_by_role("button", name="Take back the last change of this plan")
    back.click()
    expect(demo.get_by_text("Taken back: what its season is planned by.")).to_be_visible()
    expect(demo.get_by_label("Aim")).to_have_value("likely")
    place(demo, "Space & crop")
    demo.get_by_role("heading", name="The space").click()
    demo.keyboard.press("Control+z")
    expect(demo.get_by_text("Taken back: the space.")).to_be_visible()
    expect(height).to_have_value("180")
    place(demo, "Bench")
    expect(heading).to_have_text(moved)
    back.click()
    expect(demo.get_by_text("Taken back: height, dial and hours at")).to_be_visible()
    demo.get_by_role("button", name="Make it again").click()
    expect(demo.get_by_text("Made again: height, dial and hours at")).to_be_visible()
    expect(heading).to_have_text(moved)
    accessible(demo)
    # a lever that was moved and not yet kept is a change too
    dial.press("PageDown")
    expect(heading).not_to_have_text(moved)
    back.click()
    expect(heading).to_have_text(moved)
    demo.reload()
    expect(heading).to_have_text(moved)


def test_maps_of_a_lamp_stand_side_by_side(demo):
    place(demo, "Fixtures")
    row = demo.get_by_role("row").filter(has_text="Wickerlight Six")
    row.get_by_role("button", name=re.compile("^Light:")).click()
    light = demo.get_by_role("region", name="Light of Wickerlight Six")

    def bring(name, block):
        light.get_by_role("button", name="A light map: type, paste or import").click()
        light.get_by_label("Name of the map").fill(name)
        light.get_by_label("Lamp above the sensor (cm)").fill("40")
        cell(demo, 1, 1).focus()
        demo.evaluate(PASTE, block)
        # the pasted block is read by the server first
        expect(light.get_by_text("9 readings")).to_be_visible()
        light.get_by_role("button", name="Keep and use it").click()
        expect(light.get_by_role("button", name=name, exact=True)).to_be_visible()

    bring("Leaflet", "400\t500\t400\n500\t600\t500\n400\t500\t400")
    bring("My walk", "440\t500\t400\n500\t540\t500\n400\t500\t400")
    light.get_by_role("button", name="Its maps side by side").click()
    beside = light.get_by_role("region", name="Maps of Wickerlight Six side by side")
    walk = beside.get_by_role("table", name=re.compile("^My walk"))
    # on the same spots: by hand +10 % in the back left corner, -10 % in the middle
    expect(walk.get_by_role("cell", name="+10 %")).to_be_visible()
    expect(walk.get_by_role("cell", name="−10 %")).to_be_visible()
    beside.get_by_role("button", name="% of its mean").click()
    # 600 of a mean of (4 × 400 + 4 × 500 + 600) / 9 = 467
    leaflet = beside.get_by_role("table", name=re.compile("^Leaflet"))
    expect(leaflet.get_by_role("cell", name="129 %")).to_be_visible()
    accessible(demo)
    unclipped(demo)


def test_other_heights_and_dials_are_weighed_and_tried(demo):
    demo.get_by_role("button", name="Heights, dials").click()
    here = demo.get_by_role("region", name="What other heights and dials give here")
    expect(here.get_by_text(re.compile(r"15 cm lower: evenness .*, light \+"))).to_be_visible()
    table = here.get_by_role("table")
    expect(table.get_by_role("row").filter(has_text="here")).to_have_count(1)
    accessible(demo)
    unclipped(demo)
    with demo.expect_download() as saved:
        here.get_by_role("button", name="Save as CSV").click()
    assert saved.value.path().read_text().startswith("height_cm,dial_pct,mean,area_mean")
    here.get_by_role("button", name="Try it: 30 cm").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("You have it at 30 cm")
    here.get_by_role("button", name="Dial", exact=True).click()
    expect(here.get_by_text(re.compile(r"\d+ down: light −"))).to_be_visible()
    demo.set_viewport_size({"width": 390, "height": 844})
    unclipped(demo)
