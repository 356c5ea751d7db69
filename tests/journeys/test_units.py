"""In inches everything speaks inches and pounds, in centimetres nothing does; both can be mixed."""

import re

import pytest
from playwright.sync_api import expect

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]

METRIC = re.compile(r"\b(cm|kg)\b|°C")
IMPERIAL = re.compile(r"\d in\b(?! 10)|\((in|lb)\)|\b(lb|BTU/h|sq ft)\b|°F")


def spoken(page):
    """All that a page says: its text, its labels, what pictures are called, its fields."""
    return page.evaluate(
        """() => {
          const main = document.querySelector('main');
          const names = [...main.querySelectorAll('[aria-label], [aria-valuetext], [title]')]
            .flatMap((e) => ['aria-label', 'aria-valuetext', 'title'].map((a) => e.getAttribute(a)))
          return main.innerText + ' ' + names.filter(Boolean).join(' ');
        }"""
    )


def strange(page, foreign):
    """Where a page speaks the other unit, with the words around it."""
    said = spoken(page)
    return [said[max(m.start() - 40, 0) : m.end() + 20] for m in foreign.finditer(said)]


@pytest.mark.parametrize(("unit", "foreign"), [("cm", IMPERIAL), ("in", METRIC)])
def test_every_place_speaks_one_unit(demo, unit, foreign):
    demo.get_by_role("button", name=unit, exact=True).click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text(f"{unit} above the tops")
    assert strange(demo, foreign) == []
    demo.get_by_role("button", name="What others would do").click()
    expect(demo.get_by_text("Twice the distance")).to_be_visible()
    assert strange(demo, foreign) == []
    demo.get_by_role("link", name="Season").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("91 days", timeout=30_000)
    assert strange(demo, foreign) == []
    demo.get_by_role("button", name="Card for the door").click()
    expect(demo.get_by_role("button", name="Print the card")).to_be_visible()
    assert strange(demo, foreign) == []
    demo.get_by_role("link", name="Space & crop").click()
    expect(demo.get_by_text("Room from the tops to the lamp")).to_be_visible()
    demo.get_by_text("Daylight, and heat").click()
    demo.get_by_text("A controller switches the lamp off in the heat").click()
    assert strange(demo, foreign) == []
    demo.get_by_role("link", name="Power").click()
    expect(demo.get_by_text("The same light for less")).to_be_visible()
    assert strange(demo, foreign) == []
    demo.get_by_role("link", name="Install", exact=True).first.click()
    expect(demo.get_by_text("steps done")).to_be_visible()
    assert strange(demo, foreign) == []
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name=re.compile("^Record:.*Wickerlight Six")).click()
    expect(demo.get_by_text("Keeps away").first).to_be_visible()
    assert strange(demo, foreign) == []


def test_degrees_can_be_mixed_with_centimetres(demo):
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_text("Daylight, and heat").click()
    demo.get_by_text("A controller switches the lamp off in the heat").click()
    expect(demo.get_by_label("Off above (°C)")).to_have_value("30")
    demo.get_by_role("button", name=re.compile("Demo grower")).click()
    demo.get_by_label("Temperatures in").select_option(label="°F")
    demo.get_by_role("button", name="Keep", exact=True).click()
    expect(demo.get_by_label("Off above (°F)")).to_have_value("86")
    expect(demo.get_by_label("Warmest less coldest (°F)")).to_have_value("14.4")
    expect(demo.get_by_label("Width (cm)")).to_have_value("120")
