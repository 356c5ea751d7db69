"""Plans kept, begun and lived; what one browser page does to another; where Back leads."""

import re

import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


def test_a_plan_is_named_begun_lived_and_taken_back(demo):
    demo.get_by_role("button", name="This plan…").click()
    demo.get_by_label("Its name").fill("Autumn show")
    demo.get_by_role("button", name="Name it").click()
    plan = demo.get_by_label("Plan", exact=True).locator("option:checked")
    expect(plan).to_have_text("Autumn show")
    accessible(demo)
    unclipped(demo)
    demo.get_by_role("button", name="Begin the run").click()
    expect(plan).to_have_text("Autumn show (running)")
    accessible(demo)
    # the run opens in the stage it is in, and what is set at the tent is kept
    cuttings = demo.get_by_role("group", name="Stage").get_by_role("button", name="Cuttings")
    expect(cuttings).to_have_attribute("aria-pressed", "true")
    demo.get_by_role("button", name="Set so at the tent now").click()
    expect(demo.get_by_text("Kept in the run's history")).to_be_visible()
    before = demo.get_by_role("heading", level=1).inner_text()
    # what is edited later does not reach it
    demo.get_by_role("link", name="Space & crop").click()
    expect(demo.get_by_text("stands on its own copy from")).to_be_visible()
    demo.get_by_label("Height (cm)", exact=True).fill("120")
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("Kept.", exact=True)).to_be_visible()
    demo.get_by_role("link", name="Season").click()
    expect(demo.get_by_role("heading", name="What was really set")).to_be_visible()
    expect(demo.get_by_text("Cuttings: set to")).to_be_visible()
    expect(demo.get_by_text("really since")).to_be_visible()
    accessible(demo)
    unclipped(demo)
    demo.get_by_role("link", name="Bench", exact=True).click()
    expect(demo.get_by_role("heading", level=1)).to_have_text(before)
    expect(demo.get_by_text("120 cm wide, 180 cm high")).to_be_visible()
    # begun by mistake it could be taken back, but something was kept of it
    demo.get_by_role("button", name="It has not begun").click()
    expect(demo.get_by_text("its past stays")).to_be_visible()
    demo.get_by_role("button", name="Leafy begins").click()
    expect(demo.get_by_text("in Leafy since")).to_be_visible()
    demo.get_by_role("button", name="The run ends…").click()
    accessible(demo)
    demo.get_by_role("button", name="Let it end").click()
    expect(demo.get_by_text("Ended on")).to_be_visible()
    demo.get_by_role("button", name="It goes on").click()
    expect(demo.get_by_text("in Leafy since")).to_be_visible()
    demo.get_by_role("button", name="Copy to a new plan").click()
    expect(plan).to_have_text("Autumn show (copy)")
    demo.get_by_role("button", name="Put it away").click()
    expect(demo.get_by_text("Autumn show (copy) is put away.")).to_be_visible()
    expect(plan).not_to_have_text("Autumn show (copy)")
    demo.get_by_role("button", name="Undo").click()
    expect(plan).to_have_text("Autumn show (copy)")


def test_spaces_and_crops_are_put_away_and_come_back(demo):
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_role("button", name="Put this space away").click()
    expect(demo.get_by_text("Box room tent is put away; plans in it go on.")).to_be_visible()
    demo.get_by_text("Put away: 1 space").click()
    accessible(demo)
    demo.get_by_role("button", name="Bring it back: Box room tent").click()
    expect(demo.get_by_text("Put away: 1 space")).to_be_hidden()
    demo.get_by_role("button", name="Put it away").last.click()
    expect(demo.get_by_text("Potted chrysanthemums is put away")).to_be_visible()
    demo.get_by_role("button", name="Undo").click()
    expect(demo.get_by_text("Put away: 1 crop")).to_be_hidden()


def test_a_lamp_of_ones_own_hangs_where_it_is_said_to(demo):
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Record: ").first.click()
    demo.get_by_role("button", name="I have one of these").click()
    demo.get_by_label("What you call it").fill("The attic one")
    demo.get_by_label("Watts you measured (W)").fill("0")
    demo.get_by_role("button", name="Keep it").click()
    expect(demo.get_by_text("Watts has to be at least")).to_be_visible()
    demo.get_by_label("Watts you measured (W)").fill("250")
    accessible(demo)
    demo.get_by_role("button", name="Keep it").click()
    expect(demo.get_by_text("250 W measured")).to_be_visible()
    demo.get_by_role("link", name="Bench", exact=True).click()
    demo.get_by_role("button", name="One lamp: move, turn, add").click()
    watts = demo.get_by_text(re.compile(r"W, \d+ % of its light"))
    before = watts.inner_text()
    demo.get_by_label("Which one").select_option(label="The attic one")
    expect(watts).not_to_have_text(before)
    accessible(demo)


def test_two_pages_do_not_undo_each_others_work(demo, context):
    other = context.new_page()
    for page in (demo, other):
        page.goto(f"{demo.live}/space")
        expect(page.get_by_label("What you call it")).to_have_value("Box room tent")
    other.get_by_label("What you call it").fill("Theirs")
    other.get_by_role("button", name="Keep these figures").click()
    expect(other.get_by_text("Kept.", exact=True)).to_be_visible()
    demo.get_by_label("Pot height (cm)").fill("20")
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_role("heading", name="Changed elsewhere meanwhile")).to_be_visible()
    # what was not touched here is taken from there
    there = demo.get_by_role("button", name="there: Theirs")
    expect(there).to_have_attribute("aria-pressed", "true")
    accessible(demo)
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("say above what holds")).to_be_visible()
    demo.get_by_role("button", name="Put it together so").click()
    expect(demo.get_by_label("What you call it")).to_have_value("Theirs")
    expect(demo.get_by_label("Pot height (cm)")).to_have_value("20")
    demo.get_by_role("button", name="Keep these figures").click()
    expect(demo.get_by_text("Kept.", exact=True)).to_be_visible()
    demo.reload()
    expect(demo.get_by_label("What you call it")).to_have_value("Theirs")
    expect(demo.get_by_label("Pot height (cm)")).to_have_value("20")


def test_a_stage_added_on_another_page_stays(demo, context):
    other = context.new_page()
    for page in (demo, other):
        page.goto(f"{demo.live}/space")
        expect(page.get_by_label("Crop", exact=True).last).to_have_value("Potted chrysanthemums")
    other.get_by_role("button", name="Add a stage").click()
    other.get_by_label("Stage 4").fill("Hardening off")
    other.get_by_role("button", name="Keep the crop").click()
    expect(other.get_by_text("Kept.", exact=True)).to_be_visible()
    demo.get_by_label("Crop", exact=True).last.fill("Show chrysanthemums")
    demo.get_by_role("button", name="Keep the crop").click()
    expect(demo.get_by_role("button", name="there: “Hardening off”")).to_be_visible()
    demo.get_by_role("button", name="Put it together so").click()
    demo.get_by_role("button", name="Keep the crop").click()
    expect(demo.get_by_text("Kept.", exact=True)).to_be_visible()
    demo.reload()
    expect(demo.get_by_label("Stage 4")).to_have_value("Hardening off")


def test_back_closes_what_was_opened_and_titles_follow(demo):
    demo.get_by_role("link", name="Fixtures").click()
    expect(demo).to_have_title("Fixtures – Idle Canopy")
    shelf = demo.get_by_text("lamps on your shelf.")
    demo.get_by_role("button", name="Add a lamp").click()
    demo.get_by_label("What you call it").fill("Half typed")
    demo.go_back()
    expect(shelf).to_be_visible()
    # nothing typed is dropped without a word, nor lost
    expect(demo.get_by_text("What you changed in Half typed is not kept yet")).to_be_visible()
    demo.get_by_role("button", name="Add a lamp").click()
    expect(demo.get_by_label("What you call it")).to_have_value("Half typed")
    demo.get_by_role("button", name="Begin with what is kept").click()
    demo.get_by_role("button", name="Back to the list").click()
    expect(shelf).to_be_visible()
    demo.get_by_role("link", name="Season").click()
    expect(demo).to_have_title("Season – Idle Canopy")
    demo.get_by_role("button", name="Card for the door").click()
    expect(demo.get_by_role("button", name="Print the card")).to_be_visible()
    demo.go_back()
    expect(demo.get_by_role("button", name="Card for the door")).to_be_visible()
    demo.go_back()
    expect(shelf).to_be_visible()
    demo.goto(f"{demo.live}/nowhere")
    expect(demo.get_by_role("heading", level=1)).to_have_text("There is nothing at this address")
    expect(demo).to_have_title("Not found – Idle Canopy")
    accessible(demo)


def test_a_clock_and_money_of_ones_own(demo):
    demo.get_by_role("button", name="clock and money").click()
    demo.get_by_label("Your clock").select_option(label="Pacific/Kiritimati")
    demo.get_by_label("Your money").fill("kr")
    accessible(demo)
    demo.get_by_role("button", name="Keep", exact=True).click()
    demo.get_by_role("link", name="Fixtures").click()
    demo.get_by_role("button", name="Add a lamp").click()
    expect(demo.get_by_label("Price of one (kr)")).to_be_visible()
