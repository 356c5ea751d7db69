"""A grower reads a listing, keeps a lamp's record, compares lamps, and moves the shelf as files."""

import re

import pytest
from openpyxl import load_workbook
from playwright.sync_api import expect

from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]

LISTING = """MARRAM 2000 LED GROW LIGHT 2000W FULL SPECTRUM
Actual power: 200 W, replaces 400 W
PPF: 540 µmol/s, 2.7 µmol/J
3500 K + 660 nm
Size: 48 x 28 x 6 cm, net weight 3.4 kg
PPFD at the centre 1400 µmol/m²/s
Dimmable. Life 50,000 h. Price: €189"""


@pytest.fixture
def shelf(demo):
    demo.get_by_role("link", name="Fixtures").click()
    expect(demo.get_by_text("lamps on your shelf")).to_be_visible()
    return demo


def test_from_a_listing_to_a_lamp_on_the_shelf(shelf):
    shelf.get_by_role("button", name="Paste a listing").click()
    shelf.get_by_label("The words of a listing").fill(LISTING)
    shelf.get_by_role("button", name="Read it").click()
    expect(shelf.get_by_text("figures found")).to_be_visible()
    expect(shelf.locator("mark").filter(has_text="540 µmol/s")).to_be_visible()
    expect(shelf.get_by_text("the number is no wattage")).to_be_visible()
    expect(shelf.get_by_text("not the mean over the floor")).to_be_visible()
    shelf.get_by_role("radio", name=re.compile("to any position")).check()
    expect(shelf.get_by_text("Nothing is left to ask.")).to_be_visible()
    accessible(shelf)
    unclipped(shelf)
    shelf.get_by_role("button", name="Make it a lamp on the shelf").click()
    expect(shelf.get_by_label("PPF (µmol/s)")).to_have_value("540")
    expect(shelf.get_by_label("Where the PPF comes from")).to_have_value("maker")
    expect(shelf.get_by_label("Where the Keep away at least comes from")).to_have_value("assumed")
    shelf.get_by_label("Where the Watts at the wall comes from").select_option("measured")
    shelf.get_by_label("Watts at the wall (W)").fill("180")
    accessible(shelf)
    unclipped(shelf)
    shelf.get_by_role("button", name="Add this lamp").click()
    record = shelf.get_by_role("region", name="Record of MARRAM 2000")
    expect(record).to_contain_text("measured here")
    expect(record).to_contain_text("divide what a lux meter shows by")
    accessible(shelf)
    # what is wrong in a record is said where it stands, and nothing is lost
    record.get_by_role("button", name="Change its record").click()
    shelf.get_by_text("What its maker claims").click()
    shelf.get_by_label("Leafy growth, across (cm)").fill("120")
    shelf.get_by_role("button", name="Keep this record").click()
    expect(shelf.get_by_text("Give both sides of the floor, or neither.")).to_be_visible()
    shelf.get_by_label("Leafy growth, along (cm)").fill("100")
    shelf.get_by_role("button", name="Keep this record").click()
    expect(record).to_contain_text("120 cm × 100 cm")
    record.get_by_role("button", name="Take it off the shelf").click()
    expect(shelf.get_by_text("MARRAM 2000 is off the shelf")).to_be_visible()
    expect(shelf.get_by_role("checkbox", name="Compare MARRAM 2000")).to_have_count(0)
    shelf.get_by_role("button", name="Undo").click()
    expect(shelf.get_by_role("checkbox", name="Compare MARRAM 2000")).to_be_visible()


def test_lamps_side_by_side(shelf):
    for name in ("Wickerlight Six", "Tallow Board 200", "Kiln Sodium 250"):
        shelf.get_by_role("checkbox", name=f"Compare {name}").check()
    shelf.get_by_role("button", name="Compare 3 side by side").click()
    expect(shelf.get_by_text("does the job at")).to_be_visible(timeout=60_000)
    expect(shelf.get_by_role("img", name=re.compile("^Its floor"))).to_have_count(3)
    shelf.get_by_label("The lamp there now").select_option(label="Kiln Sodium 250")
    shelf.get_by_label("Over (years)").fill("10")
    shelf.get_by_role("button", name="Compare again").click()
    paid = shelf.get_by_role("row", name=re.compile("^Pays back"))
    expect(paid).to_contain_text("the lamp there now")
    expect(paid).to_contain_text("after")
    expect(shelf.get_by_text("Tallow Board 200 comes without a map")).to_be_visible()
    accessible(shelf)
    unclipped(shelf)


def test_the_shelf_out_and_in_again(shelf, tmp_path):
    shelf.get_by_role("button", name="Files").click()
    with shelf.expect_download() as waiting:
        shelf.get_by_role("button", name="as XLSX").click()
    path = tmp_path / waiting.value.suggested_filename
    waiting.value.save_as(path)
    book = load_workbook(path)
    sheet = book.active
    assert sheet["A2"].value == "Wickerlight Six"
    columns = [cell.value for cell in sheet[1]]
    for row in range(sheet.max_row, 3, -1):
        sheet.delete_rows(row)
    sheet["A2"] = "Brought Six"
    sheet.cell(3, columns.index("watts") + 1).value = "many"
    book.save(path)
    shelf.get_by_label("Bring lamps in").set_input_files(path)
    expect(shelf.get_by_text("Nothing is kept yet.")).to_be_visible()
    expect(shelf.get_by_role("row", name=re.compile("^3 watts"))).to_contain_text("not a number")
    accessible(shelf)
    shelf.get_by_role("button", name="Keep the 1 lamp that can be used").click()
    expect(shelf.get_by_text("1 lamp added to your shelf.")).to_be_visible()
    expect(shelf.get_by_role("checkbox", name="Compare Brought Six")).to_be_visible()
    # the same table again asks what becomes of what is there
    sheet.delete_rows(3)
    book.save(path)
    with shelf.expect_file_chooser() as choosing:
        shelf.get_by_label("Bring lamps in").click()
    choosing.value.set_files(path)
    expect(shelf.get_by_text("A lamp named Brought Six is on your shelf already.")).to_be_visible()
    accessible(shelf)
    shelf.get_by_role("button", name="Leave mine as they are").click()
    expect(shelf.get_by_text("1 lamp left as before.")).to_be_visible()
    # one lamp as a file, under another name
    shelf.get_by_role("button", name=re.compile("^Record: .*, Sill Strip 30$")).click()
    with shelf.expect_download() as waiting:
        shelf.get_by_role("button", name="Save as a file").click()
    one = tmp_path / "one.fixture.json"
    waiting.value.save_as(one)
    one.write_text(one.read_text().replace("Sill Strip 30", "Given Strip"))
    shelf.get_by_label("Bring lamps in").set_input_files(one)
    expect(shelf.get_by_text("Given Strip is on your shelf.")).to_be_visible()


@pytest.mark.parametrize("view", ["Paste a listing", "Add a lamp"])
def test_on_the_phone(shelf, view):
    shelf.set_viewport_size({"width": 390, "height": 844})
    shelf.get_by_role("button", name=view).click()
    if view == "Paste a listing":
        shelf.get_by_label("The words of a listing").fill(LISTING)
        shelf.get_by_role("button", name="Read it").click()
        expect(shelf.get_by_text("figures found")).to_be_visible()
    accessible(shelf)
    unclipped(shelf)


def test_a_lamp_is_a_card_on_the_phone(shelf):
    shelf.set_viewport_size({"width": 390, "height": 844})
    card = shelf.get_by_role("row", name=re.compile("Wickerlight Four"))
    expect(card.get_by_text(re.compile("375.µmol/s · 150.W · 2.50.µmol/J"))).to_be_visible()
    name = card.get_by_text("Wickerlight Four", exact=True).bounding_box()
    used = card.get_by_role("button", name="Use it: Wickerlight Four").bounding_box()
    # no column is narrower than its words, and the button is as wide as the card
    assert used["width"] > 300
    assert used["height"] >= 44
    assert used["y"] > name["y"] + 60
    card.get_by_role("button", name=re.compile("^Record: ")).click()
    expect(shelf.get_by_role("region", name="Record of Wickerlight Four")).to_be_visible()
    accessible(shelf)
    unclipped(shelf)
