"""From an empty account to a kept answer."""

import re

import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import accessible

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


def test_from_an_empty_account_to_a_kept_answer(page):
    page.goto(page.live)
    expect(page.get_by_role("heading", name="Idle Canopy")).to_be_visible()
    accessible(page)
    page.get_by_role("button", name="New here").click()
    page.get_by_label("Name").fill("Ada")
    page.get_by_label("Password").fill("short")
    page.get_by_role("button", name="Make the account").click()
    expect(page.get_by_role("alert")).to_contain_text("at least 8")
    page.get_by_label("Password").fill("wet gloves 7")
    page.get_by_role("button", name="Make the account").click()

    # nothing on the bench yet: the way there is shown
    expect(page.get_by_text("Nothing on the bench yet")).to_be_visible()
    page.get_by_role("link", name="Space & crop").click()
    page.get_by_label("What you call it").fill("Cupboard")
    page.get_by_label("Width (cm)").fill("-90")
    page.get_by_label("Depth (cm)").fill("60")
    page.get_by_label("Height (cm)", exact=True).fill("160")
    page.get_by_role("button", name="Add this space").click()
    expect(page.get_by_text("Width (cm) has to be at least 20.")).to_be_visible()
    # what was typed is still there
    expect(page.get_by_label("Depth (cm)")).to_have_value("60")
    page.get_by_label("Width (cm)").fill("90")
    page.get_by_role("button", name="Add this space").click()
    expect(page.get_by_label("Space", exact=True)).to_contain_text("Cupboard")

    page.get_by_role("link", name="Fixtures").click()
    page.get_by_role("button", name="Use it: Wickerlight Four").click()
    headline = page.get_by_role("heading", level=1)
    expect(headline).to_contain_text("Hang it at")
    page.get_by_role("button", name="Short-day flowering").click()
    expect(page.get_by_text("inside 10–20")).to_be_visible()

    # move a lever by key, reload, and it is where it was left
    height = page.get_by_role("slider", name="Height above the tops")
    before = int(height.get_attribute("aria-valuenow"))
    height.press("ArrowUp")
    height.press("ArrowUp")
    expect(headline).to_contain_text(f"You have it at {before + 2} cm")
    expect(page.get_by_text("Kept", exact=True)).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name="Short-day flowering")).to_have_attribute(
        "aria-pressed", "true"
    )
    expect(headline).to_contain_text(f"You have it at {before + 2} cm")

    # and gone when signed out
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


def test_a_lever_moved_just_before_leaving_is_kept(demo):
    dial = demo.get_by_role("slider", name="Dial")
    dial.press("Home")
    demo.reload()
    expect(demo.get_by_role("slider", name="Dial")).to_have_attribute("aria-valuenow", "10")


def test_a_lamp_of_ones_own(demo):
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Add a lamp").click()
    for label, text in (
        ("What you call it", "Cellar board"),
        ("PPF (µmol/s)", "420"),
        ("Watts at the wall (W)", "170"),
        ("Frame, across (cm)", "44"),
        ("Frame, along (cm)", "26"),
        ("Weight (kg)", "2.4"),
    ):
        demo.get_by_label(label).fill(text)
    demo.get_by_label("Kind of lamp").select_option("board")
    demo.get_by_label("Across (cm)", exact=True).fill("40")
    demo.get_by_label("Along (cm)", exact=True).fill("24")
    # a dial that gives less light when turned up
    demo.get_by_label("Of full light, row 2").fill("5")
    demo.get_by_role("button", name="Add this lamp").click()
    expect(demo.get_by_text(re.compile("turning a dial up never gives less"))).to_be_visible()
    demo.get_by_label("Of full light, row 2").fill("100")
    demo.get_by_role("button", name="Add this lamp").click()
    demo.get_by_role("button", name="Use it: Cellar board").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("Hang it at")
    # one that is too large says so at its row and changes nothing
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Use it: Wickerlight Eight").click()
    expect(demo.get_by_text("it does not go in")).to_be_visible()
    expect(demo.get_by_label("Lamp", exact=True)).to_contain_text("Cellar board")
