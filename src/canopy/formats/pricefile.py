"""Hourly prices as CSV (``*.price.csv``): one line an hour; docs/formats/price.md."""

import csv
import io
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, tzinfo
from math import isfinite

from canopy.errors import CanopyError
from canopy.power.hourly import HOUR, HourlyPrices
from canopy.words import Said, said

MOST_HOURS = 24 * 366 * 3
MOST_TEXT = 4_000_000
MOST_PRICE = 100.0
FIRST_YEAR, LAST_YEAR = 2000, 2100
COLUMNS = ("from", "price_per_kwh")


@dataclass(frozen=True)
class PriceFile:
    """Prices, their currency as the file says it, and what there is to say of how it was read."""

    prices: HourlyPrices
    currency: str
    notes: tuple[Said, ...]


def read_prices(text: str, zone: tzinfo = UTC) -> PriceFile:
    """Return the prices of a file.

    Parameters
    ----------
    text : str
    zone : tzinfo
        Whose wall clock times without an offset are; of a doubled hour the first line is the
        summer's.

    Raises
    ------
    CanopyError
        Naming the line that cannot be used: no time or price, an hour that is missing, or there
        twice.
    """
    if len(text) > MOST_TEXT:
        raise CanopyError("The file is over four million characters; take fewer years.", "text")
    currency, rows = "", []
    lines = text.lstrip("\ufeff").splitlines()
    for number, line in enumerate(lines, 1):
        if line.lstrip().startswith("#"):
            key, _, value = line.lstrip("# \t").partition(":")
            if key.strip().lower() == "currency":
                currency = value.strip()[:8]
        elif line.strip():
            rows.append((number, line))
    if not rows:
        raise CanopyError("There are no prices in it; give one line an hour.", "text")
    delimiter = max(";\t,", key=rows[0][1].count)
    head = [cell.strip().lower() for cell in _cells(rows[0][1], delimiter)]
    if any(name not in head for name in COLUMNS):
        raise CanopyError(f"Line {rows[0][0]} should name the columns: from,price_per_kwh.", "text")
    if len(rows) - 1 > MOST_HOURS:
        raise CanopyError(f"More than {MOST_HOURS:,} hours; take fewer years.", "text")
    at, of = head.index("from"), head.index("price_per_kwh")
    found: list[tuple[datetime, float]] = []
    for number, line in rows[1:]:
        cells = _cells(line, delimiter)
        if len(cells) <= max(at, of):
            raise CanopyError(f"Line {number} has too few cells.", "text")
        moment = _moment(cells[at], number, zone, found[-1][0] if found else None)
        if found and moment != found[-1][0] + HOUR:
            raise CanopyError(_gap(number, found[-1][0], moment), "text")
        found.append((moment, _price(cells[of], number, delimiter)))
    if not found:
        raise CanopyError("There are no prices in it; give one line an hour.", "text")
    prices = HourlyPrices(found[0][0], tuple(price for _, price in found))
    below = sum(price < 0 for price in prices.per_kwh)
    notes = [said("price.below_zero", hours=below)] if below else []
    return PriceFile(prices, currency, tuple(notes))


def _cells(line: str, delimiter: str) -> list[str]:
    return [cell.strip() for cell in next(csv.reader(io.StringIO(line), delimiter=delimiter), [])]


def _moment(text: str, number: int, zone: tzinfo, before: datetime | None) -> datetime:
    try:
        moment = datetime.fromisoformat(text)
        if not FIRST_YEAR <= moment.year <= LAST_YEAR:
            raise ValueError
        if moment.tzinfo is None:
            # a doubled hour's second line comes when the first is passed
            first = moment.replace(tzinfo=zone, fold=0).astimezone(UTC)
            second = moment.replace(tzinfo=zone, fold=1).astimezone(UTC)
            moment = second if before is not None and first <= before else first
        moment = moment.astimezone(UTC)
    except (ValueError, OverflowError) as error:
        raise CanopyError(
            f"Line {number}: {text[:40]!r} is no time; write it like 2026-11-26T13:00+01:00.",
            "text",
        ) from error
    if moment.minute or moment.second or moment.microsecond:
        raise CanopyError(f"Line {number}: prices begin at full hours, not at {text[:40]}.", "text")
    return moment


def _gap(number: int, before: datetime, moment: datetime) -> str:
    if moment <= before:
        return (
            f"Line {number}: the hour {moment:%Y-%m-%d %H:%M} UTC is there twice or out of order; "
            "keep one line an hour, with its offset where the clocks change."
        )
    missing = before + HOUR
    count = (moment - before) // timedelta(hours=1) - 1
    return (
        f"Line {number}: {count} hour{'s' if count > 1 else ''} missing, from "
        f"{missing:%Y-%m-%d %H:%M} UTC on; give every hour's price."
    )


def _price(text: str, number: int, delimiter: str) -> float:
    plain = text if delimiter == "," else text.replace(",", ".")
    try:
        price = float(plain)
    except ValueError as error:
        raise CanopyError(f"Line {number}: {text[:40]!r} is no price.", "text") from error
    if not isfinite(price) or abs(price) > MOST_PRICE:
        raise CanopyError(
            f"Line {number}: {text[:40]} a kWh is no price; give it in the currency's unit, from "
            f"-{MOST_PRICE:g} to {MOST_PRICE:g}.",
            "text",
        )
    return price


def write_prices(prices: HourlyPrices, currency: str) -> str:
    """Return the prices as a file, times in UTC."""
    lines = [f"# currency: {currency}", ",".join(COLUMNS)]
    for k, price in enumerate(prices.per_kwh):
        lines.append(f"{(prices.first + k * HOUR).isoformat()},{price!r}")
    return "\n".join(lines) + "\n"
