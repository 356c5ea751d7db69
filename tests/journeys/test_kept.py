"""What a grower arranged, picked or broke is still there, and can be mended."""

import pytest
from playwright.sync_api import expect

from server.fixtures.models import Fixture
from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


def test_placed_lamps_are_there_again_with_the_first_lamp(demo):
    demo.get_by_role("button", name="One lamp: move, turn, add").click()
    demo.get_by_label("Hang another").select_option(label="Button 40")
    for lamp, place in ((2, "20"), (3, "100")):
        demo.get_by_role("button", name="Add", exact=True).click()
        expect(demo.get_by_role("button", name=f"{lamp} Button 40")).to_have_attribute(
            "aria-pressed", "true"
        )
        demo.get_by_label("From left (cm)").fill(place)
        demo.get_by_label("Tilted (°)").fill("5")
    demo.get_by_role("button", name="Done").click()
    three = demo.get_by_role("button", name="3 lamps: move, turn, add")
    expect(three).to_be_visible()
    before = demo.locator("h1 + p").inner_text()
    lamp = demo.get_by_label("Lamp", exact=True)
    lamp.select_option(label="Tallow Long 150")
    expect(demo.locator("h1 + p")).not_to_have_text(before)
    lamp.select_option(label="Wickerlight Six")
    expect(demo.locator("h1 + p")).to_have_text(before)
    expect(three).to_be_visible()
    # taken back step by step, the other lamp hangs there again, and then these three
    for shown in ("Tallow Long 150", "Wickerlight Six"):
        demo.get_by_role("button", name="Take back the last change of this plan").click()
        expect(lamp.locator("option:checked")).to_have_text(shown)
    expect(three).to_be_visible()
    three.click()
    demo.get_by_role("button", name="3 Button 40").click()
    expect(demo.get_by_label("Tilted (°)")).to_have_value("5")
    expect(demo.get_by_label("From left (cm)")).to_have_value("100")


def test_the_plan_and_the_stage_looked_at_outlive_a_reload(demo):
    demo.get_by_label("Plan", exact=True).select_option(label="Herb shelf · Winter herbs")
    first = demo.get_by_role("group", name="Stage").get_by_role("button").first
    first.click()
    expect(first).to_have_attribute("aria-pressed", "true")
    demo.reload()
    expect(demo.get_by_label("Plan", exact=True)).to_contain_text("Herb shelf")
    chosen = demo.get_by_label("Plan", exact=True).locator("option:checked")
    expect(chosen).to_have_text("Herb shelf · Winter herbs")
    expect(first).to_have_attribute("aria-pressed", "true")
    # through another place and back too
    demo.get_by_role("link", name="Season").click()
    demo.get_by_role("link", name="Bench").click()
    expect(first).to_have_attribute("aria-pressed", "true")


def test_one_and_two_of_a_lamp_are_compared(demo):
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Rank them in this tent").click()
    demo.get_by_label("Of each").select_option(label="one, or two side by side")
    demo.get_by_role("button", name="Rank again").click(timeout=60_000)
    twice = demo.get_by_role("checkbox", name="2 × Button 40")
    twice.check(timeout=60_000)
    demo.get_by_role("checkbox", name="Compare Button 40").first.check()
    demo.get_by_role("button", name="Compare 2 side by side").click()
    expect(demo.get_by_role("columnheader", name="2 × Button 40")).to_be_visible(timeout=60_000)
    expect(demo.get_by_text("Button 40 comes without a map or a mean.")).to_have_count(1)
    demo.get_by_label("Over (years)").fill("5")
    demo.get_by_role("button", name="Compare again").click()
    expect(demo.get_by_role("columnheader", name="2 × Button 40")).to_be_visible()


def test_a_record_that_cannot_be_read_is_named_and_mended(demo):
    Fixture.objects.filter(name="Sill Strip 30").update(
        spectrum={"wavelength_nm": [400, 500], "power": [1e300, 1]}
    )
    demo.get_by_role("link", name="Fixtures").click()
    demo.reload()
    expect(demo.get_by_text("Part of its record cannot be read")).to_be_visible()
    accessible(demo)
    unclipped(demo)
    demo.get_by_role("button", name="Mend it: Sill Strip 30").click()
    demo.get_by_role("button", name="Keep this record").click()
    expect(demo.get_by_role("region", name="Record of Sill Strip 30")).to_be_visible()
    expect(demo.get_by_text("Part of its record cannot be read")).to_be_hidden()


def test_what_goes_wrong_on_a_page_is_said_with_a_way_back(demo):
    demo.route("**/api/accounts/preferences", lambda route: route.abort())
    demo.get_by_role("group", name="Lengths in").get_by_role("button", name="in").click()
    expect(demo.get_by_text("The server does not answer.")).to_be_visible()
    accessible(demo)
    demo.get_by_role("button", name="Go on without").click()
    expect(demo.get_by_text("The server does not answer.")).to_be_hidden()
