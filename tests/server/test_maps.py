"""A grower's or a maker's map as what the plan takes the light from."""

import pytest

from server.fixtures.models import LightMap
from server.runs.demo import BOX_ROOM
from tests.server.conftest import said


def table(value=lambda x, y, h: 500.0, heights=(30, 50), more=""):
    lines = [more] if more else []
    lines.append("x_cm,y_cm,height_cm,ppfd_umol_m2_s")
    spots = [(x, y) for y in (15, 45, 75) for x in (20, 60, 100)]
    lines += [f"{x},{y},{h},{value(x, y, h):.3f}" for h in heights for x, y in spots]
    return "\n".join(lines) + "\n"


@pytest.fixture
def send(grower, run):
    def send(**more):
        body = {
            "name": "Walk",
            "text": table(),
            **{k: BOX_ROOM[k] for k in ("width_cm", "depth_cm", "height_cm", "lining")},
            **more,
        }
        return grower("post", f"fixtures/{run['fixture_id']}/maps", body)

    return send


def bench(grower, run, height):
    body = {"stage_id": run["stage_id"], "height_cm": height, "dial_pct": 100, "hours": 16}
    return grower("post", f"runs/{run['id']}/bench", body)[1]


def test_the_plan_uses_the_readings_and_says_how_sure(grower, run, send):
    before = bench(grower, run, 40)
    assert before["certainty"]["basis"] == "uncalibrated"
    status, lamp = send(text=table(lambda x, y, h: 700.0 if h == 30 else 500.0))
    assert (status, lamp["light_source"], lamp["light_map_id"]) == (
        201,
        "map",
        lamp["maps"][0]["id"],
    )
    assert [row["readings"] for row in lamp["maps"][0]["agreement"]] == [9, 9]
    # where it was read the map is flat, as the readings are: within the spots
    at = bench(grower, run, 30)
    middle = [row[len(row) // 2] for row in at["floor"]["ppfd"]]
    assert middle[len(middle) // 2] == pytest.approx(700, rel=0.01)
    # log-linear half way between 30 and 50: the root of 700 x 500
    half = bench(grower, run, 40)["floor"]["ppfd"]
    assert half[len(half) // 2][len(half[0]) // 2] == pytest.approx((700 * 500) ** 0.5, rel=0.01)
    sure = bench(grower, run, 40)["certainty"]
    assert (sure["basis"], sure["mean_tolerance"]) == ("readings", 0.05)
    assert bench(grower, run, 70)["certainty"]["basis"] == "rebased"
    # back to the lamp's own figures
    grower("put", f"fixtures/{lamp['id']}/light-source", {"light_source": "model"})
    assert bench(grower, run, 40)["outcome"] == before["outcome"]


@pytest.mark.parametrize(
    "more",
    [{"origin": "maker"}, {"width_cm": 150}, {"lining": "white-paint"}, {"lining_left": "open"}],
)
def test_readings_from_elsewhere_are_never_called_measured_here(grower, run, send, more):
    assert send(**more)[0] == 201
    assert bench(grower, run, 40)["certainty"]["basis"] == "rebased"


def test_readings_at_a_dial_are_brought_to_full_light(grower, run, send):
    plain = send()[1]["maps"][-1]["agreement"][0]["of_model"]
    lines = table().strip().split("\n")
    at_half = "\n".join([lines[0] + ",dial_pct", *(line + ",50" for line in lines[1:])]) + "\n"
    lamp = grower.named("fixtures", "Wickerlight Six")
    marks = {row["position_pct"]: row["light_fraction"] for row in lamp["dial_table"]}
    dimmed = send(text=at_half)[1]["maps"][-1]["agreement"][0]["of_model"]
    assert dimmed == pytest.approx(plain / marks[50])


def test_a_map_set_aside_is_no_longer_used_and_comes_back(grower, run, send):
    lamp = send()[1]
    path = f"fixtures/{lamp['id']}/maps/{lamp['maps'][0]['id']}"
    aside = grower("put", path, {"removed": True})[1]
    assert (aside["light_source"], aside["maps"][0]["removed"]) == ("model", True)
    use = {"light_source": "map", "map_id": lamp["maps"][0]["id"]}
    assert grower("put", f"fixtures/{lamp['id']}/light-source", use)[0] == 422
    assert grower("put", path, {"removed": False})[0] == 200
    assert grower("put", f"fixtures/{lamp['id']}/light-source", use)[1]["light_source"] == "map"
    # what is given out again reads the same
    text = grower("get", f"{path}/table")[1]["text"]
    again = send(text=text)[1]["maps"]
    assert again[-1]["agreement"] == again[0]["agreement"]


def test_what_a_map_gives_away_is_said(send):
    strong = said(send(text=table(lambda x, y, h: 3000.0))[1]["maps"][-1]["notes"])
    assert any("times the light this lamp is said to give" in note for note in strong)
    kept = send(text="x_in,y_in,height_in,ppfd\n23,18,16,400\n")[1]["maps"][-1]
    single = said(kept["notes"])
    assert any("inches" in note for note in single)
    assert any("short of the left and right" in note for note in single)
    assert any("one height only" in note for note in single)
    # notes kept by earlier versions were sentences
    LightMap.objects.filter(pk=kept["id"]).update(notes=["Read elsewhere."])
    lamp = send(text=table(lambda x, y, h: 300.0))[1]
    assert said(next(m for m in lamp["maps"] if m["id"] == kept["id"])["notes"]) == [
        "Read elsewhere."
    ]


@pytest.mark.parametrize(
    ("more", "field", "words"),
    [
        ({"text": "x_cm,y_cm,height_cm,ppfd\n10,10,40,lots\n"}, "text", "Line 2"),
        ({"text": "x_cm,y_cm,height_cm,ppfd\n130,10,40,5\n"}, "width_cm", "outside the 120 cm"),
        ({"text": "x_cm,y_cm,height_cm,ppfd\n10,10,190,5\n"}, "height_cm", "180 cm high"),
        ({"lamp_x_cm": 200}, "lamp_x_cm", "beyond the 120 cm"),
        ({"lining": "velvet"}, "lining", "from the list"),
        ({"text": "x,y,height,ppfd,dial_pct\n10,10,40,5,150\n"}, "text", "outside 0 to 100"),
    ],
)
def test_maps_that_cannot_be_used(grower, run, send, more, field, words):
    status, problem = send(**more)
    assert status == 422
    assert problem["errors"][0]["field"] == field
    assert words in problem["errors"][0]["sentence"]
    assert grower.named("fixtures", "Wickerlight Six")["maps"] == []
