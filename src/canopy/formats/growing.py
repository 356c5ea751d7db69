"""What figures of a space, a crop, a hung lamp and a plan's wishes can be, and their readers.

The limits hold for what is typed and for what files bring. Lengths in cm, angles in degrees.
"""

from datetime import date
from typing import Any, Final, get_args

from canopy.crop.targets import DayLength, StageTarget
from canopy.daylight.background import Cover
from canopy.daylight.losses import Heat
from canopy.daylight.sky import Place
from canopy.errors import CanopyError
from canopy.fixture.record import Limit
from canopy.formats.layout import SIDE_CM
from canopy.formats.reader import Fields, checked, number
from canopy.formats.scene import HEIGHT_CM
from canopy.light.enclosure import WALLS
from canopy.light.linings import check_linings
from canopy.plan.problem import VISITS
from canopy.power.tariff import DAYS, TariffBand
from canopy.tables import table

FIRST_START, LAST_START = date(2000, 1, 1), date(2199, 12, 31)
"""Days a run may start on: every day of it has to be one."""

MOST_NAME: Final = 80
MOST_NOTE: Final = 500
MOST_STANDS: Final = 24
MOST_BANDS: Final = 12
MOST_STAGES: Final = 20
MOST_BARS: Final = 40
MINUTE: Final = Limit(0, 1439)
CURRENCY: Final = 8

TIMER_STEPS_MIN: Final = (1, 15, 30, 60)
SPACE_LIMITS: Final[dict[str, Limit]] = {
    "width_cm": Limit(*SIDE_CM),
    "depth_cm": Limit(*SIDE_CM),
    # a shelf can be lower than a tent
    "height_cm": Limit(20.0, HEIGHT_CM[1]),
    "pot_cm": Limit(0, 200),
    "hangers_cm": Limit(0, 100),
    "ramp_min": Limit(0, 180),
}
STAND_LIMITS: Final[dict[str, Limit]] = {
    "x_cm": Limit(0, SIDE_CM[1]),
    "y_cm": Limit(0, SIDE_CM[1]),
    "width_cm": Limit(0, SIDE_CM[1]),
    "depth_cm": Limit(0, SIDE_CM[1]),
}
RAISE_CM: Final = Limit(0, 200)
CEILING: Final = Limit(0, 0.95)
THROUGH: Final = Limit(0, 1)
PRICE: Final = Limit(0, 1000)
MOST_TIERS: Final = 6
TIER_LIMITS: Final[dict[str, Limit]] = {
    "above_kwh": Limit(0, 1_000_000),
    "adds_per_kwh": Limit(-100, 1000),
}
TARIFF_LIMITS: Final[dict[str, Limit]] = {
    "standing_per_day": Limit(0, 10_000),
    "other_kwh_a_day": Limit(0, 10_000),
    "grid_g_per_kwh": Limit(0, 2000),
}
DAYLIGHT_DLI: Final = Limit(0, 80)
HEAT_LIMITS: Final[dict[str, Limit]] = {
    "off_above_c": Limit(10, 60),
    "mean_c": Limit(-20, 50),
    "swing_c": Limit(0, 40),
}
PLACE_FIELDS: Final = ("latitude_deg", "longitude_deg", "utc_offset_h", "tilt_deg", "azimuth_deg")
COVER_FIELDS: Final = ("transmission", "cloud_factor", "reach")

HABITS: Final[tuple[str, ...]] = tuple(row["key"] for row in table("canopies")["rows"])
RESPONSES: Final[tuple[DayLength, ...]] = get_args(DayLength)
TARGET_FIELDS: Final = (
    "dli_low",
    "dli_high",
    "hot_spot_cap",
    "hours_low",
    "hours_high",
    "ppfd_low",
    "ppfd_high",
    "evenness_goal",
    "night_h",
    "unbroken_night",
)
STAGE_LIMITS: Final[dict[str, Limit]] = {
    "days": Limit(1, 400),
    "plant_start_cm": Limit(0, 400),
    "plant_end_cm": Limit(0, 400),
}

LAMP_LIMITS: Final[dict[str, Limit]] = {
    "x_cm": Limit(0, SIDE_CM[1]),
    "y_cm": Limit(0, SIDE_CM[1]),
    "turn_deg": Limit(-360, 360),
    "tilt_deg": Limit(-90, 90),
    "raise_cm": Limit(-200, 200),
}
DIAL: Final = Limit(0, 100)
MOST_GROUPS: Final = 4
"""Groups of lamps beside the rail's own."""
BURNED_H: Final = Limit(0, 1_000_000)

AIMS: Final = ("likely", "middle", "energy", "even", "gentle", "moves")
ON_WISHES: Final = ("fixed", "cheap", "cool")
RISE_PCT: Final = Limit(0.1, 500)
SHIFT_DAYS: Final = Limit(1, 60)
LIFT_CM: Final = Limit(0, 100)
GAP_DAYS: Final = Limit(1, 60)


def text(fields: Fields, name: str, most: int, least: int = 0) -> str:
    """Return a text of a field, from so many to so many characters.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    value, where = fields.raw(name, ""), fields.name_of(name)
    if not isinstance(value, str) or not least <= len(value) <= most:
        raise CanopyError(f"{where} should be a text of {least} to {most} characters.", where)
    return value


def rows(fields: Fields, name: str, most: int) -> list[Fields]:
    """Return a list of objects, which may be empty or missing."""
    value, where = fields.raw(name, []), fields.name_of(name)
    if not isinstance(value, list) or len(value) > most:
        raise CanopyError(f"{where} should be a list of at most {most}.", where)
    return [Fields(row, f"{where}.{i}", fields.ignored) for i, row in enumerate(value)]


def limited(
    fields: Fields, limits: dict[str, Limit], whole: tuple[str, ...] = ()
) -> dict[str, Any]:
    """Return the figures of these names, each within its limits; ``whole`` ones as integers."""
    return {
        name: fields.whole(name, int(limit.low), int(limit.high))
        if name in whole
        else fields.number(name, limit.low, limit.high)
        for name, limit in limits.items()
    }


def maybe(fields: Fields, name: str, limit: Limit) -> float | None:
    """Return a figure within its limits, or none."""
    value = fields.raw(name, None)
    return None if value is None else number(value, fields.name_of(name), limit.low, limit.high)


def day(fields: Fields, name: str) -> date:
    """Return a day written like 2026-06-21.

    Raises
    ------
    CanopyError
        When it is none, or one no season can have.
    """
    value, where = fields.raw(name), fields.name_of(name)
    try:
        found = date.fromisoformat(value)
    except (TypeError, ValueError) as error:
        raise CanopyError(f"{where} is not a day; write it like 2026-06-21.", where) from error
    if not FIRST_START <= found <= LAST_START:
        raise CanopyError(
            f"{where} is {value}; give a day from {FIRST_START.year} to {LAST_START.year}.", where
        )
    return found


def read_linings(fields: Fields) -> dict[str, str]:
    """Return the lining of a floor's walls and each wall's own, empty where as the rest."""
    names = ("lining", *(f"lining_{wall}" for wall in WALLS))
    found = {name: text(fields, name, 20) for name in names}
    own = [found[f"lining_{wall}"] for wall in WALLS]
    try:
        check_linings(found["lining"], own)
    except CanopyError as error:
        raise error.at(fields.name_of(error.field)) from error
    return found


def _stands(fields: Fields, name: str, raised: bool) -> list[dict[str, float]]:
    found = []
    for row in rows(fields, name, MOST_STANDS):
        limits = STAND_LIMITS | ({"raise_cm": RAISE_CM} if raised else {})
        found.append(limited(row, limits))
        row.done()
    return found


def _daylight(fields: Fields) -> dict[str, Any]:
    kind = fields.word("kind", ("measured", "reckoned"))
    found: dict[str, Any] = {"kind": kind}
    if kind == "measured":
        found["dli"] = fields.number("dli", DAYLIGHT_DLI.low, DAYLIGHT_DLI.high)
        found["sunrise_min"] = fields.whole("sunrise_min", 0, 1439)
        found["sunset_min"] = fields.whole("sunset_min", 1, 1440)
    else:
        found |= {name: fields.number(name, -360, 360) for name in PLACE_FIELDS + COVER_FIELDS}
        checked(lambda: Place(**{name: found[name] for name in PLACE_FIELDS}), fields.path)
        checked(lambda: Cover(**{name: found[name] for name in COVER_FIELDS}), fields.path)
    fields.done()
    return found


def _heat(fields: Fields) -> dict[str, float]:
    found = limited(fields, HEAT_LIMITS)
    checked(lambda: Heat(**found), fields.path)
    fields.done()
    return found


def read_space(fields: Fields) -> dict[str, Any]:
    """Return a space by its figures' names.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    step = fields.whole("timer_step_min", 1, 60)
    if step not in TIMER_STEPS_MIN:
        where = fields.name_of("timer_step_min")
        raise CanopyError(f"{where} should be one of {TIMER_STEPS_MIN}.", where)
    found = {
        "name": text(fields, "name", MOST_NAME, 1),
        **limited(fields, SPACE_LIMITS, ("ramp_min",)),
        **read_linings(fields),
        "stands": _stands(fields, "stands", raised=True),
        "plots": _stands(fields, "plots", raised=False),
        # files written before there were racks have none of these
        "ceiling_reflectance": maybe(fields, "ceiling_reflectance", CEILING),
        "board_through": fields.number("board_through", THROUGH.low, THROUGH.high, 0.0),
        "lamps_fixed": fields.flag("lamps_fixed"),
        "co2_enriched": fields.flag("co2_enriched"),
        "timer_step_min": step,
        "follows_summer_time": fields.flag("follows_summer_time"),
        "daylight": None,
        "heat": None,
    }
    if fields.raw("daylight", None) is not None:
        found["daylight"] = _daylight(fields.object("daylight"))
    if fields.raw("heat", None) is not None:
        found["heat"] = _heat(fields.object("heat"))
    fields.done()
    return found


def read_tariff(fields: Fields) -> dict[str, Any]:
    """Return what a kWh costs: its currency, its price, and hours with a price of their own."""
    bands: list[dict[str, Any]] = []
    for row in rows(fields, "bands", MOST_BANDS):
        bands.append(
            {
                "from_minute": row.whole("from_minute", 0, 1439),
                "to_minute": row.whole("to_minute", 0, 1440),
                "per_kwh": row.number("per_kwh", PRICE.low, PRICE.high),
                # files written before there were weekends and seasons have none of these
                "days": row.word("days", DAYS, "all"),
                "first": text(row, "first", 5),
                "last": text(row, "last", 5),
            }
        )
        checked(lambda: TariffBand(**bands[-1]), row.path)
        row.done()
    tiers = []
    for row in rows(fields, "tiers", MOST_TIERS):
        tiers.append(limited(row, TIER_LIMITS))
        row.done()
    found = {
        "currency": text(fields, "currency", CURRENCY, 1),
        "per_kwh": fields.number("per_kwh", PRICE.low, PRICE.high),
        "bands": bands,
        "tiers": tiers,
        **{
            name: fields.number(name, limit.low, limit.high, 0.0)
            for name, limit in TARIFF_LIMITS.items()
            if name != "grid_g_per_kwh"
        },
        "grid_g_per_kwh": maybe(fields, "grid_g_per_kwh", TARIFF_LIMITS["grid_g_per_kwh"]),
    }
    fields.done()
    return found


def read_stage(fields: Fields) -> dict[str, Any]:
    """Return a crop's stage by its figures' names, its ``id`` among them."""
    target: dict[str, Any] = {
        name: maybe(fields, name, Limit(0, 1e5))
        for name in TARGET_FIELDS
        if name != "unbroken_night"
    }
    target["unbroken_night"] = fields.flag("unbroken_night")
    response = fields.word("response", RESPONSES)
    for name, value in target.items():
        if value is None and name not in ("ppfd_low", "ppfd_high", "evenness_goal"):
            raise CanopyError(f"{fields.name_of(name)} is missing.", fields.name_of(name))
    checked(lambda: StageTarget(**target, response=response), fields.path)  # type: ignore[arg-type]
    found = {
        "id": fields.whole("id", 0, 2**53),
        "name": text(fields, "name", MOST_NAME, 1),
        **limited(fields, STAGE_LIMITS, ("days",)),
        **target,
        "response": response,
        "provenance": text(fields, "provenance", MOST_NOTE),
    }
    if found["plant_start_cm"] > found["plant_end_cm"]:
        raise CanopyError(
            f"In {found['name']} the plants end lower than they start; swap the two heights.",
            fields.name_of("plant_end_cm"),
        )
    fields.done()
    return found


def read_crop(fields: Fields) -> dict[str, Any]:
    """Return a crop with its stages by their figures' names; every stage has an ``id``."""
    stages = [read_stage(row) for row in rows(fields, "stages", MOST_STAGES)]
    if not stages or len({stage["id"] for stage in stages}) < len(stages):
        where = fields.name_of("stages")
        raise CanopyError(f"{where} should be a list of stages, each with its own id.", where)
    found = {
        "name": text(fields, "name", MOST_NAME, 1),
        "habit": fields.word("habit", HABITS),
        "stages": stages,
    }
    fields.done()
    return found


def read_wishes(fields: Fields) -> dict[str, Any]:
    """Return what a run is planned by."""
    found = {
        "aim": fields.word("aim", AIMS),
        "over_cap": fields.flag("over_cap"),
        "started_on": day(fields, "started_on"),
        "on_wish": fields.word("on_wish", ON_WISHES),
        "on_minute": fields.whole("on_minute", int(MINUTE.low), int(MINUTE.high)),
        "rise_pct": fields.number("rise_pct", 0, RISE_PCT.high, above=True),
        "shift_days": fields.whole("shift_days", int(SHIFT_DAYS.low), int(SHIFT_DAYS.high)),
        # files written before there was a pace have none
        "lift_cm": fields.number("lift_cm", LIFT_CM.low, LIFT_CM.high, VISITS.lift_cm),
        "gap_days": fields.whole(
            "gap_days", int(GAP_DAYS.low), int(GAP_DAYS.high), VISITS.gap_days
        ),
        "beyond_maker": fields.flag("beyond_maker"),
    }
    fields.done()
    return found
