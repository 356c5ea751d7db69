"""Looking back: what a run delivered and cost, the next one from it, and everything taken along."""

import re

import pytest
from playwright.sync_api import expect

from server.accounts.models import Grower
from server.accounts.services import make_account
from server.crops.models import Crop
from server.fixtures.models import Fixture
from server.logbook.demo import NAME, live_demo
from server.logbook.models import Entry
from server.runs.demo import make_demo
from server.runs.models import Run
from server.runs.services import start_run
from server.spaces.models import Space
from tests.journeys.conftest import accessible, unclipped
from tests.server.conftest import PASSWORD

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


@pytest.fixture
def lived(page, transactional_db, settings, tmp_path):
    """The demo with what it has lived, at its review."""
    settings.DATA = tmp_path
    live_demo(make_demo())
    settings.DEMO = True
    page.goto(f"{page.live}/bench")
    chosen = page.get_by_label("Plan", exact=True)
    chosen.select_option(label=f"{NAME} (running)")
    page.goto(f"{page.live}/review")
    expect(page.get_by_role("heading", level=1)).to_contain_text("mol a day", timeout=60_000)
    return page


def test_a_run_is_looked_back_on_and_the_next_one_begins_wiser(lived):
    page = lived
    drift = page.get_by_role("region", name="What lamp and lining have lost")
    expect(drift).to_contain_text("Dust on the lamp", timeout=60_000)
    expect(drift).to_contain_text("wipe its face dry")
    stages = page.get_by_role("region", name="Stage by stage")
    expect(stages.get_by_role("row", name=re.compile("^Leafy"))).to_contain_text("22 of 21")
    expect(page.get_by_role("region", name="What it taught")).to_contain_text("lower leaves pale")
    # two runs beside each other
    beside = page.get_by_role("region", name="Two runs")
    beside.get_by_label("Beside another run").select_option(label="Herbs of late summer")
    expect(beside.get_by_role("row", name=re.compile("^Harvest"))).to_contain_text("340 g")
    accessible(page)
    unclipped(page)
    # on paper there are no buttons
    page.emulate_media(media="print")
    expect(page.get_by_role("button", name="Print the report")).to_be_hidden()
    expect(stages).to_be_visible()
    page.emulate_media(media="screen")
    page.get_by_role("button", name="Start the next run from this").click()
    expect(page).to_have_url(re.compile("/bench$"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("above the tops", timeout=60_000)
    made = Run.objects.latest("pk")
    assert (made.begun_on, made.crop.name) == (None, "Potted chrysanthemums, as grown")
    assert [stage.days for stage in made.crop.stages][:2] == [14, 22]
    # what has not begun has nothing to look back on, and leads to what has
    page.get_by_role("link", name="Review").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("has not begun")
    page.set_viewport_size({"width": 390, "height": 844})
    unclipped(page)
    page.get_by_role("button", name=NAME, exact=True).click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("mol a day", timeout=60_000)
    unclipped(page)


def test_everything_is_taken_along_to_another_account(page, transactional_db, settings, tmp_path):
    settings.DATA = tmp_path
    live_demo(make_demo())
    settings.DEMO = True
    page.goto(f"{page.live}/account")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Everything Demo grower keeps")
    accessible(page)
    with page.expect_download() as coming:
        page.get_by_role("button", name="Take everything out").click()
    saved = tmp_path / coming.value.suggested_filename
    coming.value.save_as(saved)
    assert saved.name.endswith(".canopy.zip")
    # into an account that has something of its own
    settings.DEMO = False
    own = make_account("Ada", PASSWORD)
    space = Space.objects.of(Grower.objects.get(is_demo=True)).first()
    space.pk, space.owner, space.circuit, space.name = None, own, None, "Mine"
    space.save()
    space.tariffs.create(holds_from="2026-01-01", currency="€", per_kwh=0.3)
    start_run(own, space, Fixture.objects.of(own).first(), Crop.objects.of(own).first())
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_label("Name").fill("Ada")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page.get_by_role("button", name="Sign out", exact=True)).to_be_visible(timeout=60_000)
    page.goto(f"{page.live}/account")
    chosen = page.get_by_label("An archive")
    bad = tmp_path / "notes.zip"
    bad.write_bytes(b"hello")
    chosen.set_input_files(bad)
    expect(page.get_by_role("alert")).to_contain_text("ends in .canopy.zip")
    chosen.set_input_files(saved)
    told = page.get_by_text("Would come in")
    expect(told).to_contain_text("entries of the log", timeout=60_000)
    assert Run.objects.of(own).count() == 1
    page.get_by_role("button", name="Bring it in").click()
    expect(page.get_by_text("Done: nothing of what was here was lost.")).to_be_visible(
        timeout=60_000
    )
    assert Run.objects.of(own).filter(name=NAME).exists()
    theirs = Grower.objects.get(is_demo=True)
    assert Entry.objects.of(own).count() == Entry.objects.of(theirs).count()
    # brought in twice it is there once
    chosen.set_input_files(saved)
    expect(page.get_by_text("All of it is here already.")).to_be_visible(timeout=60_000)
    page.goto(f"{page.live}/review")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
