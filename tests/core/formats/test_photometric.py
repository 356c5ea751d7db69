"""Photometric files: one asymmetric lamp in both formats, and files that are not right."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.formats.eulumdat import read_eulumdat
from canopy.formats.lm63 import read_lm63, write_lm63
from canopy.formats.photometric import Photometry, ppf_umol_s
from canopy.light.beam import CandelaBeam
from canopy.light.sources import Board, PlacedLamp, PointSource
from canopy.light.transport import direct_irradiance

ANGLES = [0, 30, 60, 90]
# strong towards the tent's right (our C 0), weak to the left, between at front and back
PLANES = {0: [100, 90, 50, 0], 90: [100, 60, 20, 0], 180: [100, 30, 5, 0], 270: [100, 60, 20, 0]}


def lm63(
    planes=PLANES, turn=90, head="1 -1 1", tilt="TILT=NONE", kind=1, units="2", size="0.2 0.6 0"
):
    """A file with the given planes, counted in LM-63's way: from the length, our y."""
    rows = {(plane - turn) % 360: row for plane, row in planes.items()}
    rows[360] = rows[0]
    order = sorted(rows)
    lines = [
        "IESNA:LM-63-2002",
        "[LUMINAIRE] Slanted test lamp",
        tilt,
        f"{head} {len(ANGLES)} {len(order)} {kind} {units} {size}",
        "1 1 120",
        " ".join(map(str, ANGLES)),
        " ".join(map(str, order)),
    ]
    return "\n".join([*lines, *(" ".join(map(str, rows[p])) for p in order)])


def ldt(planes=PLANES, symmetry=0, count=4, lumens=1000, lamps=1, conversion=1, size=(600, 200)):
    """The same in EULUMDAT: planes from across the length, our x; one value a line."""
    head = [
        "Nobody",
        1,
        symmetry,
        count,
        360 / count,
        len(ANGLES),
        30,
        "r",
        "Slanted test lamp",
        "n",
        "f",
        "d",
        700,
        300,
        50,
        *size,
        0,
        0,
        0,
        0,
        100,
        100,
        conversion,
        0,
        1,
        lamps,
        "LED",
        lumens,
        "w",
        "90",
        120,
        *[0.5] * 10,
    ]
    every = [k * 360 / count for k in range(count)]
    rows = [v for row in planes.values() for v in row]
    return "\n".join(map(str, [*head, *every, *ANGLES, *rows]))


def floor(photometry):
    """Light on four spots right, back, left and front of a lamp in the middle."""
    lamp = PlacedLamp(photometry.layout(), 100, 50, 50, 40, beam=photometry.beam)
    spots = np.array([[80, 50, 0], [50, 80, 0], [20, 50, 0], [50, 20, 0]], dtype=float)
    return direct_irradiance(spots, lamp)


def test_one_lamp_in_both_formats_is_one_lamp():
    ies, eul = read_lm63(lm63()), read_eulumdat(ldt())
    assert (ies.width_cm, ies.length_cm) == (eul.width_cm, eul.length_cm) == (20, 60)
    assert ies.layout() == Board(20, 60)
    assert ies.watts == eul.watts == 120
    assert floor(ies) == pytest.approx(floor(eul))
    # without the opening's own shape the planes alone decide
    points = read_lm63(lm63(size="0 0 0")), read_eulumdat(ldt(size=(0, 0)))
    right, back, left, front = floor(points[0])
    assert floor(points[1]) == pytest.approx([right, back, left, front])
    assert right > back > left
    assert back == pytest.approx(front)


@pytest.mark.parametrize(
    ("symmetry", "count", "kept", "means"),
    [
        (1, 1, {0: [100, 60, 20, 0]}, {p: [100, 60, 20, 0] for p in (0, 90, 180, 270)}),
        # one half given, mirrored about C 0-180, about C 90-270, about both
        (2, 4, {0: PLANES[0], 90: PLANES[90], 180: PLANES[180]}, PLANES),
        (
            3,
            4,
            {270: PLANES[180], 0: PLANES[90], 90: PLANES[0]},
            {270: PLANES[180], 0: PLANES[90], 90: PLANES[0], 180: PLANES[90]},
        ),
        (
            4,
            4,
            {0: PLANES[0], 90: PLANES[90]},
            {0: PLANES[0], 90: PLANES[90], 180: PLANES[0], 270: PLANES[90]},
        ),
    ],
)
def test_symmetries_stand_for_the_whole_circle(symmetry, count, kept, means):
    short = read_eulumdat(ldt(kept, symmetry, count))
    whole = read_eulumdat(ldt({p: means[p] for p in (0, 90, 180, 270)}))
    assert floor(short) == pytest.approx(floor(whole), rel=1e-6)


def test_an_even_candela_table_has_its_closed_form_flux():
    # I = I0 cos(gamma): flux = pi I0; I = I0 everywhere below: flux = 2 pi I0
    angles = tuple(np.linspace(0, 90, 91))
    cosine = CandelaBeam(angles, (0.0,), (tuple(1000 * np.cos(np.radians(angles))),))
    even = CandelaBeam((0.0, 90.0), (0.0, 90.0, 180.0, 270.0), ((1000.0, 1000.0),) * 4)
    for beam, flux in ((cosine, np.pi * 1000), (even, 2 * np.pi * 1000)):
        lamp = Photometry(beam, 0, 0, None, None, "x")
        assert lamp.downward_flux() == pytest.approx(flux, rel=1e-4)
        assert lamp.layout() == PointSource()
        # by definition: lumens over lumens per umol, joules times umol per joule
        assert ppf_umol_s(lamp, "cd", 70) == pytest.approx(flux / 70, rel=1e-4)
        assert ppf_umol_s(lamp, "W/sr", 4.8) == pytest.approx(flux * 4.8, rel=1e-4)
        assert ppf_umol_s(lamp, "umol/s/sr", None) == pytest.approx(flux, rel=1e-4)
        with pytest.raises(CanopyError, match="lumens per umol"):
            ppf_umol_s(lamp, "cd", None)


def test_factors_multiply():
    plain = read_lm63(lm63()).downward_flux()
    assert read_lm63(lm63(head="1 -1 2.5")).downward_flux() == pytest.approx(2.5 * plain)
    relative = read_lm63(lm63(head="2 3000 1"))
    assert (relative.lamp_lumens, read_lm63(lm63()).lamp_lumens) == (6000, None)
    # EULUMDAT counts candela per 1000 lm of its lamps
    assert read_eulumdat(ldt(lumens=4000)).downward_flux() == pytest.approx(4 * plain)
    assert read_eulumdat(ldt(conversion=0.5)).downward_flux() == pytest.approx(plain / 2)
    assert read_eulumdat(ldt(lamps=-1)).lamp_lumens is None


def test_lengths_in_feet_round_openings_and_tilt_blocks():
    feet = read_lm63(lm63(units="1", size="1 2 0"))
    assert (feet.width_cm, feet.length_cm) == pytest.approx((30.48, 60.96))
    # a circle of 0.4 m has the area of a square of 35.4 cm
    round_one = read_lm63(lm63(size="-0.4 -0.4 0"))
    assert round_one.width_cm**2 == pytest.approx(np.pi * 20**2)
    tilted = read_lm63(lm63(tilt="TILT=INCLUDE\n1\n3\n0 45 90\n1 0.9 0.8"))
    assert floor(tilted) == pytest.approx(floor(read_lm63(lm63())))
    assert any("TILT" in note for note in tilted.notes)


values = st.lists(st.floats(0, 1e5), min_size=4, max_size=4)


@given(
    st.sampled_from([[0.0], [0.0, 90.0, 180.0, 270.0], [90.0, 180.0], [0.0, 120.0, 240.0]]),
    st.lists(values, min_size=4, max_size=4),
    st.floats(0, 100),
    st.floats(0, 1000),
)
def test_what_is_written_is_read_back(planes, rows, size, watts):
    rows[0][0] = 10.0
    beam = CandelaBeam(
        (0.0, 30.0, 60.0, 90.0), tuple(planes), tuple(map(tuple, rows[: len(planes)]))
    )
    lamp = Photometry(beam, size, 2 * size, watts or None, None, "Bench lamp")
    back = read_lm63(write_lm63(lamp))
    assert back.name == "Bench lamp"
    assert (back.watts, back.width_cm, back.length_cm) == pytest.approx(
        (lamp.watts, lamp.width_cm, lamp.length_cm)
    )
    assert np.allclose(back.beam.intensity(), lamp.beam.intensity(), atol=1e-9)
    assert read_lm63(write_lm63(back)) == back


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "Line 1: this is not an LM-63 file"),
        ("IESNA:LM-63-2002\n[TEST] x", "ends before the TILT line"),
        (lm63(tilt="TILT=other.tlt"), "Line 3: TILT names another file"),
        (lm63(kind=2), "Line 4: this is type B"),
        (lm63(head="1 -1 zero"), 'Line 4: the candela multiplier should be a number; it is "zero"'),
        (lm63().replace("100", "-1"), "Line 8: candela in plane 0"),
        (lm63().replace("0 30 60 90", "0 30 30 90"), "angles of a candela table rise"),
        (lm63().replace("0 30 60 90", "10 30 60 90"), "has to begin at 0"),
        ("\n".join(lm63().split("\n")[:-1]), "ends before candela in plane 360"),
        (lm63().replace("1 -1 1 4", "1 -1 1 4.5"), "Line 4: the number of vertical angles is 4.5"),
    ],
)
def test_malformed_lm63_names_the_line(text, words):
    with pytest.raises(CanopyError) as refused:
        read_lm63(text)
    assert words in refused.value.sentence


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("Nobody\n1", "ends before the symmetry"),
        (ldt(symmetry=7), "Line 3: the symmetry is 7"),
        (ldt().replace("\nr\n", "\nr\nmore\n", 1), "Line"),
        ("\n".join(ldt().split("\n")[:-2]), "ends before intensity in plane 270"),
        (ldt(lumens="many"), 'Line 29: the flux of set 1 should be a number; it is "many"'),
    ],
)
def test_malformed_eulumdat_names_the_line(text, words):
    with pytest.raises(CanopyError) as refused:
        read_eulumdat(text)
    assert words in refused.value.sentence
