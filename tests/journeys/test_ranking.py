"""A grower asks which of the lamps would do the job in their tent."""

import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


def test_the_shelf_ranked_in_this_tent(demo):
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Rank them in this tent").click()
    # the tent's response is reckoned the first time
    expect(demo.get_by_text("do the job here")).to_be_visible(timeout=60_000)
    expect(demo.get_by_text("At its hungriest, Short-day flowering")).to_be_visible()
    rows = demo.get_by_role("row")
    expect(rows.nth(1)).to_contain_text("meets every target")
    weak = demo.get_by_role("row", name="Porch Bulb 18")
    expect(weak).to_contain_text("too dim: DLI")
    weak.get_by_role("button", name="More of").click()
    expect(weak).to_contain_text("light would do")
    large = demo.get_by_role("row", name="Wickerlight Eight")
    expect(large).to_contain_text("kept out")
    large.get_by_role("button", name="More of").click()
    expect(large).to_contain_text("does not go in")
    accessible(demo)
    unclipped(demo)
    # a budget keeps the dear ones out, and says so
    demo.get_by_label("Budget (€)").fill("160")
    demo.get_by_role("button", name="Rank again").click()
    dear = demo.get_by_role("button", name="More of Tallow Board 200")
    expect(demo.get_by_role("row", name="Tallow Board 200")).to_contain_text(
        "kept out", timeout=60_000
    )
    dear.click()
    expect(demo.get_by_text("over the budget of 160").first).to_be_visible()
    expect(demo.get_by_text("Cheapest over 3 years: Tallow Long 150")).to_be_visible()
    demo.get_by_label("Over (years)").fill("0")
    demo.get_by_role("button", name="Rank again").click()
    expect(demo.get_by_text("Years has to be more than 0.")).to_be_visible()
    demo.get_by_role("button", name="Use it: Tallow Long 150").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("above the tops", timeout=60_000)
    expect(demo.get_by_label("Lamp", exact=True)).to_contain_text("Tallow Long 150")
