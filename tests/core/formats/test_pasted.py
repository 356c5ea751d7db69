"""Blocks pasted from spreadsheets of three countries say the same."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.formats.pasted import read_block
from canopy.words import worded

WANT = ((1197.5, 987.0, 1012.25), (764.0, None, 1497.0))
"""As a spreadsheet in English, German, French and Swiss German shows it, cells parted by tabs."""
LOCALES = {
    "en": "1,197.5\t987\t1,012.25\n764\t\t1,497",
    "de": "1.197,5\t987\t1.012,25\n764\t\t1.497",
    "fr": "1\u202f197,5\t987\t1\u202f012,25\r\n764\t\t1\u202f497\r\n",
    "fr, older": "1\u00a0197,5\t987\t1\u00a0012,25\n764\t\t1\u00a0497",
    "de-CH": "1\u2019197.5\t987\t1\u2019012.25\n764\t\t1\u2019497",
    "plain": "1197.5\t987\t1012.25\n764\t\t1497",
    "semicolons": "1197,5;987;1012,25\n764;;1497",
}


@pytest.mark.parametrize("locale", LOCALES)
def test_one_block_in_every_country(locale):
    assert read_block(LOCALES[locale]).rows == WANT


@pytest.mark.parametrize(
    ("text", "rows"),
    [
        # whole figures with thousands alone: as near to each other as may be
        ("987\t1,012\t1,197", [[987, 1012, 1197]]),
        ("987\t1.012\t1.197", [[987, 1012, 1197]]),
        ("0.987\t1.012", [[0.987, 1.012]]),
        ("1.197\n1.203", [[1197], [1203]]),
        ("412.532\t398.201", [[412.532, 398.201]]),
        # a list, as one types it
        ("412, 398, 405", [[412, 398, 405]]),
        ("412,398,405.5", [[412, 398, 405.5]]),
        ("412 398  405", [[412, 398, 405]]),
        ("12,5 13,1 14,0", [[12.5, 13.1, 14]]),
        ("412,5", [[412.5]]),
        ("1,234,567", [[1234567]]),
        ("263\n250\n\n241", [[263], [250], [241]]),
        ("\u22123 .5", [[-3, 0.5]]),
        # rows of different lengths end in empty cells
        ("1\t2\n3", [[1, 2], [3, None]]),
    ],
)
def test_figures_as_people_write_them(text, rows):
    assert [list(row) for row in read_block(text).rows] == rows


@pytest.mark.parametrize(
    ("locale", "told"),
    [
        ("de", {"1.197,5 was read as 1197.5."}),
        ("en", {"1,197.5 was read as 1197.5."}),
        ("semicolons", {"1197,5 was read as 1197.5."}),
        ("plain", set()),
    ],
)
def test_what_was_not_plain_is_told(locale, told):
    assert {worded(note) for note in read_block(LOCALES[locale]).notes} == told


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no figures yet"),
        ("\t\n;;", "no figures yet"),
        ("12\tabout 13", "Row 1, column 2"),
        ("1\n2\nx", 'Row 3, column 1: "x"'),
        ("1.2.3,4,5", "two decimal signs"),
        ("\t".join("1" for _ in range(101)), "At most 100"),
        ("1\n" * 101, "At most 100"),
        ("1" * 200_001, "too long"),
    ],
)
def test_blocks_that_cannot_be_read(text, words):
    with pytest.raises(CanopyError, match=words):
        read_block(text)


def written(value, group, sign):
    whole, broken = f"{value:,.1f}".split(".")
    return whole.replace(",", group) + sign + broken


@given(
    st.lists(st.floats(1, 2500), min_size=1, max_size=30),
    st.sampled_from([(",", "."), (".", ","), ("\u202f", ","), ("", "."), ("'", ".")]),
)
def test_every_figure_of_a_column_comes_back(values, signs):
    values = [round(value, 1) for value in values]
    text = "\n".join(written(value, *signs) for value in values)
    assert [row[0] for row in read_block(text).rows] == pytest.approx(values)
