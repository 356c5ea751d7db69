"""Rows to core values."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, datetime, tzinfo
from functools import lru_cache
from typing import Any

from canopy.daylight.background import (
    Background,
    Cover,
    measured,
    none,
    reckoned,
)
from canopy.daylight.lampday import LampDay
from canopy.daylight.losses import Heat, Losses
from canopy.daylight.sky import Place
from canopy.errors import CanopyError
from canopy.fixture.record import Limit as Limit
from canopy.formats.growing import (
    CEILING as CEILING,
)
from canopy.formats.growing import (
    COVER_FIELDS,
    PLACE_FIELDS,
)
from canopy.formats.growing import (
    CURRENCY as CURRENCY,
)
from canopy.formats.growing import (
    DAYLIGHT_DLI as DAYLIGHT_DLI,
)
from canopy.formats.growing import (
    HEAT_LIMITS as HEAT_LIMITS,
)
from canopy.formats.growing import (
    MOST_BANDS as MOST_BANDS,
)
from canopy.formats.growing import (
    MOST_TIERS as MOST_TIERS,
)
from canopy.formats.growing import (
    PRICE as PRICE,
)
from canopy.formats.growing import (
    RAISE_CM as RAISE_CM,
)
from canopy.formats.growing import (
    SPACE_LIMITS as SPACE_LIMITS,
)
from canopy.formats.growing import (
    STAND_LIMITS as STAND_LIMITS,
)
from canopy.formats.growing import (
    TARIFF_LIMITS as TARIFF_LIMITS,
)
from canopy.formats.growing import (
    THROUGH as THROUGH,
)
from canopy.formats.growing import (
    TIER_LIMITS as TIER_LIMITS,
)
from canopy.formats.pricefile import MOST_HOURS, read_prices
from canopy.light.enclosure import WALLS, Enclosure
from canopy.light.linings import check_linings, lined_box, other_linings
from canopy.light.linings import linings as linings
from canopy.light.stands import Stand
from canopy.power.circuit import PRESETS, Lead, Limits, Load, gauge_mm2, gauge_of
from canopy.power.hanging import check_headroom
from canopy.power.hourly import Contract, HourlyPrices
from canopy.power.tariff import Tariff, TariffBand, Tier
from canopy.words import said
from server.spaces.models import Circuit, PriceFile, Space
from server.spaces.models import Tariff as TariffRow

MOST_LEVELS = 12
"""Of a rack."""


def enclosure(space: Space, canopy_top_cm: float, canopy_reflectance: float) -> Enclosure:
    """Return the box above the canopy."""
    return _lined(space, canopy_top_cm, canopy_reflectance, space.lining, space.wall_linings())


def _lined(
    space: Space, canopy_top_cm: float, canopy_reflectance: float, rest: str, walls: Sequence[str]
) -> Enclosure:
    height_cm = round(space.height_cm - canopy_top_cm, 6)
    box = lined_box(space.width_cm, space.depth_cm, height_cm, rest, walls, canopy_reflectance)
    if space.ceiling_reflectance is None:
        return box
    return replace(box, ceiling_reflectance=space.ceiling_reflectance)


def other_boxes(
    space: Space, canopy_top_cm: float, canopy_reflectance: float
) -> list[tuple[str, Enclosure]]:
    """Return the box above the canopy lined in other ways, each with its name."""
    return [
        (name, _lined(space, canopy_top_cm, canopy_reflectance, rest, walls))
        for name, rest, walls in other_linings(space.lining, space.wall_linings())
    ]


def lined_otherwise(space: Space, name: str) -> dict[str, str]:
    """Return the linings of a space lined in one of the other ways; as it is without a name.

    Raises
    ------
    CanopyError
        When there is no such way to line it that would send back more.
    """
    if not name:
        return {}
    for key, rest, walls in other_linings(space.lining, space.wall_linings()):
        if key == name:
            return {"lining": rest, **{f"lining_{w}": own for w, own in zip(WALLS, walls)}}
    raise CanopyError(
        "Lined so, this space would send back no more than it does; choose another lining.",
        "lining",
    )


def stands_of(space: Space) -> tuple[Stand, ...]:
    """Return the steps plants stand on."""
    return tuple(Stand(**row) for row in space.stands)


def plots_of(space: Space) -> tuple[Stand, ...]:
    """Return where plants stand."""
    return tuple(Stand(**row, raise_cm=0.0) for row in space.plots)


def tariff_of(row: TariffRow) -> Tariff:
    """Return what a kWh costs by the time of day."""
    return Tariff(
        row.per_kwh,
        tuple(TariffBand(**band) for band in row.bands),
        tuple(Tier(**tier) for tier in row.tiers),
        row.standing_per_day,
    )


def check_tariff(values: dict[str, Any], bands: str = "bands") -> None:
    """Raise a sentence when a price's bands cannot be."""
    for i, band in enumerate(values.get(bands, [])):
        try:
            TariffBand(**band)
        except CanopyError as error:
            raise error.at(f"{bands}.{i}.{error.field}") from error


def limits_of(row: Circuit) -> Limits:
    """Return what a circuit's parts bear."""
    lead = None if row.lead_m is None or row.lead_mm2 is None else Lead(row.lead_m, row.lead_mm2)
    names = ("volts", "breaker_a", "continuous_share", "plug_a", "strip_a", "timer_a", "cord_a")
    return Limits(**{name: getattr(row, name) for name in names}, lead=lead)


def loads_of(row: Circuit) -> list[Load]:
    """Return what runs on a circuit beside the lamps."""
    return [Load(**each) for each in row.loads]


def wire_gauge(copper_mm2: float) -> float:
    """Return the American gauge nearest to so much copper."""
    return gauge_of(copper_mm2)


def circuit_rows(values: dict[str, Any]) -> dict[str, Any]:
    """Return a circuit's figures as they are kept: a lead's copper in mm2, however it was given.

    Raises
    ------
    CanopyError
        When they do not go together.
    """
    values = dict(values)
    gauge = values.pop("lead_gauge", None)
    if values["lead_mm2"] is None and gauge is not None:
        values["lead_mm2"] = gauge_mm2(gauge)
    _check_circuit(values)
    return values


def _check_circuit(values: dict[str, Any]) -> None:
    if (values["lead_m"] is None) != (values["lead_mm2"] is None):
        raise CanopyError("Give both the lead's length and its copper, or neither.", "lead_m")
    for i, each in enumerate(values["loads"]):
        try:
            Load(**each).drawn(values["volts"])
        except CanopyError as error:
            raise error.at(f"loads.{i}.{error.field}") from error


def read_price_file(text: str, zone: tzinfo) -> HourlyPrices:
    """Return the prices of a file; times without an offset are a place's wall clock's."""
    return read_prices(text, zone).prices


def joined_prices(before: PriceFile | None, later: HourlyPrices) -> HourlyPrices:
    """Return the prices a space has with those of a file in their place, three years at most."""
    if before is None or not before.per_kwh:
        return later
    return HourlyPrices(before.first, tuple(before.per_kwh)).joined(later, MOST_HOURS)


@lru_cache(maxsize=16)
def hourly_prices(price_file_id: int, made_at: datetime) -> HourlyPrices:
    """Return the prices a space keeps; when it was made tells one from another of its number."""
    row = PriceFile.objects.get(pk=price_file_id)
    return HourlyPrices(row.first, tuple(row.per_kwh))


def contract_of(space: Space, tariff: TariffRow, zone: tzinfo) -> Contract:
    """Return what power costs in a space on any day: hourly prices where it has any."""
    last = space.present_prices()
    prices = None if last is None else hourly_prices(last.pk, last.created_at)
    if last is None or prices is None or not prices.per_kwh:
        return Contract(tariff_of(tariff), zone)
    return Contract(tariff_of(tariff), zone, prices, last.adds_per_kwh)


def presets() -> list[Limits]:
    """Return usual circuits."""
    return list(PRESETS.values())


def daylight_over(values: dict[str, Any] | None, first: date, days: int) -> Background:
    """Return the daylight at the canopy over days in a row.

    Raises
    ------
    CanopyError
        With the field's name, when the figures cannot be.
    """
    if values is None:
        return none(days)
    figures = {name: value for name, value in values.items() if name != "kind"}
    if values["kind"] == "measured":
        return measured(figures["dli"], figures["sunrise_min"], figures["sunset_min"], days)
    place = Place(**{name: figures[name] for name in PLACE_FIELDS})
    return reckoned(place, Cover(**{name: figures[name] for name in COVER_FIELDS}), first, days)


def losses_of(space: Space, day: LampDay) -> Losses:
    """Return what ramps and the heat take of the time a lamp is on."""
    heat = None if space.heat is None else Heat(**space.heat)
    return Losses(space.ramp_min, heat, day)


def _check_daylight(values: dict[str, Any]) -> None:
    try:
        daylight_over(values.get("daylight"), date(2026, 6, 21), 1)
    except CanopyError as error:
        raise error.at(f"daylight.{error.field}") from error


def _check_stands(values: dict[str, Any]) -> None:
    parts = [("step", "stands", i, row) for i, row in enumerate(values.get("stands", []))]
    parts += [("plot", "plots", i, row) for i, row in enumerate(values.get("plots", []))]
    for word, field, i, stand in parts:
        for place, size, side in (
            ("x_cm", "width_cm", values["width_cm"]),
            ("y_cm", "depth_cm", values["depth_cm"]),
        ):
            over = stand[place] + stand[size] - side
            if over > 0:
                raise CanopyError(
                    said(f"space.{word}_beyond", number=i + 1, over_cm=over),
                    f"{field}.{i}.{size}",
                )


def check_space(values: dict[str, Any]) -> None:
    """Raise a sentence when a space's figures do not go together."""
    check_tariff(values, "tariff_bands")
    check_linings(values["lining"], [values.get(f"lining_{wall}", "") for wall in WALLS])
    _check_stands(values)
    _check_daylight(values)
    check_headroom(values["height_cm"], values["pot_cm"], values["hangers_cm"])
