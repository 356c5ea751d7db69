"""A run's log: typed or tapped, kept once, edited without losing what stood, and what tops say."""

import base64
import uuid
from datetime import timedelta
from io import BytesIO
from itertools import pairwise

import pytest
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook

from canopy.formats.quickline import read_line
from server.logbook.models import ENTRY_KINDS, Entry
from server.logbook.schemas import EntryIn
from server.runs.demo import BOX_ROOM
from tests.server.conftest import said

NOW = timezone.now()


@pytest.fixture
def begun(grower, run):
    """A run that began thirty days ago."""
    on = (timezone.localdate() - timedelta(days=30)).isoformat()
    status, made = grower("put", f"runs/{run['id']}/begin", {"on": on})
    assert status == 200, made
    return made


@pytest.fixture
def log(begun):
    return f"logbook/runs/{begun['id']}"


def entry(kind="note", text="looks happy", days=0, key=None, **more):
    at = (timezone.now() - timedelta(days=days)).isoformat()
    values = more.pop("values", {})
    return {
        "key": str(key or uuid.uuid4()),
        "kind": kind,
        "at": at,
        "text": text,
        "values": values,
        **more,
    }


def shown(grower, log):
    return grower("get", f"{log}/entries")[1]["entries"]


def test_kinds_are_the_schemas():
    assert tuple(EntryIn.model_json_schema()["properties"]["kind"]["enum"]) == ENTRY_KINDS


def test_a_line_is_shown_and_then_kept_as_it_was_shown(grower, log):
    status, pieces = grower("post", "logbook/line", {"line": "h 24; dial 55; tips bleached"})
    assert status == 200
    assert [(p["kind"], p["values"]) for p in pieces] == [
        ("setting", {"height_cm": 24, "dial_pct": 55}),
        ("symptom", {"what": "bleached", "part": "tips"}),
    ]
    assert Entry.objects.count() == 0
    body = {"entries": [entry(p["kind"], p["text"], values=p["values"]) for p in pieces]}
    assert grower("post", f"{log}/entries", body)[0] == 201
    kept = shown(grower, log)
    assert {(e["kind"], e["text"]) for e in kept} == {
        ("setting", "h 24; dial 55"),
        ("symptom", "tips bleached"),
    }
    # sent again, as where the answer was lost, it is kept once
    assert grower("post", f"{log}/entries", body)[0] == 201
    assert len(shown(grower, log)) == 2


@pytest.mark.django_db
@settings(max_examples=25, deadline=None)
@given(line=st.text("hdial t0123456789;.cmwoff-:note bleached", max_size=60))
def test_whatever_a_preview_shows_can_be_kept(line):
    for read in read_line(line):
        if hasattr(read, "kind"):
            body = entry(read.kind, read.text, values=dict(read.values))
            assert EntryIn.model_validate(body).kind == read.kind


def test_inches_and_fahrenheit_are_the_growers_own(grower, log):
    grower("put", "accounts/preferences", {"length_unit": "in"})
    pieces = grower("post", "logbook/line", {"line": "h 18; air 77"})[1]
    assert pieces[0]["values"]["height_cm"] == pytest.approx(45.72)
    assert pieces[1]["values"]["celsius"] == pytest.approx(25)
    unread = grower("post", "logbook/line", {"line": "24"})[1]
    assert unread[0]["kind"] is None
    assert "was not understood" in said([unread[0]["why"]])[0]


def test_an_edit_keeps_what_stood_and_a_deletion_is_undone(grower, log):
    first = entry("watts", "watts 120", values={"watts": 120})
    grower("post", f"{log}/entries", {"entries": [first]})
    second = entry("watts", "watts 112", values={"watts": 112}, replaces=first["key"])
    grower("post", f"{log}/entries", {"entries": [second]})
    (kept,) = shown(grower, log)
    assert (kept["values"], kept["edited"]) == ({"watts": 112}, True)
    assert Entry.objects.count() == 2
    # an edit of what was edited meanwhile stands on that
    third = entry("watts", "watts 111", values={"watts": 111}, replaces=first["key"])
    grower("post", f"{log}/entries", {"entries": [third]})
    assert [e["values"] for e in shown(grower, log)] == [{"watts": 111}]
    gone = entry("watts", "watts 111", values={"watts": 111}, replaces=third["key"], gone=True)
    grower("post", f"{log}/entries", {"entries": [gone]})
    assert shown(grower, log) == []
    (away,) = grower("get", f"{log}/entries/gone")[1]
    assert away["key"] == gone["key"]
    back = entry("watts", "watts 111", values={"watts": 111}, replaces=gone["key"])
    grower("post", f"{log}/entries", {"entries": [back]})
    assert [e["values"] for e in shown(grower, log)] == [{"watts": 111}]
    assert grower("get", f"{log}/entries/gone")[1] == []
    assert Entry.objects.count() == 5


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"kind": "tops", "values": {}}, "tops_cm"),
        ({"kind": "setting", "values": {"watts": 3}}, "height_cm or dial_pct or hours"),
        ({"text": " "}, "says something"),
        ({"kind": "tops", "values": {"tops_cm": 900}}, "500"),
        ({"values": {"mood": 3}}, "mood"),
        ({"replaces": str(uuid.uuid4())}, "not in the log"),
    ],
)
def test_what_says_nothing_or_cannot_be_is_refused(grower, log, change, words):
    status, refused = grower("post", f"{log}/entries", {"entries": [entry() | change]})
    assert status == 422
    assert words in str(refused)
    assert Entry.objects.count() == 0


def test_nothing_of_a_batch_is_kept_where_one_is_refused(grower, log):
    late = entry(days=-2)
    status, refused = grower("post", f"{log}/entries", {"entries": [entry(), late]})
    assert (status, refused["detail"]) == (
        422,
        "That moment is still to come; keep it when it has come.",
    )
    early = entry(days=40)
    status, refused = grower("post", f"{log}/entries", {"entries": [entry(), early]})
    assert "before the run began" in refused["detail"]
    assert Entry.objects.count() == 0


def test_a_plan_has_no_log_before_it_begins(grower, run):
    path = f"logbook/runs/{run['id']}/entries"
    status, refused = grower("post", path, {"entries": [entry()]})
    assert (status, "has not begun" in refused["detail"]) == (422, True)
    assert grower("get", path) == (200, {"entries": [], "more": False})


def test_the_newest_comes_first_and_the_rest_is_told(grower, log):
    body = {"entries": [entry(text=f"day {k}", days=k) for k in (3, 1, 2)]}
    grower("post", f"{log}/entries", body)
    found = grower("get", f"{log}/entries?most=2")[1]
    assert [e["text"] for e in found["entries"]] == ["day 1", "day 2"]
    assert found["more"] is True


def test_another_growers_log_is_not_there_and_keys_are_ones_own(grower, stranger, log, run):
    mine = entry()
    grower("post", f"{log}/entries", {"entries": [mine]})
    assert stranger("get", f"{log}/entries")[0] == 404
    assert stranger("post", f"{log}/entries", {"entries": [entry()]})[0] == 404
    # a key that somebody else has used before is free here
    space = stranger("post", "spaces", BOX_ROOM)[1]
    own = {
        "space_id": space["id"],
        "fixture_id": stranger.named("fixtures", "Wickerlight Six")["id"],
        "crop_id": stranger.named("crops", "Potted chrysanthemums")["id"],
    }
    theirs = stranger("post", "runs", own)[1]
    stranger("put", f"runs/{theirs['id']}/begin", {})
    there = f"logbook/runs/{theirs['id']}/entries"
    assert stranger("post", there, {"entries": [entry(key=mine["key"])]})[0] == 201
    assert len(shown(grower, log)) == 1
    # nor does one replace what is another's
    status, _ = stranger("post", there, {"entries": [entry(replaces=mine["key"])]})
    assert (status, len(shown(grower, log))) == (201, 1)
    assert shown(grower, log)[0]["edited"] is False


def test_tops_tell_when_the_lamp_is_reached(grower, log, begun):
    assert grower("get", f"{log}/tops") == (200, None)
    rows = [
        entry("tops", f"tops {20 + 1.0 * (12 - d)}", d, values={"tops_cm": 20 + 1.0 * (12 - d)})
        for d in (12, 9, 6, 3, 0)
    ]
    grower("post", f"{log}/entries", {"entries": rows})
    found = grower("get", f"{log}/tops")[1]
    assert found["rate_cm_d"] == pytest.approx(1.0, abs=0.1)
    assert (found["kind"], len(found["points"]), found["lamp_cm"]) == ("line", 5, None)
    assert "Keep the lamp's height" in said(found["lines"])[1]
    hung = entry("setting", "h 30", values={"height_cm": 30})
    grower("post", f"{log}/entries", {"entries": [hung]})
    found = grower("get", f"{log}/tops")[1]
    # 30 above tops at 32 is 62 above the floor; a centimetre a day nears it
    assert found["lamp_cm"] == pytest.approx(62, abs=1)
    reach = found["lines"][1]
    closest = reach["figures"]["closest_cm"]
    assert reach["code"] == "tops.reach"
    assert reach["figures"]["days"] == pytest.approx(30 - closest, abs=1.5)
    assert reach["figures"]["early"] <= reach["figures"]["days"] <= reach["figures"]["late"]
    near = entry("setting", "h 4", values={"height_cm": 4})
    grower("post", f"{log}/entries", {"entries": [near]})
    assert grower("get", f"{log}/tops")[1]["lines"][1]["code"] == "tops.near"


def test_a_height_set_at_the_bench_counts_like_one_in_the_log(grower, log, begun):
    grower("post", f"{log}/entries", {"entries": [entry("tops", values={"tops_cm": 30})]})
    body = {
        "stage_id": begun["stage_id"],
        "kind": "set",
        "windows": [{"on_minute": 360, "hours": 12}],
        "height_cm": 40,
        "dial_pct": 60,
    }
    assert grower("post", f"runs/{begun['id']}/settings", body)[0] == 201
    assert grower("get", f"{log}/tops")[1]["lamp_cm"] == pytest.approx(70, abs=0.5)


def lit(days, text="h 45; dial 60; 12 h", **values):
    return entry("setting", text, days, values=values)


def test_the_light_really_given_is_the_benchs_times_the_hours(grower, log, begun):
    assert grower("get", f"{log}/light") == (200, None)
    grower("post", f"{log}/entries", {"entries": [lit(10, height_cm=45, dial_pct=60)]})
    # how long it is on is not known yet
    assert grower("get", f"{log}/light") == (200, None)
    hours = lit(9, on_minute=0, hours=12)
    grower("post", f"{log}/entries", {"entries": [hours]})
    found = grower("get", f"{log}/light")[1]
    known = [day for day in found["days"] if day["known"]]
    assert len(known) == 9
    body = {"stage_id": begun["stage_id"], "height_cm": 45, "dial_pct": 60, "hours": 12}
    plan = grower("post", f"runs/{begun['id']}/bench", body)[1]["outcome"]
    # PPFD x hours x 0.0036 (exact)
    assert known[0]["dli"] == pytest.approx(plan["mean"] * 12 * 0.0036, rel=0.01)
    assert known[0]["low"] < known[0]["dli"] < known[0]["high"]
    assert found["line"]["code"].startswith("light.")
    assert found["line"]["figures"]["mean"] == pytest.approx(known[4]["dli"], rel=0.02)
    # tops that nobody measured rise as the plan has them, and the light with them
    assert known[-1]["tops_cm"] > known[0]["tops_cm"]
    assert [day["spans"] for day in known[:-1]] == [[[0, 720]]] * 8
    # half a day without power is half of its light
    cut = entry("outage", "", 5, values={"minutes": 360, "from_minute": 60})
    grower("post", f"{log}/entries", {"entries": [cut]})
    days = grower("get", f"{log}/light")[1]["days"]
    assert min(d["dli"] for d in days[-8:-1]) == pytest.approx(known[4]["dli"] / 2, rel=0.02)
    assert any(day["spans"] == [[0, 60], [420, 720]] for day in days)
    # turned down since, it gives less from then on
    grower("post", f"{log}/entries", {"entries": [lit(2, dial_pct=30)]})
    days = grower("get", f"{log}/light")[1]["days"]
    assert days[-2]["dli"] < 0.75 * known[0]["dli"]


@pytest.mark.parametrize("off", [{"hours": 0}, {"dial_pct": 0}])
def test_a_lamp_that_was_switched_off_gives_nothing_from_then_on(grower, log, off):
    on = lit(9, height_cm=45, dial_pct=60, hours=12, on_minute=0)
    grower("post", f"{log}/entries", {"entries": [on, lit(4, **off)]})
    days = grower("get", f"{log}/light")[1]["days"]
    assert days[-7]["dli"] > 5
    assert [day["dli"] for day in days[-3:]] == [0, 0, 0]
    # and its hours come back as they were
    again = lit(2, height_cm=45, dial_pct=60, hours=12)
    grower("post", f"{log}/entries", {"entries": [again]})
    days = grower("get", f"{log}/light")[1]["days"]
    assert days[-2]["dli"] == pytest.approx(days[-7]["dli"], rel=0.01)


def test_plants_that_grow_towards_the_lamp_get_more_by_the_day(grower, log):
    rows = [lit(20, height_cm=60, dial_pct=60, hours=12, on_minute=0)]
    rows += [entry("tops", "", d, values={"tops_cm": 40 - d}) for d in (20, 15, 10, 5, 0)]
    grower("post", f"{log}/entries", {"entries": rows})
    days = [d["dli"] for d in grower("get", f"{log}/light")[1]["days"] if d["known"]][:-1]
    assert all(after > before for before, after in pairwise(days))
    assert days[-1] > 1.05 * days[0]


def test_what_was_set_at_the_bench_is_given_too(grower, log, begun):
    body = {
        "stage_id": begun["stage_id"],
        "kind": "set",
        "holds_from": (timezone.now() - timedelta(days=4)).isoformat(),
        "windows": [{"on_minute": 0, "hours": 6}, {"on_minute": 720, "hours": 6}],
        "height_cm": 45,
        "dial_pct": 60,
    }
    assert grower("post", f"runs/{begun['id']}/settings", body)[0] == 201
    days = [d for d in grower("get", f"{log}/light")[1]["days"] if d["known"]]
    assert [d["lit_h"] for d in days[:-1]] == pytest.approx([12] * (len(days) - 1))


@pytest.mark.parametrize("kind", ["csv", "xlsx"])
def test_the_whole_log_is_given_out_as_a_table(grower, log, kind):
    rows = [entry(text="first", days=2), entry("tops", "", 1, values={"tops_cm": 31.5})]
    grower("post", f"{log}/entries", {"entries": rows})
    status, found = grower("get", f"{log}/entries/table?kind={kind}")
    assert (status, found["name"].endswith(kind)) == (200, True)
    content = base64.b64decode(found["content"])
    if kind == "csv":
        lines = content.decode().splitlines()
        assert [line.split(",")[3] for line in lines[1:]] == ["note", "tops"]
        assert lines[1].endswith(",first")
    else:
        sheet = load_workbook(BytesIO(content)).active
        assert [row[4].value for row in sheet.iter_rows(min_row=2)] == [None, 31.5]
