"""Through the demo as a newcomer would go, at a laptop and at a phone."""

import re

import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


def figures(page):
    """The numbers in the answer's two lines."""
    text = page.locator("h1").inner_text() + page.locator("h1 + p").inner_text()
    return [float(n) for n in re.findall(r"\d+\.?\d*", text)]


def test_levers_and_pictures_move_as_one(demo):
    expect(demo.get_by_text("This is a demo")).to_be_visible()
    # the whole bench fits without scrolling at 1280 x 800
    assert demo.evaluate("document.documentElement.scrollHeight") <= 800
    before = figures(demo)
    demo.get_by_role("slider", name="Dial").press("PageUp")
    expect(demo.get_by_role("heading", level=1)).to_contain_text("You have it at")
    assert figures(demo) != before
    # drag the lamp: from its face up by a third of the picture
    thumb = demo.get_by_role("slider", name="Height above the tops")
    box = thumb.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    low = int(thumb.get_attribute("aria-valuenow"))
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x, y - 60, steps=6)
    demo.mouse.up()
    assert int(thumb.get_attribute("aria-valuenow")) > low + 10
    # hours by the strip, then everything back to the plan by one key
    demo.get_by_role("slider", name="Hours").press("Home")
    # shorter days than the crop asks can be tried, and are judged
    expect(demo.get_by_role("heading", level=1)).to_contain_text("0 h 15")
    expect(
        demo.get_by_role("row", name="Day, lamp and daylight (h) 0.25 at least 10")
    ).to_be_visible()
    demo.get_by_role("slider", name="On at").press("PageUp")
    expect(demo.get_by_role("heading", level=1)).to_contain_text("07:00")
    demo.keyboard.press("p")
    expect(demo.get_by_role("heading", level=1)).to_contain_text("Hang it at")
    assert figures(demo)[0] == before[0]


def test_the_spot_reads_the_floor(demo):
    floor = demo.get_by_role("application", name="Light on the floor")
    readout = demo.locator("#spot")
    middle = readout.inner_text()
    assert "60 cm from the left, 45 cm from the front" in middle
    floor.press("ArrowLeft")
    expect(readout).not_to_have_text(middle)
    box = floor.bounding_box()
    demo.mouse.move(box["x"] + 4, box["y"] + box["height"] - 4)
    expect(readout).to_contain_text("4 cm from the left")
    demo.get_by_role("button", name="plain values").click()
    expect(demo.get_by_text("brighter is more")).to_be_visible()


def test_inches_everywhere(demo):
    demo.get_by_role("button", name="in", exact=True).click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text(" in above the tops")
    demo.get_by_role("link", name="Space & crop").click()
    # 120 cm / 2.54
    expect(demo.get_by_label("Width (in)")).to_have_value("47.24")


def test_what_cannot_be_done_says_why(demo):
    demo.get_by_label("Plan", exact=True).select_option(label="Herb shelf · Winter herbs")
    expect(demo.get_by_text("gives up the evenness goal")).to_be_visible()
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_label("Tops, end (cm)").last.fill("60")
    demo.get_by_role("button", name="Keep the crop").click()
    expect(demo.get_by_text("too little: lower pots")).to_be_visible()
    demo.get_by_role("link", name="Bench").click()
    expect(demo.get_by_role("heading", name="This cannot be hung here")).to_be_visible()
    expect(demo.get_by_text("more headroom is needed")).to_be_visible()


def test_the_cap_gives_way_only_when_asked(demo):
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_label("Brightest (µmol)").last.fill("150")
    demo.get_by_role("button", name="Keep the crop").click()
    expect(demo.get_by_text("Kept.")).to_be_visible()
    demo.get_by_role("link", name="Bench").click()
    expect(demo.get_by_text("under the cap of 150")).to_be_visible()
    demo.get_by_role("button", name="Plan without the hot-spot cap").click()
    expect(demo.get_by_text("over the cap of 150")).to_be_visible()
    demo.get_by_role("button", name="Hold the cap again").click()
    expect(demo.get_by_text("under the cap of 150")).to_be_visible()


def test_a_stage_taken_out_can_be_brought_back(demo):
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_role("button", name="Take out stage 1").click()
    expect(demo.get_by_label("Stage 1")).to_have_value("Leafy")
    demo.get_by_role("button", name="Bring it back").click()
    expect(demo.get_by_label("Stage 1")).to_have_value("Cuttings")
    demo.get_by_role("button", name="Add a stage").click()
    demo.get_by_label("Stage 4").fill("After the show")
    demo.get_by_role("button", name="Keep the crop").click()
    expect(demo.get_by_text("Kept.")).to_be_visible()
    demo.get_by_role("link", name="Bench").click()
    expect(demo.get_by_role("button", name="After the show")).to_be_visible()


@pytest.mark.parametrize("scheme", ["light", "dark"])
@pytest.mark.parametrize("size", [(1280, 800), (390, 844)])
def test_every_screen_is_accessible_and_unclipped(demo, scheme, size):
    demo.emulate_media(color_scheme=scheme)
    demo.set_viewport_size({"width": size[0], "height": size[1]})
    signs = {
        "bench": "The floor from above",
        "space": "The crop and its stages",
        "fixtures": "lamps on your shelf",
        "season": "Lamp and tops above",
        "power": "The same light for less",
        "install": "steps done",
        "sums": "Readings to a mean",
    }
    for place, sign in signs.items():
        demo.goto(f"{demo.live}/{place}")
        expect(demo.get_by_text(sign)).to_be_visible(timeout=30_000)
        accessible(demo)
        unclipped(demo)


def test_the_keyboard_alone_reaches_everything(demo):
    demo.keyboard.press("2")
    expect(demo.get_by_text("lamps on your shelf")).to_be_visible()
    demo.keyboard.press("3")
    expect(demo.get_by_role("slider", name="Dial")).to_be_visible()
    reached = set()
    for _ in range(70):
        demo.keyboard.press("Tab")
        reached.add(
            demo.evaluate(
                "(e => e.getAttribute('aria-label') || e.getAttribute('aria-labelledby') "
                "|| e.textContent.trim())(document.activeElement)"
            )
        )
    assert {"dial-label", "Height above the tops", "Hours", "On at", "Sign out"} <= reached


def test_a_server_that_is_gone_is_said_and_nothing_is_lost(demo):
    demo.route("**/api/runs/**", lambda route: route.abort())
    demo.get_by_role("slider", name="Dial").press("End")
    expect(demo.get_by_text("Not kept: the server does not answer.")).to_be_visible()
    demo.unroute("**/api/runs/**")
    demo.get_by_role("button", name="Try again").click()
    expect(demo.get_by_text("Kept", exact=True)).to_be_visible()
    demo.reload()
    expect(demo.get_by_role("slider", name="Dial")).to_have_attribute("aria-valuenow", "100")


def test_what_lining_would_gain(demo):
    demo.get_by_role("button", name="What lining would gain").click()
    # a silver tent has none better
    expect(demo.get_by_text("No lining there is sends back more")).to_be_visible()
    demo.get_by_label("Plan", exact=True).select_option(label="Herb shelf · Winter herbs")
    expect(demo.get_by_text("all round would give")).to_be_visible()
    expect(demo.get_by_role("row", name=re.compile("Silver tent lining"))).to_be_visible()
    accessible(demo)
    demo.get_by_role("button", name="Back to the floor").click()
    expect(demo.get_by_role("application", name="Light on the floor")).to_be_visible()
