"""Price files: gaps, doubled hours, decimal commas, and back."""

from datetime import UTC, datetime
from pathlib import Path
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.formats.pricefile import read_prices, write_prices
from canopy.power.hourly import HourlyPrices

BERLIN = ZoneInfo("Europe/Berlin")


def text(*lines, head="from,price_per_kwh"):
    return "\n".join([head, *lines])


def test_a_file_with_offsets():
    found = read_prices(
        "# currency: EUR\n" + text("2026-11-26T00:00+01:00,0.21", "2026-11-26T01:00+01:00,-0.01")
    )
    assert found.prices == HourlyPrices(datetime(2026, 11, 25, 23, tzinfo=UTC), (0.21, -0.01))
    assert found.currency == "EUR"
    assert [note.code for note in found.notes] == ["price.below_zero"]


def test_a_doubled_hour_without_offsets_and_decimal_commas():
    # clocks go back on 2026-10-25 at 03:00 summer time (EU rule)
    found = read_prices(
        text(
            "2026-10-25T01:00;0,10",
            "2026-10-25T02:00;0,20",
            "2026-10-25T02:00;0,30",
            "2026-10-25T03:00;0,40",
            head="from;price_per_kwh",
        ),
        BERLIN,
    )
    assert found.prices.per_kwh == (0.10, 0.20, 0.30, 0.40)
    assert found.prices.by_hour(datetime(2026, 10, 25).date(), BERLIN)[2] == pytest.approx(0.25)


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ("", "no prices"),
        ("from,price_per_kwh\n", "no prices"),
        (text("2026-01-01T00:00Z,1", head="when,price"), "columns"),
        (text("2026-01-01T00:00Z,0.1", "2026-01-01T02:00Z,0.1"), "Line 3: 1 hour missing"),
        (text("2026-01-01T00:00Z,0.1", "2026-01-01T00:00Z,0.1"), "twice"),
        (text("2026-01-01T00:15Z,0.1"), "full hours"),
        (text("noon,0.1"), "no time"),
        (text("9999-12-31T23:00Z,0.1"), "no time"),
        (text("2026-01-01T00:00Z,cheap"), "no price"),
        (text("2026-01-01T00:00Z,nan"), "no price"),
        (text("2026-01-01T00:00Z,5000"), "currency's unit"),
        (text("2026-01-01T00:00Z"), "too few"),
        ("x" * 4_000_001, "four million"),
    ],
)
def test_files_that_cannot_be_used(content, words):
    with pytest.raises(CanopyError, match=words):
        read_prices(content)


@given(st.lists(st.floats(-100, 100), min_size=1, max_size=60), st.integers(0, 20_000))
def test_what_is_written_is_read_back(prices, hours):
    first = datetime.fromtimestamp(1_700_000_000 // 3600 * 3600 + hours * 3600, UTC)
    given_prices = HourlyPrices(first, tuple(prices))
    found = read_prices(write_prices(given_prices, "EUR"), BERLIN)
    assert (found.prices, found.currency) == (given_prices, "EUR")


def test_the_documented_example_is_read_and_written_back():
    text = (Path(__file__).parents[3] / "docs/formats/example.price.csv").read_text()
    found = read_prices(text)
    assert (len(found.prices.per_kwh), found.currency) == (24, "EUR")
    assert read_prices(write_prices(found.prices, found.currency)).prices == found.prices
