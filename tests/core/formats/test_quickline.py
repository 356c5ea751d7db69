"""The quick line: what is typed at the tent, and that nothing is guessed."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.formats.quickline import LIMITS, MOST_NOTE, Understood, Unread, read_line
from canopy.words import worded


def understood(line, **more):
    return [(each.kind, each.values) for each in read_line(line, **more)]


def test_the_line_of_the_trade():
    assert understood("h 24; dial 55; tips bleached back left") == [
        ("setting", {"height_cm": 24, "dial_pct": 55}),
        ("symptom", {"what": "bleached", "part": "tips", "where": "back left"}),
    ]


@pytest.mark.parametrize(
    ("piece", "kind", "values"),
    [
        ("height 45 cm", "setting", {"height_cm": 45}),
        ("h: 18 in", "setting", {"height_cm": pytest.approx(45.72)}),
        ("hang 450mm above the tops", "setting", {"height_cm": 45}),
        ("d 60%", "setting", {"dial_pct": 60}),
        ("12 h", "setting", {"hours": 12}),
        ("on 12,5", "setting", {"hours": 12.5}),
        ("on 6:00-18:30", "setting", {"on_minute": 360, "hours": 12.5}),
        ("on 20:00 to 8:00", "setting", {"on_minute": 1200, "hours": 12}),
        ("tops 31", "tops", {"tops_cm": 31}),
        ("t 31 back left", "tops", {"tops_cm": 31, "where": "back left"}),
        ("120 W", "watts", {"watts": 120}),
        ("watts 118.5", "watts", {"watts": 118.5}),
        ("air 24", "temperature", {"celsius": 24, "where": "air"}),
        ("77 F", "temperature", {"celsius": pytest.approx(25)}),
        ("temp -3 C", "temperature", {"celsius": -3}),
        ("leaf 26.5 °C", "temperature", {"celsius": 26.5, "where": "leaf"}),
        ("cut 22:10-22:27", "outage", {"minutes": 17, "from_minute": 1330}),
        ("power cut 23:50-0:20", "outage", {"minutes": 30, "from_minute": 1430}),
        ("outage 2h30", "outage", {"minutes": 150}),
        ("no power 40 min", "outage", {"minutes": 40}),
        ("3 dead diodes", "dead", {"count": 3}),
        ("dead 12", "dead", {"count": 12}),
        ("watered 2 l, run-off clear", "water", {}),
        ("new lining on the left", "cover", {}),
        ("wiped the lamp", "cleaned", {"what": "lamp"}),
        ("lining wiped down", "cleaned", {"what": "lining"}),
        ("cleaned lamp and walls", "cleaned", {"what": "both"}),
        ("cleaned the saucers", "note", {}),
        ("lower leaves yellow", "symptom", {"what": "yellow", "part": "lower leaves"}),
        ("seedlings leggy", "symptom", {"what": "stretched", "part": "seedlings"}),
        ("looks happy", "note", {}),
        # a letter alone has no figure to lose
        ("h", "note", {}),
        ("note: lamp 2 hums at 30", "note", {}),
    ],
)
def test_what_people_write(piece, kind, values):
    assert understood(piece) == [(kind, values)]


def test_figures_without_a_unit_are_the_growers_own():
    assert understood("h 18; tops 12", unit="in") == [
        ("setting", {"height_cm": pytest.approx(45.72)}),
        ("tops", {"tops_cm": pytest.approx(30.48)}),
    ]
    assert understood("air 77", degrees="F") == [
        ("temperature", {"celsius": pytest.approx(25), "where": "air"})
    ]


@pytest.mark.parametrize("piece", ["24", "at 18 or so", "dial 5x", "ph 6.2", "h 24 25", "12"])
def test_a_figure_nobody_can_place_is_asked_about(piece):
    (read,) = read_line(piece)
    assert isinstance(read, Unread)
    assert worded(read.why).startswith(f"“{piece}” was not understood.")


@pytest.mark.parametrize("piece", ["dial 155", "h 9000", "on 25 h", "watts 99999", "air 200 C"])
def test_a_figure_that_cannot_be_is_asked_about(piece):
    (read,) = read_line(piece)
    assert isinstance(read, Unread)
    assert "cannot be" in worded(read.why)


def test_what_stands_there_twice_is_not_chosen_for_one():
    first, second = read_line("h 24; h 28")
    assert first.values == {"height_cm": 24}
    assert isinstance(second, Unread)
    # tops of two spots are two
    assert [each.kind for each in read_line("t 30 left; t 33 right")] == ["tops", "tops"]


def test_a_line_too_long_is_kept_as_nothing():
    (read,) = read_line("x" * 501)
    assert isinstance(read, Unread)


@given(st.text(max_size=200), st.sampled_from(["cm", "in"]), st.sampled_from(["C", "F"]))
def test_nothing_is_made_up(line, unit, degrees):
    for read in read_line(line, unit, degrees):
        # every piece is of the line, as it was typed
        pieces = read.text.split("; ") if read.text else [""]
        assert all(piece in line for piece in pieces)
        if isinstance(read, Understood):
            assert len(read.text) <= max(MOST_NOTE, len(line))
            for name, value in read.values.items():
                if name in LIMITS:
                    assert LIMITS[name][0] <= value <= LIMITS[name][1]
            if read.kind == "note" and not read.text.lower().startswith("note"):
                # no figure is buried in a note that was not asked for
                asked = "note" in line.lower() or "nb" in line.lower()
                assert asked or not any(letter.isdecimal() for letter in read.text)


@pytest.mark.parametrize(
    ("line", "values"),
    [
        ("tips pale since 3 days", {"what": "pale", "part": "tips", "since_days": 3.0}),
        ("leaves yellow for 2 weeks", {"what": "yellow", "part": "leaves", "since_days": 14.0}),
        ("one plant wilted", {"what": "wilted", "many": "one"}),
        (
            "upper leaves curled on some plants under the lamp since 1 d",
            {
                "what": "curled",
                "part": "upper leaves",
                "where": "under the lamp",
                "many": "some",
                "since_days": 1.0,
            },
        ),
    ],
)
def test_a_look_says_on_how_many_and_since_when(line, values):
    (read,) = read_line(line)
    assert (read.kind, read.values) == ("symptom", values)


def test_a_look_that_cannot_be_is_handed_back():
    (read,) = read_line("tips pale since 900 days")
    assert isinstance(read, Unread)
