"""Map tables as people write them."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.formats.maptable import MapReading, MapTable, read_map_table, write_map_table

PLAIN = """# lamp: Wickerlight
# date: 2026-11-02
x_cm,y_cm,height_cm,ppfd_umol_m2_s,dial_pct,watts,note
10,10,40,312.5,60,140,left corner
60,45,40,455,60,140,
"""
MATRIX = """# height_cm: 30
y\\x,10,50,90
10,200,300,200
50,300,400,300
# height_cm: 45
y\\x,10,50,90
10,180,250,180
"""


def rows(text, **more):
    return [
        (r.x_cm, r.y_cm, r.height_cm, r.ppfd_umol_m2_s)
        for r in read_map_table(text, **more).readings
    ]


def test_one_reading_a_line():
    table = read_map_table(PLAIN)
    assert table.readings[0] == MapReading(10, 10, 40, 312.5, 60, 140, "left corner")
    assert table.about == {"lamp": "Wickerlight", "date": "2026-11-02"}
    assert table.notes == ()


@pytest.mark.parametrize(
    ("text", "first", "said"),
    [
        ("x_in,y_in,height_in,ppfd\n10,20,18,300\n", (25.4, 50.8, 45.72, 300), "inches"),
        ("# unit: in\nx,y,height,ppfd\n10,20,18,300\n", (25.4, 50.8, 45.72, 300), "inches"),
        ("x_cm;y_cm;height_cm;ppfd\n10,5;20;45;300,25\n", (10.5, 20, 45, 300.25), "comma"),
        ('x_cm,y_cm,height_cm,ppfd\n"10,5",20,45,300\n', (10.5, 20, 45, 300), "comma"),
        ("\ufeffX_CM\ty_cm\theight_cm\tppfd\n1\t2\t45\t300\n", (1, 2, 45, 300), ""),
        ("# height_in: 18\nx_cm,y_cm,ppfd\n1,2,300\n", (1, 2, 45.72, 300), ""),
        ("x_cm,y_cm,height_cm,ppfd,colour\n1,2,45,300,red\n", (1, 2, 45, 300), 'Column "colour"'),
        ("# unit: in\n# height_in: 18\ny\\x,10,20\n5,1,2\n", (25.4, 12.7, 45.72, 1), "inches"),
        ("# height_cm: 30\ny in,10,20\n5,100,200\n", (25.4, 12.7, 30, 100), "inches"),
    ],
)
def test_units_and_separators_are_recognised_and_said(text, first, said):
    assert rows(text)[0] == pytest.approx(first)
    assert said in " ".join(read_map_table(text).notes)
    assert bool(said) == bool(read_map_table(text).notes)


def test_the_documented_example_is_read_and_written_back():
    text = (Path(__file__).parents[3] / "docs/formats/example.map.csv").read_text()
    table = read_map_table(text)
    assert len(table.readings) == 6
    assert read_map_table(write_map_table(table)) == table


def test_a_matrix_with_one_block_a_height():
    found = rows(MATRIX)
    assert len(found) == 9
    assert found[0] == (10, 10, 30, 200)
    assert found[4] == (50, 50, 30, 400)
    assert found[8] == (90, 10, 45, 180)


def test_the_height_may_come_from_outside():
    assert rows("x_cm,y_cm,ppfd\n1,2,300\n", height_cm=42.0) == [(1, 2, 42, 300)]


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("", "no readings"),
        ("# lamp: x\n", "no readings"),
        ("x_cm,y_cm,height_cm,ppfd\n", "no readings"),
        ("x_cm,y_cm,ppfd\n1,2,300\n", "no height_cm"),
        ("x_cm,x,y_cm,height_cm,ppfd\n1,1,2,3,4\n", "stands there twice"),
        ("x_cm,y_cm,height_cm,ppfd\n1,2,45,many\n", 'Line 2, ppfd_umol_m2_s: "many" is not'),
        ("x_cm,y_cm,height_cm,ppfd\n1,2,45\n", "Line 2, ppfd_umol_m2_s: nothing stands there"),
        ("x_cm,y_cm,height_cm,ppfd\n\n1,2,45,nan\n", "Line 3"),
        ("x_cm,y_cm,height_cm,ppfd\n1,2,45,-3\n", "outside 0 to 20000"),
        ("x_cm,y_cm,height_cm,ppfd\n1,2,0,3\n", "outside 1 to 500"),
        ("y\\x,10,20\n5,100,200\n", "needs the lamp's distance"),
        ("# height_cm: 30\ny\\x,10,20\n5,100\n", "1 readings for 2 places"),
        ("# height_cm: tall\nx,y,ppfd\n1,2,3\n", "Line 1, height_cm"),
    ],
)
def test_what_cannot_be_used_is_named_with_its_line(text, sentence):
    with pytest.raises(CanopyError) as caught:
        read_map_table(text)
    assert sentence in caught.value.sentence


words = st.text(st.characters(codec="ascii", exclude_categories=("C",)), max_size=20).map(str.strip)
reading = st.builds(
    MapReading,
    st.floats(-1000, 1000),
    st.floats(-1000, 1000),
    st.floats(1, 500),
    st.floats(0, 20_000),
    st.none() | st.floats(0, 100),
    st.none() | st.floats(0, 20_000),
    words,
)


@given(
    st.lists(reading, min_size=1, max_size=8),
    st.dictionaries(st.sampled_from(["lamp", "sensor"]), words),
)
def test_what_is_written_is_read_back_unchanged(readings, about):
    table = MapTable(tuple(readings), about)
    assert read_map_table(write_map_table(table)) == table


def test_bad_cells_are_kept_for_mending_and_the_rest_is_read():
    text = "x,y,height,ppfd,dial_pct\n10,10,40,3l2,60\n60,45,40,455,6O\n20,20,40,300,\n"
    with pytest.raises(CanopyError, match="Line 2, ppfd_umol_m2_s"):
        read_map_table(text)
    found = read_map_table(text, mended={})
    assert [(cell.line, cell.place, cell.text) for cell in found.bad] == [
        (2, 4, "3l2"),
        (3, 5, "6O"),
    ]
    assert [row.ppfd_umol_m2_s for row in found.readings] == [300]
    mended = read_map_table(text, mended={(2, 4): "312", (3, 5): "60"})
    assert (mended.bad, len(mended.readings)) == ((), 3)
    # what was mended badly is to be mended again
    again = read_map_table(text, mended={(2, 4): "lots", (3, 5): "60"})
    assert [cell.text for cell in again.bad] == ["lots"]
    # a whole table of something else is no table to mend
    with pytest.raises(CanopyError, match="Line"):
        read_map_table("x,y,height,ppfd\n" + "a,b,c,d\n" * 60, mended={})


@pytest.mark.parametrize(
    ("header", "scale"),
    [
        ("X (cm);Y (cm);Height (cm);PPFD (µmol/m²/s)", 1.0),
        ("x [in];y [in];height [in];PAR", 2.54),
        ("from left;from front;lamp height;reading", 1.0),
        ("Left_in;Front in;Distance (inch);Light", 2.54),
        ("Breite (cm);Tiefe (cm);Abstand (cm);Wert", 1.0),
    ],
)
def test_headings_as_people_write_them(header, scale):
    (row,) = read_map_table(f"{header}\n10;20;18;300\n").readings
    assert (row.x_cm, row.y_cm, row.height_cm) == pytest.approx(
        (10 * scale, 20 * scale, 18 * scale)
    )
    assert row.ppfd_umol_m2_s == 300
