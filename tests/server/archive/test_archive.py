"""Everything out and in again: nothing is lost, nothing doubled, and what cannot be is refused."""

import io
import json
import os
import uuid
import zipfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

import jsonschema
import pytest
from django.conf import settings
from django.test import override_settings
from django.utils import timezone
from hypothesis import HealthCheck, given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from server.accounts.models import Grower
from server.accounts.services import make_account
from server.archive import services
from server.archive.adapters.kinds import KINDS
from server.archive.services import arriving
from server.common.problems import CanopyError
from server.crops.models import Crop
from server.devices.models import Device, FiveMinutes, Reading, Series, Unsummed
from server.fixtures.models import Fixture
from server.logbook.models import Entry, Photo
from server.logbook.services.photos import file_of
from server.runs.models import Run, RunLamp
from server.spaces.models import Space
from tests.server.archive.conftest import changed_row, into, out_of, plain, rows_of
from tests.server.conftest import PASSWORD, signed_in
from tests.server.logbook.test_photos import with_a_place

SPECIMENS = Path(__file__).parent / "specimens"
"""One archive of each version as its release wrote it; never written anew."""


def specimen(version=1):
    return io.BytesIO((SPECIMENS / f"version-{version}.canopy.zip").read_bytes())


@pytest.fixture
def bo(db):
    return make_account("Bo", PASSWORD)


def test_everything_comes_back_as_it_was(everything, bo):
    out = out_of(everything)
    if os.environ.get("SPECIMEN"):
        Path(os.environ["SPECIMEN"]).write_bytes(out.getvalue())
    told = into(bo, out)
    assert told.ignored == []
    before, after = plain(out), plain(out_of(bo))
    for kind, rows in before[0].items():
        assert after[0][kind] == rows, kind
    assert after[1] == before[1]
    assert after[1]
    # of every kind there is something that was tried, but for readings' own sums
    assert {kind for kind, rows in before[0].items() if not rows} <= {"five_minutes", "hours"}
    # a second time all is there already
    again = into(bo, out)
    assert again.new == {}
    assert again.later == {}
    assert plain(out_of(bo)) == after
    # nobody else's rows were touched
    assert plain(out_of(everything)) == before


def test_nothing_secret_is_in_it(bo):
    everything = bo
    into(bo, specimen())
    device = Device.objects.of(everything).first()
    Device.objects.filter(pk=device.pk).update(token_hash="5ecre7" * 8, topic="home/plug")
    everything.set_password(PASSWORD)
    everything.save()
    source = out_of(everything)
    with zipfile.ZipFile(source) as file:
        whole = b"".join(file.read(name) for name in file.namelist()).decode("utf-8", "replace")
    for secret in ("5ecre7", "token", "home/plug", everything.password, PASSWORD, "argon2", "md5$"):
        assert secret not in whole


def test_every_file_is_as_its_schema_says(bo):
    into(bo, specimen())
    with zipfile.ZipFile(out_of(bo)) as file:
        for name in file.namelist():
            if name.startswith("rows/"):
                kind = name[5:].split(".")[0]
                schema = json.loads(file.read(f"schemas/{kind}.schema.json"))
                jsonschema.Draft202012Validator.check_schema(schema)
                jsonschema.validate(json.loads(file.read(name)), schema)
        head = json.loads(file.read("archive.json"))
        tables = [name for name in file.namelist() if name.startswith("tables/")]
    assert {kind.name for kind in KINDS} < set(head["counts"])
    assert "tables/Shelf.csv" in tables
    assert any("Log" in name for name in tables)


EXAMPLE = Path(__file__).parents[3] / "docs/formats/example.canopy.zip"


@pytest.mark.parametrize("path", [*sorted(SPECIMENS.glob("*.zip")), EXAMPLE], ids=lambda p: p.stem)
def test_archives_of_every_version_are_read(path, bo):
    source = io.BytesIO(path.read_bytes())
    told = into(bo, source)
    counts = {kind: len(rows) for kind, rows in rows_of(source).items()}
    for kind in KINDS:
        kept = [getattr(told, fate).get(kind.name, 0) for fate in ("new", "later", "kept")]
        assert sum(kept) == counts[kind.name], kind.name
    assert Run.objects.of(bo).filter(begun_on__isnull=False).exists()
    run = Run.objects.of(bo).filter(begun_on__isnull=False).first()
    ask = signed_in("Cy")
    ask.client.force_login(bo, "django.contrib.auth.backends.ModelBackend")
    for address in (f"runs/{run.pk}/season", f"logbook/runs/{run.pk}/light", "logbook/today"):
        assert ask("get", address)[0] == 200, address


def test_an_empty_account_takes_over_the_settings_and_one_in_use_keeps_its_own(bo):
    source = changed_head(specimen(), account={"length_unit": "in", "currency": "kr"})
    into(bo, source, really=False)
    assert Grower.objects.get(pk=bo.pk).length_unit == "cm"
    into(bo, source)
    bo.refresh_from_db()
    assert (bo.length_unit, bo.currency) == ("in", "kr")
    into(bo, changed_head(specimen(), account={"length_unit": "cm"}))
    assert Grower.objects.get(pk=bo.pk).length_unit == "in"


def changed_head(source, **other):
    found = io.BytesIO()
    with zipfile.ZipFile(source) as old, zipfile.ZipFile(found, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            content = old.read(name)
            if name == "archive.json":
                content = json.dumps(json.loads(content) | other)
            new.writestr(name, content)
    return found


def test_trying_tells_and_keeps_nothing(bo):
    before = plain(out_of(bo))
    told = into(bo, specimen(), really=False)
    assert told.new["runs"]
    assert told.new["entries"]
    assert plain(out_of(bo)) == before
    assert not list((settings.DATA / "photos").glob("*/*"))
    really = into(bo, specimen())
    assert (really.new, really.kept) == (told.new, told.kept)


def test_the_later_state_of_a_row_stands_whichever_way_it_comes(bo):
    into(bo, specimen())
    older = out_of(bo)
    lamp = Fixture.objects.of(bo).first()
    lamp.name, lamp.version = "Renamed", lamp.version + 1
    lamp.save()
    crop = Crop.objects.of(bo).first()
    crop.version += 1
    crop.save()
    stage = crop.stages[0]
    stage.days += 3
    stage.save()
    lamp = RunLamp.objects.filter(arrangement__run__owner=bo).first()
    run = lamp.arrangement.run
    run.name, run.version = "Moved", run.version + 1
    run.save()
    lamp.x_cm += 5
    lamp.save()
    newer = out_of(bo)
    # brought in again, the older archive changes nothing
    into(bo, older)
    assert plain(out_of(bo)) == plain(newer)
    # where only the older state is, the newer takes its place, stages and all
    other = make_account("Di", PASSWORD)
    into(other, older)
    told = into(other, newer)
    assert told.later["fixtures"] == 1
    assert told.later["crops"] == 1
    assert told.later["runs"] == 1
    assert RunLamp.objects.filter(arrangement__run__owner=other).get().x_cm == lamp.x_cm
    assert Fixture.objects.of(other).filter(name="Renamed").exists()
    assert plain(out_of(other)) == plain(newer)


def test_entries_made_in_two_places_come_together(bo):
    into(bo, specimen())
    other = make_account("Di", PASSWORD)
    into(other, specimen())
    for grower, words in ((bo, "here"), (other, "there")):
        run = Run.objects.of(grower).filter(begun_on__isnull=False).first()
        at = datetime.now(UTC)
        entry = Entry(owner=grower, run=run, key=uuid.uuid4(), kind="note", at=at, text=words)
        entry.save()
    into(bo, out_of(other))
    texts = set(Entry.objects.of(bo).values_list("text", flat=True))
    assert {"here", "there"} <= texts


def test_photos_are_byte_for_byte_and_one_with_a_place_in_it_is_made_anew(bo, monkeypatch):
    source = specimen()
    into(bo, source)
    photo = Photo.objects.of(bo).get()
    with zipfile.ZipFile(source) as file:
        assert file_of(photo, False).read_bytes() == file.read(f"photos/{photo.key}.jpg")
    assert file_of(photo, True).stat().st_size > 0
    found = io.BytesIO()
    with zipfile.ZipFile(source) as old, zipfile.ZipFile(found, "w") as new:
        for name in old.namelist():
            new.writestr(name, with_a_place() if name.startswith("photos/") else old.read(name))
    other = make_account("Di", PASSWORD)
    into(other, found)
    assert b"A maker" not in file_of(Photo.objects.of(other).get(), False).read_bytes()


BAD_ROWS = [
    ("spaces", lambda rows, row: row.update(width_cm=-5), "width_cm"),
    ("spaces", lambda rows, row: row.update(width_cm="wide"), "should be a number"),
    ("spaces", lambda rows, row: row.update(width_cm=True), "should be a number"),
    ("spaces", lambda rows, row: row.update(lining="velvet"), "lining"),
    ("spaces", lambda rows, row: row.update(mount={"rating_kg": 1e9}), "Rating"),
    ("spaces", lambda rows, row: row.update(uuid="none"), "UUID"),
    ("spaces", lambda rows, row: row.update(name="x" * 81), "80 characters"),
    ("spaces", lambda rows, row: row.update(rack=str(uuid.uuid4())), "not in the archive"),
    ("spaces", lambda rows, row: rows.append(dict(row)), "twice"),
    ("spaces", lambda rows, row: rows.append([1]), "object in braces"),
    ("spaces", lambda rows, row: row.pop("width_cm"), "missing"),
    ("spaces", lambda rows, row: rows.clear(), "not in the archive"),
    ("tariffs", lambda rows, row: row.update(per_kwh=-3), "per_kwh"),
    ("tariffs", lambda rows, row: row.update(created_at="yesterday"), "created_at"),
    ("tariffs", lambda rows, row: row.update(created_at="9999-12-31T23:59:59-14:00"), "created"),
    ("price_files", lambda rows, row: row.update(per_kwh=[1e9]), "prices"),
    ("circuits", lambda rows, row: row.update(loads=[{"watts": 1}]), "Name"),
    ("fixtures", lambda rows, row: row.update(layout={"bars": 1e6}), "layout"),
    ("fixtures", lambda rows, row: row.update(watts=0), "watts"),
    ("fixtures", lambda rows, row: row.update(number=rows[1]["number"]), "number"),
    ("lamps", lambda rows, row: row.update(dead_bars=[999]), "dead_bars"),
    ("maps", lambda rows, row: row["readings"][0].update(x_cm=1e6), "x_cm"),
    ("stages", lambda rows, row: row.update(days=100_000), "days"),
    ("stages", lambda rows, row: row.update(dli_high=0), "DLI"),
    ("runs", lambda rows, row: row.update(aim="win"), "aim"),
    ("runs", lambda rows, row: row.update(started_on="1066-10-14"), "started_on"),
    ("plans", lambda rows, row: row.update(document={"format": "x"}), "run file"),
    ("settings", lambda rows, row: row.update(windows=[{"on_minute": 9999, "hours": 1}]), "minute"),
    ("settings", lambda rows, row: row.update(locked=["door"]), "levers"),
    ("run_lamps", lambda rows, row: row.update(tilt_deg=200), "tilt_deg"),
    ("fits", lambda rows, row: row["document"].update(sensor="nose"), "sensor"),
    ("ticks", lambda rows, row: row.update(step="dance"), "step"),
    ("sensors", lambda rows, row: row.update(factor=-1), "actor"),
    ("walk_entries", lambda rows, row: row.update(x_cm=-1), "cm"),
    ("walk_entries", lambda rows, row: row.update(asked={"layout": 3}), "asked"),
    ("entries", lambda rows, row: row.update(kind="spell"), "Kind"),
    ("entries", lambda rows, row: row.update(values={"tops_cm": 1e9}), "values"),
    ("entries", lambda rows, row: row.update(at="2026-01-01T00:00:00"), "at"),
    ("entries", lambda rows, row: row.update(run=str(uuid.uuid4())), "not in the archive"),
    ("devices", lambda rows, row: row.update(kind="toaster"), "Kind"),
    ("devices", lambda rows, row: row.update(refusals=[{"day": 1}]), "refusals"),
    ("series", lambda rows, row: row.update(quantity="joy"), "quantity"),
    ("commands", lambda rows, row: row.update(body={"command": "explode"}), "command"),
    ("readings", lambda rows, row: row.update(at=[5, 4], value=[1, 1]), "order"),
    ("readings", lambda rows, row: row.update(value=[1, 2, 3]), "lengths"),
    ("readings", lambda rows, row: row.update(series=str(uuid.uuid4())), "not in the archive"),
]


@pytest.mark.parametrize(("kind", "change", "words"), BAD_ROWS)
def test_a_row_that_cannot_be_is_refused_whole_with_a_sentence(kind, change, words, bo):
    before = Space.objects.of(bo).count(), Entry.objects.of(bo).count()
    with pytest.raises(CanopyError, match=words):
        into(bo, changed_row(specimen(), kind, change))
    assert (Space.objects.of(bo).count(), Entry.objects.of(bo).count()) == before
    assert not Run.objects.of(bo).exists()


def test_a_part_of_one_thing_cannot_be_anothers(bo):
    def swap(rows, row):
        row["plan"] = str(uuid.uuid4())

    with pytest.raises(CanopyError, match="not in the archive"):
        into(bo, changed_row(specimen(), "settings", swap))

    rows = rows_of(specimen())
    other = next(p for p in rows["plans"] if p["run"] != rows["settings"][0]["run"])

    def theirs(rows, row):
        row["plan"] = other["uuid"]

    with pytest.raises(CanopyError, match="not of one run"):
        into(bo, changed_row(specimen(), "settings", theirs))


def test_rows_are_told_by_what_else_tells_them(bo):
    into(bo, specimen())

    def renamed(rows, row):
        row["uuid"] = str(uuid.uuid4())

    for kind in ("run_stages", "run_lamps"):
        told = into(bo, changed_row(specimen(), kind, renamed))
        assert told.new == {}
        assert told.kept[kind] == len(rows_of(specimen())[kind]) > 0


def test_device_data_is_thirty_days_raw_and_the_rest_as_sums(bo):
    everything = make_account("Di", PASSWORD)
    into(everything, specimen())
    series = Series.objects.filter(device__owner=everything).first()
    now = timezone.now()
    minute = 60_000
    start = int((now - timedelta(days=45)).timestamp() * 1000) // 300_000 * 300_000
    Reading.objects.bulk_create(
        Reading(series=series, at=start + k * 30 * minute, value=float(k % 7))
        for k in range(45 * 48)
    )
    Unsummed.objects.bulk_create(
        Unsummed(series=series, at=start + k * 30 * minute) for k in range(45 * 48)
    )
    out = out_of(everything)
    into(bo, out)
    raw = Reading.objects.filter(series__device__owner=bo).count()
    assert 29.9 * 48 < raw < 30.1 * 48 + 2
    here, there = (
        list(
            FiveMinutes.objects.filter(series__device__owner=who)
            .order_by("at")
            .values_list("at", "n", "low", "high", "total")
        )
        for who in (everything, bo)
    )
    assert there == here
    assert len(here) >= 45 * 48


# over the API


def send(grower, content, key, at=0):
    reply = grower.client.post(
        f"/api/archive/arriving/{key}?at={at}", content, content_type="application/zip"
    )
    return reply.status_code, reply.json()


def test_an_archive_goes_out_and_comes_in_piece_by_piece(grower, stranger, space, run):
    reply = grower.client.get("/api/archive")
    assert reply.status_code == 200
    assert reply["Cache-Control"] == "no-store"
    assert ".canopy.zip" in reply["Content-Disposition"]
    whole = b"".join(reply.streaming_content)
    key, half = uuid.uuid4(), len(whole) // 2
    assert send(stranger, whole[:half], key) == (200, {"bytes": half})
    # sent again it is kept once; a gap is told
    assert send(stranger, whole[:half], key) == (200, {"bytes": half})
    status, problem = send(stranger, whole[half:], key, at=half + 1)
    assert status == 422
    assert str(half) in problem["detail"]
    assert send(stranger, whole[half:], key, at=half) == (200, {"bytes": len(whole)})
    # what has arrived is nobody else's
    bring = f"archive/arriving/{key}/bring"
    assert grower("post", bring)[0] == 422
    status, told = stranger("post", bring)
    assert status == 200
    assert not told["done"]
    assert told["new"]["runs"] == 1
    assert stranger("get", "runs")[1] == []
    status, told = stranger("post", f"{bring}?really=true")
    assert status == 200
    assert told["done"]
    assert [row["space_id"] for row in stranger("get", "runs")[1]]
    # then it is gone from the disk, and what a stop left half written after a day
    assert stranger("post", bring)[0] == 422
    assert not list(settings.DATA.glob("arriving/*/*"))
    left = settings.DATA / "archive-x.part"
    left.touch()
    os.utime(left, (0, 0))
    grower.client.get("/api/archive").close()
    assert not list(settings.DATA.glob("archive-*"))


def test_what_is_no_archive_and_what_is_too_much_are_refused(grower, monkeypatch):
    key = uuid.uuid4()
    send(grower, b"no archive", key)
    status, problem = grower("post", f"archive/arriving/{key}/bring?really=true")
    assert status == 422
    assert ".canopy.zip" in problem["detail"]
    assert send(grower, b"x" * (8 * 1024**2 + 1), key)[0] == 413
    monkeypatch.setattr(arriving, "MOST_ARCHIVE", 12)
    assert send(grower, b"more", key, at=10)[0] == 422
    monkeypatch.setattr(arriving, "LEFT_FREE", 10**18)
    assert "disk" in send(grower, b"x", uuid.uuid4())[1]["detail"]


def test_one_archive_at_a_time(grower, monkeypatch):
    monkeypatch.setattr(services, "WAIT_S", 0.01)
    services.ONE_AT_A_TIME.acquire()
    try:
        status, _ = grower("get", "archive")
        assert status == 503
        key = uuid.uuid4()
        send(grower, b"x", key)
        assert grower("post", f"archive/arriving/{key}/bring")[0] == 503
    finally:
        services.ONE_AT_A_TIME.release()
    assert grower.client.get("/api/archive").status_code == 200


NAMES = st.text(
    st.characters(codec="utf-8", exclude_categories=["Cc", "Cs"]), min_size=1, max_size=80
).filter(lambda name: name.strip())
MOMENTS = st.datetimes(datetime(2026, 1, 1), datetime(2026, 11, 1), timezones=st.just(UTC))
ENTRIES = st.one_of(
    st.tuples(st.just("tops"), st.fixed_dictionaries({"tops_cm": st.floats(0, 500)})),
    st.tuples(
        st.just("setting"),
        st.fixed_dictionaries({"dial_pct": st.floats(0, 100), "hours": st.floats(0, 24)}),
    ),
    st.tuples(
        st.just("cleaned"),
        st.fixed_dictionaries({"what": st.sampled_from(["lamp", "lining", "both"])}),
    ),
    st.tuples(st.just("note"), st.just({})),
)


class RoundTrip(TestCase):
    @hypothesis_settings(max_examples=4, deadline=None, suppress_health_check=list(HealthCheck))
    @given(
        st.lists(st.tuples(ENTRIES, MOMENTS, NAMES), max_size=30),
        st.lists(st.tuples(NAMES, st.floats(20, 400)), min_size=1, max_size=3),
        st.lists(st.tuples(st.integers(0, 10**9), st.floats(-1e6, 1e6)), max_size=60),
        st.integers(0, 2**32),
    )
    def test_whatever_is_kept_comes_back(self, entries, spaces, readings, seed):
        with override_settings(DATA=Path(settings.DATA)):
            ada = make_account(f"Ada {seed} {uuid.uuid4()}", None)
            into(ada, specimen())
            run = Run.objects.of(ada).filter(begun_on__isnull=False).first()
            for (kind, values), at, text in entries:
                Entry.objects.create(
                    owner=ada,
                    run=run,
                    key=uuid.uuid4(),
                    kind=kind,
                    at=at,
                    values=values,
                    text=text.strip(),
                )
            for row, (name, width) in zip(Space.objects.of(ada).filter(rack=None), spaces):
                row.name, row.width_cm, row.stands, row.plots = name, width, [], []
                row.version += 1
                row.save()
            series = Series.objects.filter(device__owner=ada).first()
            now = int(timezone.now().timestamp() * 1000)
            for back, value in dict(readings).items():
                Reading.objects.get_or_create(
                    series=series, at=now - back, defaults={"value": value}
                )
            out = out_of(ada)
            other = make_account(f"Bo {seed} {uuid.uuid4()}", None)
            told = into(other, out)
            assert told.ignored == []
            assert plain(out_of(other)) == plain(out)
