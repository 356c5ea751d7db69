"""The arithmetic growers do on paper, and a light map typed in like into a spreadsheet."""

import re

import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]

PASTE = """text => {
  const data = new DataTransfer();
  data.setData('text/plain', text);
  const paste = new ClipboardEvent('paste',
    {clipboardData: data, bubbles: true, cancelable: true});
  document.activeElement.dispatchEvent(paste);
}"""


def cell(page, row, column):
    return page.get_by_label(f"Row {row} from the back, {column} from the left", exact=True)


def test_the_sums_growers_do_on_paper(demo):
    demo.get_by_role("link", name="Sums").click()
    card = demo.get_by_role("region", name="Hours for a day's light")
    card.get_by_label("at a PPFD of").fill("263")
    card.get_by_label("Timer steps").select_option(label="60 min")
    # common practice, no source: 12 mol at 263 umol take 12.67 h; 13 h give 12.31
    expect(card).to_contain_text("13 h on the timer")
    expect(card).to_contain_text("12 mol ÷ (263 µmol × 0.0036) = 12.67 h")
    expect(card).to_contain_text("12.31 mol")
    cost = demo.get_by_role("region", name="What it draws and costs")
    cost.get_by_label("hours a day").fill("13")
    cost.get_by_label("Price a kWh").fill("0.085")
    # common practice, no source: 38.61 kWh, 3.28 in all, 0.36 for each of nine plants
    expect(cost).to_contain_text("38.61 kWh, €3.28; €0.36 a plant")
    day = demo.get_by_role("region", name="A day's light", exact=True)
    expect(day).to_contain_text("263 µmol × 13 h × 0.0036 = 12.31")
    day.get_by_label("PPFD").fill("")
    expect(day).to_contain_text("Fill in the figures")
    accessible(demo)
    unclipped(demo)
    demo.set_viewport_size({"width": 390, "height": 844})
    accessible(demo)
    unclipped(demo)
    demo.set_viewport_size({"width": 1280, "height": 800})
    day.get_by_label("PPFD").fill("310")
    card.get_by_role("button", name="Try these hours in the plan").click()
    # 12 mol at 310 umol are 10.75 h: 11 h on that timer
    expect(demo.get_by_role("heading", level=1)).to_contain_text("You have it at")
    expect(demo.get_by_role("heading", level=1)).to_contain_text("11 h")


def test_a_map_typed_pasted_and_planned_by(demo):
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Light: its own figures, Wickerlight Six").click()
    demo.get_by_role("button", name="A light map: type, paste or import").click()
    cell(demo, 1, 1).fill("500")
    cell(demo, 1, 1).press("ArrowRight")
    demo.keyboard.type("550")
    demo.keyboard.press("Enter")
    expect(cell(demo, 2, 2)).to_be_focused()
    expect(demo.get_by_text("2 readings, sum 1\u202f050, mean 525")).to_be_visible()
    # what is no figure is marked, not swallowed
    demo.keyboard.type("bright")
    expect(demo.get_by_text("hold no figure")).to_be_visible()
    demo.get_by_role("button", name="Keep and use it").click()
    expect(demo.get_by_role("alert")).to_contain_text("say how high the lamp hung")
    # a German spreadsheet's block, wider than the grid
    cell(demo, 1, 1).focus()
    demo.evaluate(PASTE, "500\t550,5\t540\t505\n560\t1.020\t1.015\t555\n500\t545\t550\t495")
    expect(cell(demo, 2, 4)).to_have_value("555")
    expect(cell(demo, 2, 2)).to_have_value("1020")
    expect(demo.get_by_text("12 readings, sum 7\u202f336, mean 611")).to_be_visible()
    expect(demo.get_by_text("1.020 was read as 1020.")).to_be_visible()
    accessible(demo)
    demo.get_by_label("Name of the map").fill("Sunday's walk")
    demo.get_by_role("button", name="in", exact=True).click()
    demo.get_by_label("Lamp above the sensor (in)").fill("18")
    demo.get_by_role("button", name="Keep and use it").click()
    # 18 inches are 45.72 cm, and stay 18 inches
    expect(demo.get_by_text("12 spots at 18 in")).to_be_visible()
    with demo.expect_download() as saved:
        demo.get_by_role("button", name="Save as CSV: Sunday's walk").click()
    assert ",45.72,1020.0," in saved.value.path().read_text()
    demo.get_by_role("link", name="On the bench").click()
    height = demo.get_by_role("slider", name="Height above the tops")
    height.press("Home")
    while "18 in" not in height.get_attribute("aria-valuetext").split(";")[0]:
        height.press("ArrowUp")
    expect(demo.get_by_role("heading", level=1)).to_contain_text("18 in")
    expect(demo.get_by_text(re.compile(r"Measured, but .*mean ± \d+ %"))).to_be_visible()
