"""Today: what is due is done with what was really set, put off, or not needed; and a run ends."""

import re
from datetime import timedelta

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from server.logbook.demo import NAME, live_demo
from server.logbook.models import Entry
from server.runs.demo import make_demo
from server.runs.models import Run
from tests.journeys.conftest import accessible, unclipped
from tests.server.logbook.test_photos import with_a_place

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


@pytest.fixture
def today(page, transactional_db, settings, tmp_path):
    """The demo with its run under way, opened where it opens by itself."""
    settings.DATA = tmp_path
    live_demo(make_demo())
    settings.DEMO = True
    page.goto(f"{page.live}/")
    expect(run(page).get_by_role("heading", level=2)).to_contain_text(
        "Raise the lamp", timeout=60_000
    )
    return page


def run(page):
    return page.get_by_role("article", name=NAME)


def due(page, text):
    return run(page).get_by_role("list", name="What is due").locator("li", has_text=text)


def kept(page, kind, **values):
    """The values of entries of a kind, the newest first, once there are such."""
    rows = Entry.objects.filter(kind=kind, **{f"values__{name}": v for name, v in values.items()})
    for _ in range(100):
        found = list(rows.order_by("-id").values_list("values", flat=True))
        if found:
            return found
        page.wait_for_timeout(100)
    return []


def test_a_late_re_hang_is_done_with_what_was_really_set(today):
    page = today
    expect(page).to_have_url(re.compile("/today$"))
    late = due(page, "3 days late")
    expect(late).to_contain_text("The brightest spot has been above")
    accessible(page)
    unclipped(page)
    late.get_by_role("button", name="Done…").click()
    height = late.get_by_label("Lamp above the tops")
    proposed = float(height.input_value())
    height.fill("50")
    late.get_by_role("button", name="Keep it").click()
    expect(late).to_be_hidden()
    assert kept(page, "answer")[0]["what"] == "done"
    newest = Entry.objects.filter(kind="setting").order_by("-id").first().values
    assert (newest["height_cm"], proposed > 40) == (50, True)
    # where things stand is told anew
    stands = run(page).get_by_role("region", name="Where things stand")
    expect(stands).to_contain_text("50 cm")
    expect(run(page).get_by_role("heading", level=2)).not_to_contain_text("Raise the lamp")


def test_on_a_phone_a_look_is_written_down_and_a_thing_put_off(today):
    page = today
    page.set_viewport_size({"width": 390, "height": 844})
    unclipped(page)
    look = due(page, "look at tips and upper leaves")
    look.get_by_label("What they show").fill("tips a little pale")
    look.get_by_role("button", name="Looked").click()
    expect(look).to_be_hidden()
    assert Entry.objects.filter(kind="note", text="tips a little pale").exists() or kept(
        page, "note"
    )
    late = due(page, "Raise the lamp")
    late.get_by_role("button", name="Later").click()
    expect(late).to_be_hidden()
    expect(run(page).get_by_role("heading", level=2)).to_contain_text("Nothing to do today")
    accessible(page)


def test_without_signal_it_is_done_all_the_same(today):
    page = today
    page.context.set_offline(True)
    late = due(page, "Raise the lamp")
    late.get_by_role("button", name="Done…").click()
    late.get_by_role("button", name="Keep it").click()
    expect(late).to_be_hidden()
    expect(page.get_by_text("wait on this device")).to_be_visible()
    page.context.set_offline(False)
    assert kept(page, "answer")
    expect(page.get_by_text("wait on this device")).to_be_hidden()


def test_away_for_some_days_one_setting_holds(today):
    page = today
    away = run(page).get_by_role("region", name="Away")
    away.get_by_role("button", name="5 days?").click()
    expect(away.get_by_role("status")).to_contain_text("Before you go:")
    expect(away.get_by_role("status")).to_contain_text("it holds for 5 days")


def test_the_season_shows_what_was_planned_and_what_was(today):
    page = today
    run(page).get_by_role("button", name="Its season").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("92 days")
    mark = page.get_by_role("button", name="Power cut")
    expect(mark).to_be_visible()
    mark.focus()
    page.keyboard.press("Enter")
    noted = page.get_by_role("list", name="In the log that day")
    expect(noted).to_contain_text("5 h 20 min, from 09:00")
    expect(page.locator("#season-day")).to_contain_text("Really: DLI")
    accessible(page)
    # planned anew, the plan before is there too
    page.get_by_role("button", name="This plan…").click()
    page.get_by_role("button", name="Plan anew…").click()
    page.get_by_role("form", name="Plan anew").get_by_role("button", name="Plan anew").click()
    expect(page.get_by_label("The plan before")).to_be_visible()
    assert Run.objects.get(name=NAME).plans.count() == 2


def test_a_photo_is_taken_along_and_seen_beside_another(today):
    page = today
    run(page).get_by_role("button", name="Write something down").click()
    field = page.locator("input[type=file]")
    for name in ("first", "second"):
        page.get_by_label("Words for the photo").fill(name)
        field.set_input_files({"name": "a.jpg", "mimeType": "image/jpeg", "buffer": with_a_place()})
        expect(page.get_by_role("region", name="The log")).to_contain_text(name)
    beside = page.get_by_role("region", name="Photos over time")
    expect(beside.get_by_role("img")).to_have_count(2)
    accessible(page)
    field.set_input_files({"name": "a.txt", "mimeType": "text/plain", "buffer": b"no photo"})
    expect(page.get_by_text("no photo that can be read")).to_be_visible()


def test_a_calendar_is_given_an_address_and_loses_it(today):
    page = today
    page.get_by_text("What is due in your own calendar").click()
    page.get_by_role("button", name="Make the address").click()
    address = page.get_by_text("/api/calendar/").inner_text()
    reply = page.request.get(address)
    assert reply.status == 200
    assert "Raise the lamp" in reply.text().replace("\r\n ", "")
    page.get_by_role("button", name="Take it back").click()
    expect(page.get_by_role("button", name="Make the address")).to_be_visible()
    assert page.request.get(address).status == 404


def test_a_run_is_given_up_and_nothing_is_left_of_it_today(today):
    page = today
    run(page).get_by_role("button", name="Its bench").click()
    page.get_by_role("button", name="This plan…").click()
    page.get_by_role("button", name="The run ends…").click()
    ending = page.get_by_role("form", name="The run ends")
    ending.get_by_role("button", name="Harvested").click()
    ending.get_by_label("Harvest, if wanted").fill("22")
    ending.get_by_label("Counted in").select_option("pieces")
    ending.get_by_role("button", name="Let it end").click()
    expect(page.get_by_text("22 pieces harvested")).to_be_visible()
    page.get_by_role("link", name="Today").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Nothing grows yet.")
    accessible(page)


def test_a_sign_is_weighed_one_thing_is_tried_and_what_came_of_it_is_asked(today):
    page = today
    run(page).get_by_role("button", name="Write something down").click()
    page.get_by_label("In one line").fill(
        "tips bleached under the lamp on some plants since 2 days"
    )
    shown = page.get_by_role("list", name="What will be kept")
    expect(shown).to_contain_text("some plants, for 2 days")
    page.get_by_role("button", name="Keep it", exact=True).first.click()
    page.get_by_role("button", name="What may it be? tips bleached").click()
    causes = page.get_by_role("region", name="What may be behind it")
    expect(causes).to_contain_text("the limit of these plants is near")
    first = causes.get_by_role("listitem").first
    expect(first).to_contain_text("Too much light")
    expect(first).to_contain_text("The brightest spot gets")
    accessible(page)
    causes.get_by_role("button", name="All it could be").click()
    expect(causes).to_contain_text("Pests or disease")
    first.get_by_role("button", name="Set so: I try this").click()
    expect(page.get_by_text("Kept. In three days Today asks")).to_be_visible()
    sign = kept(page, "try", cause="much_light")[0]["of"]
    # three days on
    since = timezone.now() - timedelta(days=3)
    Entry.objects.filter(kind__in=("symptom", "try")).update(at=since)
    page.get_by_role("link", name="Today").click()
    page.reload()
    asked = due(page, "You tried something for what plants showed 3 days ago")
    asked.get_by_role("button", name="Better").click()
    expect(asked).to_be_hidden()
    assert kept(page, "outcome", of=sign)[0]["what"] == "better"
