"""A walk is kept entry by entry, once and in order; daylight is taken off, tables come and go."""

import base64
import io
import random
import uuid
from datetime import UTC, datetime, timedelta

import pytest
from openpyxl import Workbook, load_workbook
from scipy.interpolate import RegularGridInterpolator

from canopy.formats.maptable import read_map_table
from server.readings.models import ENTRY_STATES, Walk, WalkEntry
from server.readings.schemas import WalkEntryIn
from tests.server.conftest import said
from tests.server.readings.test_fits import SPOTS, bench, read_of
from tests.server.sent import ASKED, MAP, WALK, entry

BEGUN = datetime(2026, 11, 20, 10, tzinfo=UTC)


@pytest.fixture
def walks(run):
    return f"readings/runs/{run['id']}/walks"


@pytest.fixture
def planned(grower, run):
    """What the plan has on the five spots with the lamp at 45 cm."""
    plan = bench(grower, run, 45.0)
    return [read_of(plan, x, y) for x, y in SPOTS]


def rows(light, **more):
    return [
        {"x_cm": x, "y_cm": y, "height_cm": 45, "reading": value, **more}
        for (x, y), value in zip(SPOTS, light)
    ]


def sent(*entries, **asked):
    return {"asked": ASKED | asked, "entries": list(entries)}


def test_states_are_the_schemas():
    states = WalkEntryIn.model_json_schema()["properties"]["state"]["enum"]
    assert tuple(states) == ENTRY_STATES


def test_what_is_sent_twice_is_kept_once_and_the_latest_of_a_spot_counts(grower, walks):
    one = f"{walks}/{uuid.uuid4()}"
    first = sent(entry(1), entry(2, 1, 300))
    assert grower("post", f"{one}/entries", first)[0] == 201
    # the answer was lost: all comes again, with more
    more = sent(entry(1), entry(2, 1, 300), entry(3, 1, 310), entry(4, 2, 250))
    status, row = grower("post", f"{one}/entries", more)
    assert (status, row["readings"], WalkEntry.objects.count()) == (201, 3, 4)
    assert (row["mean"], row["lowest"], row["highest"]) == (320, 250, 400)
    shown = grower("get", one)[1]
    assert [(s["number"], s["shown"]) for s in shown["spots"]] == [(0, 400), (1, 310), (2, 250)]
    back = entry(5, 2, None, state="taken_back")
    out = entry(6, 1, None, state="left_out")
    grower("post", f"{one}/entries", sent(back, out))
    shown = grower("get", one)[1]
    assert [(s["number"], s["state"]) for s in shown["spots"]] == [(0, "read"), (1, "left_out")]


def test_what_was_asked_once_is_kept_where_it_changes(grower, walks):
    one = f"{walks}/{uuid.uuid4()}"
    grower("post", f"{one}/entries", sent(entry(1), entry(2, 1)))
    grower("post", f"{one}/entries", sent(entry(3, 2)))
    grower("post", f"{one}/entries", sent(entry(4, 3), zero=3))
    kept = [each.asked is not None for each in WalkEntry.objects.all()]
    assert kept == [True, False, False, True]
    assert grower("get", one)[1]["asked"]["zero"] == 3
    # what the sensor shows in the dark is off in the list, not in what was read
    assert grower("get", walks)[1][0]["mean"] == 397
    assert grower("get", one)[1]["spots"][0]["shown"] == 400


def test_a_walk_in_daylight_is_listed_without_it(grower, walks):
    one = f"{walks}/{uuid.uuid4()}"
    pairs = [entry(k, k, 400 + 10 * k, unlit=50 + 10 * k) for k in range(3)]
    row = grower("post", f"{one}/entries", sent(*pairs, daylight="each"))[1]
    assert (row["mean"], row["lowest"], row["highest"]) == (350, 350, 350)
    # a look before and after, at dusk
    other = f"{walks}/{uuid.uuid4()}"

    def at(s):
        return (BEGUN + timedelta(seconds=s)).isoformat()

    dusk = [
        entry(10, 0, 100, at(0), state="daylight"),
        entry(11, 0, 400, at(50)),
        entry(12, 0, 60, at(100), state="daylight"),
    ]
    row = grower("post", f"{other}/entries", sent(*dusk, daylight="background"))[1]
    assert (row["readings"], row["mean"]) == (1, 320)


def test_walks_are_the_growers_own_and_of_their_space(grower, stranger, walks, run):
    key = uuid.uuid4()
    grower("post", f"{walks}/{key}/entries", WALK)
    assert stranger("get", walks)[0] == 404
    assert stranger("post", f"{walks}/{key}/entries", WALK)[0] == 404
    copy = grower("post", f"spaces/{run['space_id']}/copy", {"name": "Like it"})[1]
    other = grower(
        "post",
        "runs",
        {name: run[name] for name in ("fixture_id", "crop_id")} | {"space_id": copy["id"]},
    )[1]
    there = f"readings/runs/{other['id']}/walks"
    status, answer = grower("post", f"{there}/{key}/entries", sent(entry(9)))
    assert status == 422
    assert "of another space" in answer["detail"]
    assert grower("get", f"{there}/{key}")[0] == 404
    assert grower("get", there)[1] == []


def test_a_walk_is_put_away_and_comes_back(grower, walks):
    key = uuid.uuid4()
    row = grower("post", f"{walks}/{key}/entries", WALK)[1]
    status, away = grower("put", f"{walks}/{key}/aside", {"removed": True})
    assert (status, away["removed"]) == (200, True)
    assert away["version"] > row["version"]
    assert grower("put", f"{walks}/{key}/aside", {"removed": False})[1]["removed"] is False


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"shown": -1}, "shown"),
        ({"shown": 1e9}, "shown"),
        ({"height_cm": 0}, "height_cm"),
        ({"state": "maybe"}, "state"),
        ({"number": 10_000}, "number"),
        ({"at": "yesterday"}, "at"),
        ({"more": 1}, "more"),
    ],
)
def test_an_entry_that_cannot_be_is_refused_and_nothing_is_kept(grower, walks, change, field):
    status, answer = grower(
        "post", f"{walks}/{uuid.uuid4()}/entries", sent(entry(1), entry(2) | change)
    )
    assert status == 422
    assert field in answer["errors"][0]["field"]
    assert Walk.objects.count() == 0


def test_a_reading_without_a_figure_is_refused(grower, walks):
    status, answer = grower("post", f"{walks}/{uuid.uuid4()}/entries", sent(entry(1, shown=None)))
    assert status == 422
    assert "figure" in answer["detail"]
    assert Walk.objects.count() == 0


def test_planning_by_a_walk_is_noted_on_it(grower, run, walks, planned):
    key = str(uuid.uuid4())
    grower("post", f"{walks}/{key}/entries", WALK)
    fit = grower("post", f"readings/runs/{run['id']}/fits", {"rows": rows(planned), "walk": key})
    assert fit[0] == 201
    assert grower("get", f"{walks}/{key}")[1]["fit_id"] == fit[1]["id"]
    unknown = {"rows": rows(planned), "walk": str(uuid.uuid4())}
    assert grower("post", f"readings/runs/{run['id']}/fits", unknown)[0] == 404


def test_readings_in_daylight_say_what_they_say_in_the_dark(grower, run, planned):
    path = f"readings/runs/{run['id']}/fits/try"
    dark = grower("post", path, {"rows": rows(planned)})[1]["mean"]["true"]
    lit = [row | {"reading": row["reading"] + 120, "unlit": 120} for row in rows(planned)]
    pairs = grower("post", path, {"rows": lit})[1]
    assert pairs["mean"]["true"] == pytest.approx(dark, rel=1e-6)
    looks = [{"at_s": -10, "shown": 120}, {"at_s": 90, "shown": 120}]
    again = [row | {"unlit": None} for row in lit]
    once = grower("post", path, {"rows": again, "backgrounds": looks})[1]
    assert once["mean"]["true"] == pytest.approx(dark, rel=1e-6)
    assert once["notes"] == []
    # the sensor's zero is taken off too, and falls out of pairs
    zero = [row | {"reading": row["reading"] + 10} for row in rows(planned)]
    assert grower("post", path, {"rows": zero, "zero": 10})[1]["mean"]["true"] == pytest.approx(
        dark, rel=1e-6
    )
    # clouds are told, and widen what is known
    looks[1]["shown"] = 320
    cloudy = grower("post", path, {"rows": again, "backgrounds": looks})[1]
    assert "Clouds: daylight moved by 200" in said(cloudy["notes"])[0]

    def wide(found, name):
        return (found[name]["true"]["high"] - found[name]["true"]["low"]) / found[name]["true"][
            "middle"
        ]

    assert wide(cloudy, "dimmest") > 1.3 * wide(once, "dimmest")
    status, refused = grower("post", path, {"rows": [*lit[:2], *again[2:]]})
    assert status == 422
    assert "Reading 3 has no daylight to take off" in refused["detail"]


def test_one_bright_half_is_told_with_its_size_its_causes_and_what_would_tell(grower, run):
    plan = bench(grower, run, 45.0)
    nine = [(x, y) for y in (8, 45, 82) for x in (8, 60, 112)]
    body = {
        "rows": [
            {"x_cm": x, "y_cm": y, "height_cm": 45, "reading": read_of(plan, x, y) * share}
            for x, y in nine
            for share in [0.72 if x == 112 else 0.95 if x == 60 else 1.0]
        ]
    }
    found = grower("post", f"readings/runs/{run['id']}/fits/try", body)[1]
    lines = said(found["leans"])
    assert lines[0].startswith("The left half gets ")
    assert lines[-1] == "Four readings at the middles of the walls, or a tape measure, would tell."
    assert any("right side were open" in line or "right gave none" in line for line in lines)
    ppfd = found["ppfd"]
    half = len(ppfd[0]) // 2
    left = sum(sum(row[:half]) for row in ppfd) / sum(sum(row[-half:]) for row in ppfd)
    # by the area each point stands for, and so not quite the points' own mean
    assert found["leans"][0]["figures"]["share"] == pytest.approx(left - 1, abs=0.02)
    even = {"rows": rows([read_of(plan, x, y) for x, y in SPOTS])}
    assert grower("post", f"readings/runs/{run['id']}/fits/try", even)[1]["leans"] == []


def test_watts_that_were_read_make_the_efficacy(grower, run, planned):
    path = f"readings/runs/{run['id']}/fits/try"
    walked = grower("post", path, {"rows": rows(planned), "watts": 200})[1]["walked"]
    assert walked["efficacy"] == pytest.approx(walked["canopy_umol_s"] / 200)


def test_readings_beside_the_plan_and_the_makers_map(grower, run, planned):
    path = f"readings/runs/{run['id']}/fits/compare"
    # what the plan has in the plane that is read in, below the tops
    shown = grower("post", f"readings/runs/{run['id']}/fits/try", {"rows": rows(planned)})[1]
    grid = shown["y_cm"], shown["x_cm"]
    plane = RegularGridInterpolator(grid, shown["planned"], "cubic", False, None)
    planned = [float(plane((y, x))) for x, y in SPOTS]
    body = {"rows": rows([0.9 * light for light in planned])}
    status, found = grower("post", path, body)
    assert (status, found["maker"], len(found["against"])) == (200, None, 1)
    plan = found["against"][0]
    assert plan["mean_ratio"] == pytest.approx(0.9, abs=0.01)
    assert plan["ratio"] == pytest.approx([0.9] * 5, abs=0.015)
    assert plan["low"] < plan["mean_ratio"] < plan["high"]
    lines = ["x_cm,y_cm,height_cm,ppfd"] + [
        f"{x},{y},45,{light:.3f}" for (x, y), light in zip(SPOTS, planned)
    ]
    maps = f"fixtures/{run['fixture_id']}/maps"
    theirs = MAP | {"origin": "maker", "name": "Theirs", "text": "\n".join(lines), "height_cm": 200}
    theirs |= {"width_cm": 120, "depth_cm": 90, "lining": "silver"}
    assert grower("post", maps, theirs)[0] == 201
    found = grower("post", path, body)[1]
    maker = next(each for each in found["against"] if each["against"] == "maker")
    assert (found["maker"], maker["mean_ratio"]) == ("Theirs", pytest.approx(0.9, abs=0.02))
    assert maker["ratio"] == pytest.approx([0.9] * 5, abs=0.03)


def test_a_watt_meter_alone(grower, run):
    path = f"readings/runs/{run['id']}/watts"
    body = {"stage_id": run["stage_id"], "height_cm": 45, "dial_pct": 60}
    plan = bench(grower, run, 45, 60)["outcome"]
    status, found = grower("post", path, body | {"watts": plan["watts"]})
    assert status == 200
    assert said([found["line"]])[0].endswith("as far as watts can tell.")
    assert found["mean"] == pytest.approx(plan["mean"])
    half = grower("post", path, body | {"watts": plan["watts"] / 2})[1]
    assert half["low"] < half["mean"] < half["high"]
    # dimmed lamps give a little more light than watts
    assert 0.5 * plan["mean"] < half["mean"] < 0.6 * plan["mean"]
    assert len(half["stages"]) == 3
    status, refused = grower("post", path, body | {"watts": 2000})
    assert status == 422
    assert "more than twice" in refused["detail"]


def test_what_is_expected_follows_the_dial(grower, run):
    spot = {"x_cm": 60, "y_cm": 45, "height_cm": 45}
    body = {"spots": [spot | {"dial_pct": dial} for dial in (100, 50)]}
    status, (full, half) = grower("post", f"readings/runs/{run['id']}/fits/expect", body)
    assert status == 200
    ratio = (
        bench(grower, run, 45, 50)["outcome"]["mean"] / bench(grower, run, 45)["outcome"]["mean"]
    )
    assert half["middle"] / full["middle"] == pytest.approx(ratio, rel=0.01)
    assert 0.3 < half["middle"] / full["middle"] < 0.7
    # another dial than was read adds its own doubt
    read = {"rows": [spot | {"dial_pct": 100, "reading": full["middle"]}]}
    _, (full, half) = grower("post", f"readings/runs/{run['id']}/fits/expect", body | read)
    assert half["high"] / half["middle"] > full["high"] / full["middle"]


def test_the_dials_steps_are_told(grower, run):
    assert grower("get", f"readings/runs/{run['id']}/fits")[1]["dials"][0] == 100


def test_a_table_is_read_and_its_bad_cells_are_mended(grower, walks):
    text = "x_in;y_in;height_in;ppfd\n4;4;18;2O0\n20;16;18;330,5\n40;x;18;210\n"
    status, read = grower("post", f"{walks}/table", {"text": text})
    assert status == 200
    assert [(b["line"], b["place"], b["column"], b["text"]) for b in read["bad"]] == [
        (2, 4, "ppfd_umol_m2_s", "2O0"),
        (4, 2, "y_cm", "x"),
    ]
    assert [(r["x_cm"], r["ppfd"]) for r in read["readings"]] == [(50.8, 330.5)]
    mended = [{"line": 2, "place": 4, "text": "200"}, {"line": 4, "place": 2, "text": "30"}]
    read = grower("post", f"{walks}/table", {"text": text, "mended": mended})[1]
    assert read["bad"] == []
    assert [r["ppfd"] for r in read["readings"]] == [200, 330.5, 210]
    # a matrix too
    matrix = "# height_cm: 40\ny\\x\t20\t60\t100\n20\t200\tn/a\t210\n70\t220\t330\t230\n"
    read = grower("post", f"{walks}/table", {"text": matrix})[1]
    assert [(b["line"], b["place"], b["text"]) for b in read["bad"]] == [(3, 3, "n/a")]
    assert len(read["readings"]) == 5


def test_figures_alone_are_the_tents_own_cells(grower, walks):
    body = {"text": "250\t300\t255\n260\t340\t265\n", "height_cm": 45}
    read = grower("post", f"{walks}/table", body)[1]
    assert [(r["x_cm"], r["y_cm"], r["ppfd"]) for r in read["readings"]][:2] == [
        (20, 67.5, 250),
        (60, 67.5, 300),
    ]
    assert read["notes"] == ["Read as 3 × 2 equal cells of this tent, the first row at the back."]
    assert grower("post", f"{walks}/table", body | {"height_cm": None})[0] == 422


@pytest.mark.parametrize(
    ("body", "sentence"),
    [
        ({"text": ""}, "Paste a table"),
        ({"text": "x_cm,y_cm,height_cm,ppfd\n300,10,40,200\n"}, "outside this tent"),
        ({"content": base64.b64encode(b"\xff\xfe\x00").decode()}, "neither CSV"),
        ({"content": "no base64!"}, "neither CSV"),
        ({"content": base64.b64encode(b"PK\x03\x04 no workbook").decode()}, "no XLSX workbook"),
        ({"text": "place,light\nhere,3\n"}, "the header has no x_cm"),
        (
            {"text": "x_cm,y_cm,height_cm,ppfd\n" + "60,45,40,300\n" * 401},
            "401 readings are in it",
        ),
        ({"text": "x_cm,y_cm,height_cm,ppfd\n" + "a,b,c,d\n" * 60}, "is not a number"),
    ],
)
def test_a_table_that_cannot_be_read_says_what_to_do(grower, walks, body, sentence):
    status, refused = grower("post", f"{walks}/table", body)
    assert status == 422
    assert sentence in refused["detail"]


@pytest.mark.parametrize("kind", ["csv", "xlsx"])
def test_a_walk_is_taken_along_and_comes_back(grower, walks, kind):
    key = uuid.uuid4()
    body = sent(entry(1), entry(2, 1, 305.25), watts=150)
    grower("post", f"{walks}/{key}/entries", body)
    status, file = grower("get", f"{walks}/{key}/table?kind={kind}")
    assert (status, file["name"].endswith(kind)) == (200, True)
    content = base64.b64decode(file["content"])
    if kind == "csv":
        readings = read_map_table(content.decode()).readings
        assert [(r.ppfd_umol_m2_s, r.watts) for r in readings] == [(400, 150), (305.25, 150)]
    else:
        sheet = load_workbook(io.BytesIO(content)).active
        assert [cell.value for cell in sheet[2]][:3] == ["x_cm", "y_cm", "height_cm"]
    read = grower("post", f"{walks}/table", {"content": file["content"]})[1]
    assert [(r["x_cm"], r["ppfd"], r["dial_pct"]) for r in read["readings"]] == [
        (20, 400, 70),
        (30, 305.25, 70),
    ]


def test_a_walk_without_readings_has_no_file(grower, walks):
    key = uuid.uuid4()
    grower("post", f"{walks}/{key}/entries", sent(entry(1, shown=None, state="left_out")))
    status, refused = grower("get", f"{walks}/{key}/table")
    assert (status, refused["detail"]) == (422, "Nothing was read on this walk yet.")


def test_a_workbook_as_a_spreadsheet_writes_it(grower, walks):
    book = Workbook()
    sheet = book.active
    for row in (["Measured on Sunday"], ["x", "y", "height", "ppfd", "who"], [10, 10.5, 40, 200]):
        sheet.append(row)
    sheet["A1"] = "# Measured: on Sunday"
    out = io.BytesIO()
    book.save(out)
    content = base64.b64encode(out.getvalue()).decode()
    status, read = grower("post", f"{walks}/table", {"content": content})
    assert (status, len(read["readings"])) == (200, 1)
    assert read["readings"][0]["y_cm"] == 10.5


@pytest.mark.parametrize("seed", range(12))
def test_however_it_is_sent_a_walk_comes_out_as_it_was_walked(grower, walks, seed):
    chance = random.Random(seed)
    done, stands = [], {}
    for key in range(chance.randint(1, 14)):
        number, state = chance.randrange(4), chance.choice(["read", "read", *ENTRY_STATES[1:3]])
        shown = chance.randint(100, 900) if state == "read" else None
        done.append(entry(key, number, shown, state=state))
        stands[number] = (state, shown)
    one = f"{walks}/{uuid.uuid4()}"
    at = 0
    while at < len(done):
        # an answer may be lost: what was sent comes again with what came since
        begin, at = max(at - chance.randrange(3), 0), at + chance.randint(1, 4)
        assert grower("post", f"{one}/entries", sent(*done[begin:at]))[0] == 201
    expected = {n: each for n, each in stands.items() if each[0] != "taken_back"}
    found = {s["number"]: (s["state"], s["shown"]) for s in grower("get", one)[1]["spots"]}
    assert found == expected
