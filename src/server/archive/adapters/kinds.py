"""The kinds of rows an archive holds: of each its model, what stays behind, and its reader.

What is brought in passes the reader that reads it where it is used: the core's for what stands in
files, an area's schema for what its forms send.
"""

import json
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from math import isfinite
from typing import Any

from django.db import models
from pydantic import BaseModel, Field, ValidationError

from canopy.errors import CanopyError
from canopy.formats.fixturefile import read_light_file
from canopy.formats.growing import DIAL as DIAL_LIMIT
from canopy.formats.growing import (
    LAMP_LIMITS,
    MOST_GROUPS,
    limited,
    maybe,
    read_space,
    read_stage,
    read_tariff,
    read_wishes,
)
from canopy.formats.keptfit import read_kept_fit
from canopy.formats.pricefile import MOST_HOURS, MOST_PRICE
from canopy.formats.reader import Fields
from canopy.formats.runfile import read_bars, read_map_copy, read_piece, read_run_file
from server.common.problems import complaints
from server.common.schemas import SaidOut, Strict
from server.crops.models import Crop, Stage
from server.devices.adapters.messages import NAMES, windows_of
from server.devices.models import Command, Device, Series
from server.devices.schemas import DeviceIn
from server.fixtures.adapters.record import PLAIN_COLUMNS, stored_record
from server.fixtures.models import Fixture, LightMap, OwnedLamp
from server.fixtures.schemas import AgreementOut
from server.logbook.models import Entry, Photo
from server.logbook.schemas import EntryIn
from server.power.adapters.install import StepName
from server.power.models import InstallTick
from server.power.schemas import TickIn
from server.readings.adapters.sensors import check_sensor
from server.readings.models import Sensor, Walk, WalkEntry
from server.readings.schemas import SensorIn, WalkAsked, WalkEntryIn
from server.runs.adapters.standing import (
    MAP_COLUMNS,
    SPACE_COLUMNS,
    STAGE_COLUMNS,
    TARIFF_COLUMNS,
    WISHES,
)
from server.runs.models import (
    Arrangement,
    Fit,
    FitChoice,
    Plan,
    Run,
    RunLamp,
    RunStage,
    Setting,
)
from server.runs.schemas.history import PastSettingIn, WindowIn
from server.spaces.adapters import MOST_LEVELS
from server.spaces.models import Circuit, PriceFile, Rack, Space, Tariff
from server.spaces.schemas.power import AirIn, CircuitIn, MountIn

Row = dict[str, Any]
Checked = Callable[[Row], Row]
"""Takes a row's columns, and returns those that are stored otherwise than they stand there."""

MOST_LOOSE = 20_000
"""Characters of what a row keeps that nobody but people reads."""


@dataclass(frozen=True)
class Kind:
    """A kind of row.

    Parameters
    ----------
    name : str
        Its file's.
    model : type
    owned : str
        From it to its grower, as a query has it.
    check : callable
    key : str
        The column a row is known by.
    parent : str
        The row it is part of, if of one: known within it, and there are ``most`` of one parent.
    most : int
    follows : bool
        It is what its parent is: where that stays as it is here, so does this.
    natural : tuple of str
        What tells it besides: two alike are one.
    left_out : tuple of str
        Columns that stay behind: secrets, and what is worked out.
    agree : tuple of (column, column of the row it names, own column)
        Both name the same.
    """

    name: str
    model: type[models.Model]
    owned: str = "owner"
    check: Checked = lambda row: {}
    key: str = "uuid"
    parent: str = ""
    most: int = 100_000
    follows: bool = False
    natural: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()
    agree: tuple[tuple[str, str, str], ...] = ()

    @cached_property
    def columns(self) -> "tuple[models.Field[Any, Any], ...]":
        """Its columns that are taken along, but for the one it is known by."""
        apart = ("id", "owner", self.key, *self.left_out)
        return tuple(f for f in self.model._meta.concrete_fields if f.name not in apart)

    @property
    def references(self) -> tuple[tuple[str, type[models.Model]], ...]:
        """The columns that name other rows, and of which kind."""
        return tuple(
            (field.name, field.related_model)  # type: ignore[misc]
            for field in self.columns
            if field.is_relation
        )


def by(model: type[BaseModel], values: Row, where: str = "") -> Row:
    """Return values as a schema reads them, and nothing that was not given.

    Raises
    ------
    CanopyError
        With the first field it complains of.
    """
    try:
        found: Row = model.model_validate(values).model_dump(exclude_unset=True)
    except ValidationError as error:
        first = complaints(error.errors())[0]
        field = f"{where}.{first.field}".strip(".")
        raise CanopyError(f"{field}: {first.sentence}", field) from error
    return found


def _some(row: Row, names: tuple[str, ...]) -> Row:
    return {name: row[name] for name in names}


def _passes(read: Callable[[Fields], Row], values: Row, where: str = "") -> None:
    """Refuse values that a reader of the core does not take, or has no place for."""
    ignored: list[str] = []
    read(Fields(values, where, ignored))
    if ignored:
        raise CanopyError(f"{ignored[0]} is no field of it.", ignored[0])


def _loose(row: Row, names: tuple[str, ...]) -> None:
    """Refuse what is kept as it stands where it is longer than any of ours."""
    for name in names:
        if len(json.dumps(row[name])) > MOST_LOOSE:
            raise CanopyError(f"{name} is longer than any of ours.", name)


def _named(row: Row) -> Row:
    if not row["name"].strip():
        raise CanopyError("name is empty.", "name")
    return {}


def _circuit(row: Row) -> Row:
    names = tuple(CircuitIn.model_fields)
    return by(CircuitIn, {name: row[name] for name in names if name in row})


def _space(row: Row) -> Row:
    if row["tier"] >= MOST_LEVELS:
        raise CanopyError(f"tier is {row['tier']}; a rack has {MOST_LEVELS} levels.", "tier")
    _passes(read_space, _some(row, SPACE_COLUMNS))
    mount, air = (by(MountIn, row["mount"], "mount"), by(AirIn, row["air"], "air"))
    return {"mount": mount, "air": air}


def _prices(row: Row) -> Row:
    prices = row["per_kwh"]
    right = isinstance(prices, list) and len(prices) <= MOST_HOURS
    if not right or not all(_is_number(p) and abs(p) <= MOST_PRICE for p in prices):
        raise CanopyError(
            f"per_kwh should be at most {MOST_HOURS} prices, each {MOST_PRICE:g} at most.",
            "per_kwh",
        )
    first = row["first"]
    if prices and (first.minute or first.second or first.microsecond):
        raise CanopyError("first should be a whole hour.", "first")
    return {}


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and isfinite(value)


def _fixture(row: Row) -> Row:
    names = (*PLAIN_COLUMNS, "spectrum", "switches", "details", "origins")
    record = {name: row[name] for name in names if row[name] not in (None, "", {}, [])}
    stored_record(record)
    if row["photometry"] is not None:
        _passes(read_light_file, row["photometry"], "photometry")
    if row["light_source"] == "photometric" and row["photometry"] is None:
        raise CanopyError("photometry is missing.", "photometry")
    if row["light_source"] == "map" and row["light_map"] is None:
        raise CanopyError("light_map is missing.", "light_map")
    return {}


def _piece(row: Row) -> Row:
    names = ("burned_h", "watts", "dial_table", "dead_bars", "dead_share", "dead_side")
    # its dial's kind is its fixture's; marks of a dial of any kind can be read
    _passes(lambda f: read_piece(f, "continuous"), _some(row, names))
    return _named(row)


class _Notes(Strict):
    notes: list[SaidOut | str] = Field(max_length=200)
    about: dict[str, str] = Field(max_length=60)
    agreement: list[AgreementOut] = Field(max_length=200)


def _map(row: Row) -> Row:
    _loose(row, ("notes", "about", "agreement"))
    by(_Notes, _some(row, ("notes", "about", "agreement")))
    _passes(read_map_copy, _some(row, MAP_COLUMNS))
    return {}


def _stage(row: Row) -> Row:
    _passes(read_stage, {"id": 0, **_some(row, STAGE_COLUMNS)})
    return {}


def _run(row: Row) -> Row:
    _passes(read_wishes, _some(row, WISHES) | {"started_on": row["started_on"].isoformat()})
    return {}


def _plan(row: Row) -> Row:
    if row["document"] is not None:
        _whole(read_run_file(row["document"]).ignored)
    return {}


def _whole(ignored: tuple[str, ...]) -> None:
    if ignored:
        raise CanopyError(f"document.{ignored[0]} is no field of it.", "document")


class _Locked(Strict):
    """What of a setting the past's own schema has no place for."""

    windows: list[WindowIn] = Field(max_length=12)
    locked: list[str] = Field(max_length=3)


def _setting(row: Row) -> Row:
    found = by(_Locked, _some(row, ("windows", "locked")))
    if set(found["locked"]) - {"height", "dial", "hours"}:
        raise CanopyError("locked names levers: height, dial or hours.", "locked")
    names = ("level", "group", "channel", "height_cm", "dial_pct", "watts")
    by(
        PastSettingIn,
        {"stage_id": 0, "kind": "set", "windows": [{"on_minute": 0, "hours": 1}]}
        | _some(row, names),
    )
    return found


def _hung(row: Row) -> Row:
    fields = Fields(row, "", [])
    limited(fields, LAMP_LIMITS)
    read_bars(fields, "bars_off")
    maybe(fields, "own_dial_pct", DIAL_LIMIT)
    fields.whole("group", 0, MOST_GROUPS)
    return {}


def _fit(row: Row) -> Row:
    read_kept_fit(row["document"])
    return {}


STEPS = StepName.__args__  # type: ignore[attr-defined]


def _tick(row: Row) -> Row:
    if row["step"] not in STEPS:
        raise CanopyError(f"step should be one of {', '.join(STEPS)}.", "step")
    return {"readings": by(TickIn, row["readings"], "readings")}


def _sensor(row: Row) -> Row:
    found = by(SensorIn, _some(row, tuple(SensorIn.model_fields)))
    check_sensor(found)
    return {"pairs": [list(pair) for pair in found["pairs"]]}


ENTRY = ("number", "state", "x_cm", "y_cm", "height_cm", "dial_pct", "shown", "unlit", "spread")


def _walk_entry(row: Row) -> Row:
    by(WalkEntryIn, _some(row, (*ENTRY, "at", "key")))
    if row["asked"] is None:
        return {}
    return {"asked": by(WalkAsked, row["asked"], "asked")}


def _entry(row: Row) -> Row:
    names = ("key", "kind", "at", "values", "text")
    return {"values": by(EntryIn, _some(row, names))["values"]}


def _photo(row: Row) -> Row:
    if not (1 <= row["width"] <= 20_000 and 1 <= row["height"] <= 20_000):
        raise CanopyError("width and height should be those of a picture.", "width")
    return {}


def _device(row: Row) -> Row:
    by(DeviceIn, _some(row, ("name", "kind", "off_above_c")))
    _loose(row, ("refusals", "lags", "schedule"))
    if row["schedule"] is not None:
        windows_of(row["schedule"])
    lags, refusals = row["lags"], row["refusals"]
    if not isinstance(lags, list) or not all(_is_number(lag) for lag in lags):
        raise CanopyError("lags should be a list of seconds.", "lags")
    kept = {"day": str, "reason": str, "count": int, "sentence": str}
    if not isinstance(refusals, list) or not all(
        isinstance(each, dict)
        and set(each) == set(kept)
        and all(isinstance(each[name], kind) for name, kind in kept.items())
        for each in refusals
    ):
        raise CanopyError("refusals should be days, reasons, counts and sentences.", "refusals")
    return {}


def _series(row: Row) -> Row:
    if row["quantity"] not in NAMES:
        raise CanopyError(f"quantity should be one of {', '.join(NAMES)}.", "quantity")
    if not 1 <= row["channel"] <= 8:
        raise CanopyError("channel should be from 1 to 8.", "channel")
    return {}


def _command(row: Row) -> Row:
    _loose(row, ("body",))
    body = row["body"]
    if not isinstance(body, dict) or body.get("command") not in ("set", "schedule"):
        raise CanopyError("body should be a command: set or schedule.", "body")
    if body["command"] == "schedule":
        windows_of(body)
    elif body.get("quantity") not in NAMES or not _is_number(body.get("value")):
        raise CanopyError("body should say what to set, and to what.", "body")
    return {}


def _tariff(row: Row) -> Row:
    _passes(read_tariff, _some(row, TARIFF_COLUMNS))
    return {}


KINDS: tuple[Kind, ...] = (
    Kind("racks", Rack, check=_named, most=500),
    Kind("circuits", Circuit, check=_circuit, most=100),
    Kind("spaces", Space, check=_space, most=2000, natural=("rack", "tier")),
    Kind("tariffs", Tariff, "space__owner", _tariff, parent="space", most=500),
    Kind("price_files", PriceFile, "space__owner", _prices, parent="space", most=5),
    Kind("fixtures", Fixture, check=_fixture, most=5000),
    Kind("lamps", OwnedLamp, check=_piece, most=5000),
    Kind("maps", LightMap, check=_map, most=5000),
    Kind("crops", Crop, check=_named, most=1000),
    Kind("stages", Stage, "crop__owner", _stage, parent="crop", most=400, follows=True),
    Kind("runs", Run, check=_run, most=1000),
    Kind("plans", Plan, "run__owner", _plan, parent="run", most=50, natural=("run", "number")),
    Kind(
        "run_stages",
        RunStage,
        "run__owner",
        parent="run",
        most=100,
        follows=True,
        natural=("run", "stage"),
    ),
    Kind(
        "settings",
        Setting,
        "run__owner",
        _setting,
        parent="run",
        most=20_000,
        natural=("run", "key"),
        agree=(("plan", "run", "run"),),
    ),
    Kind(
        "arrangements",
        Arrangement,
        "run__owner",
        parent="run",
        most=500,
        follows=True,
        natural=("run", "space", "fixture"),
    ),
    Kind(
        "run_lamps",
        RunLamp,
        "arrangement__run__owner",
        _hung,
        parent="arrangement",
        most=16,
        follows=True,
        natural=("arrangement", "position"),
        agree=(("piece", "fixture", "fixture"),),
    ),
    Kind("fits", Fit, check=_fit, most=5000, natural=("owner", "key")),
    Kind(
        "fit_choices",
        FitChoice,
        most=10_000,
        natural=("owner", "key"),
        agree=(("fit", "space", "space"),),
    ),
    Kind(
        "ticks",
        InstallTick,
        "run__owner",
        _tick,
        parent="run",
        most=2000,
        natural=("run", "key"),
    ),
    Kind("sensors", Sensor, check=_sensor, most=50),
    Kind("walks", Walk, key="key", most=5000, agree=(("fit", "space", "space"),)),
    Kind(
        "walk_entries",
        WalkEntry,
        "walk__owner",
        _walk_entry,
        key="key",
        parent="walk",
        most=4000,
    ),
    Kind("photos", Photo, check=_photo, key="key", parent="run", most=500),
    Kind(
        "entries",
        Entry,
        check=_entry,
        key="key",
        parent="run",
        most=50_000,
        agree=(("replaces", "run", "run"),),
    ),
    Kind(
        "devices",
        Device,
        check=_device,
        most=200,
        left_out=("token_hash", "token_made_at", "topic"),
        agree=(("piece", "fixture", "fixture"),),
    ),
    Kind(
        "series",
        Series,
        "device__owner",
        _series,
        parent="device",
        most=200,
        natural=("device", "quantity", "channel"),
    ),
    Kind(
        "commands",
        Command,
        "device__owner",
        _command,
        parent="device",
        most=500,
        natural=("device", "key"),
    ),
)

KIND_OF: dict[type[models.Model], Kind] = {kind.model: kind for kind in KINDS}

NUMBERED = ("fixtures", "lamps", "stages", "run_stages", "sensors", "photos")
"""Kinds that documents and figures of other rows name by number."""
