"""What a grower tells of walls, steps, lamps and light files shows on the bench."""

import re

import pytest
from playwright.sync_api import expect

from tests.core.formats.test_photometric import ldt
from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]

WALK = """# sensor: quantum
x_cm;y_cm;height_cm;ppfd_umol_m2_s;dial_pct
20;15;30;412,5;75
100;15;30;405;75
60;45;30;705;75
20;75;30;401;75
100;75;30;398;75
60;45;48;610;75
"""


def answer(page):
    return page.locator("h1 + p").inner_text()


def test_a_wall_that_differs(demo):
    before = answer(demo)
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_text("A wall that differs, or an open side").click()
    demo.get_by_label("Left", exact=True).select_option("open")
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("Kept.")).to_be_visible()
    demo.get_by_role("link", name="Bench").click()
    expect(demo.get_by_text("Brightest spot").first).to_be_visible()
    assert answer(demo) != before


def test_a_step_lifts_its_plants(demo):
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_text("Steps that lift plants").click()
    demo.get_by_role("button", name="Add a step").click()
    demo.get_by_label("Lifts by (cm)").fill("14")
    demo.get_by_label("From left (cm)").fill("90")
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("Step 1 reaches 10 cm beyond the space")).to_be_visible()
    demo.get_by_label("From left (cm)").fill("70")
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("Kept.")).to_be_visible()
    accessible(demo)
    # taken out it can be brought back
    demo.get_by_role("button", name="Take out step 1").click()
    demo.get_by_role("button", name="Bring it back").click()
    expect(demo.get_by_label("Lifts by (cm)")).to_have_value("14")
    demo.get_by_role("link", name="Bench").click()
    expect(demo.get_by_text("step 14 cm")).to_be_visible(timeout=60_000)


def test_lamps_are_added_moved_turned_tilted_unplugged_and_taken_out(demo):
    before = answer(demo)
    demo.get_by_role("button", name="One lamp: move, turn, add").click()
    demo.get_by_label("Hang another").select_option(label="Hearth Pair")
    demo.get_by_role("button", name="Add", exact=True).click()
    second = demo.get_by_role("button", name="Lamp 2, Hearth Pair")
    expect(second).to_have_attribute(
        "aria-label",
        "Lamp 2, Hearth Pair: 60 cm from the left, 45 cm from the front; arrow keys move it",
    )
    # by the keyboard on the floor, then by dragging, then by a figure
    second.press("ArrowLeft")
    expect(second).to_have_attribute("aria-label", re.compile("59 cm from the left"))
    box = second.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] - 10
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x - 60, y, steps=4)
    demo.mouse.up()
    expect(second).not_to_have_attribute("aria-label", re.compile("59 cm from the left"))
    demo.get_by_label("From left (cm)").fill("30")
    expect(second).to_have_attribute("aria-label", re.compile("30 cm from the left"))
    demo.get_by_label("Tilted (°)").fill("-15")
    demo.get_by_label("Turned (°)").fill("10")
    demo.get_by_role("button", name="Bar 1 lit").click()
    expect(demo.get_by_role("button", name="Bar 1 unplugged")).to_be_visible()
    accessible(demo)
    unclipped(demo)
    # what cannot hang there is said, what was kept stays
    demo.get_by_label("From left (cm)").fill("3")
    expect(demo.get_by_text("Lamp 2 sticks out")).to_be_visible()
    demo.get_by_role("button", name="Undo").click()
    expect(demo.get_by_text("Lamp 2 sticks out")).to_be_hidden()
    demo.reload()
    demo.get_by_role("button", name="2 lamps: move, turn, add").click()
    demo.get_by_role("button", name="2 Hearth Pair").click()
    expect(demo.get_by_label("Tilted (°)")).to_have_value("-15")
    demo.get_by_role("button", name="Take it out").click()
    demo.get_by_role("button", name="Done").click()
    expect(demo.get_by_role("button", name="One lamp: move, turn, add")).to_be_visible()
    expect(demo.locator("h1 + p")).to_have_text(before)


def test_a_light_file_is_attached_and_used(demo, tmp_path):
    (tmp_path / "lamp.ldt").write_text(ldt(size=(600, 200)))
    (tmp_path / "broken.ies").write_text("IESNA:LM-63-2002\n[TEST] x")
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Light: its own figures, Wickerlight Six").click()
    demo.get_by_role("button", name="Attach an IES or LDT file").click()
    demo.get_by_label("IES LM-63 or EULUMDAT file").set_input_files(tmp_path / "broken.ies")
    demo.get_by_label("Lumens per µmol").fill("70")
    demo.get_by_role("button", name="Attach and use it").click()
    expect(demo.get_by_text("The file ends before the TILT line")).to_be_visible()
    accessible(demo)
    demo.get_by_label("IES LM-63 or EULUMDAT file").set_input_files(tmp_path / "lamp.ldt")
    demo.get_by_role("button", name="Attach and use it").click()
    expect(demo.get_by_text("Its file says")).to_be_visible()
    expect(demo.get_by_role("button", name="its light file", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    demo.get_by_role("link", name="On the bench").click()
    expect(demo.get_by_text("Computed from a light file")).to_be_visible()


def test_a_walk_with_the_sensor_makes_the_plan_surer(demo, tmp_path):
    (tmp_path / "walk.map.csv").write_text(WALK)
    (tmp_path / "broken.csv").write_text("x_cm,y_cm\n1,2\n")
    expect(
        demo.get_by_text(re.compile(r"nothing measured here yet, so mean ± [23]\d %"))
    ).to_be_visible()
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Light: its own figures, Wickerlight Six").click()
    demo.get_by_role("button", name="A light map: type, paste or import").click()
    demo.get_by_role("button", name="in a file or a list").click()
    demo.get_by_label("Light map, CSV").set_input_files(tmp_path / "broken.csv")
    demo.get_by_role("button", name="Import and use it").click()
    expect(demo.get_by_text("the header has no height_cm")).to_be_visible()
    accessible(demo)
    demo.get_by_label("Light map, CSV").set_input_files(tmp_path / "walk.map.csv")
    demo.get_by_role("button", name="Import and use it").click()
    expect(demo.get_by_text("Decimal commas were read as such")).to_be_visible()
    with demo.expect_download() as saved:
        demo.get_by_role("button", name="Save as CSV: broken").click()
    assert "412.5" in saved.value.path().read_text()
    demo.get_by_role("link", name="On the bench").click()
    demo.get_by_role("slider", name="Height above the tops").press("Home")
    for _ in range(4):
        demo.get_by_role("slider", name="Height above the tops").press("PageUp")
    expect(demo.get_by_text("Measured in this space")).to_be_visible()
    expect(demo.get_by_text(re.compile(r"Measured in this space.*mean ± 1?\d %"))).to_be_visible()
    demo.get_by_role("slider", name="Height above the tops").press("End")
    expect(demo.get_by_text(re.compile(r"Measured, but .*mean ± \d+ %"))).to_be_visible()
    # set aside and brought back
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Light: from a measured map, Wickerlight Six").click()
    demo.get_by_role("button", name="Set aside: broken").click()
    expect(demo.get_by_role("button", name="its own figures", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    demo.get_by_role("button", name="Undo").click()
    expect(demo.get_by_role("button", name="broken", exact=True)).to_be_visible()
