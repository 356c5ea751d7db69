"""Fixture files (`*.fixture.json`): one lamp's whole record. Grammar: docs/formats/fixture.md."""

import json
from dataclasses import dataclass
from typing import Any, Final, get_args

from canopy.errors import CanopyError
from canopy.fixture.dimming import DialKind, DialRow, Dimmer
from canopy.fixture.record import (
    DETAIL_LIMITS,
    DETAIL_TEXTS,
    DETAIL_WORDS,
    FIGURES,
    KINDS,
    MOST_CHARACTERS,
    ORIGINS,
    RECORD_TEXTS,
    Limit,
    Origin,
    check_depth,
    check_frame,
    check_heights,
    details_of,
)
from canopy.fixture.switches import MOST_SWITCHES, Switch, check_switches
from canopy.formats.layout import read_layout
from canopy.formats.photometric import MOST_ANGLES, MOST_INTENSITIES, MOST_NAME
from canopy.formats.reader import Fields, check_texts, checked, load_json, number
from canopy.light.beam import CandelaBeam
from canopy.light.spectrum import (
    CCT_K,
    GRID_NM,
    MOST_POINTS,
    POWER,
    USUAL_CRI,
    WAVELENGTH_NM,
    Channel,
    Spectrum,
    lamp_spectrum,
    mixed_spectrum,
)

FORMAT: Final = "idle-canopy/fixture"
VERSION: Final = 1
MOST_CHANNELS = 12
MOST_NOTES = 50
MOST_SWITCH_NAME: Final = 30
DIALS: Final[tuple[str, ...]] = get_args(DialKind)
ORIGIN_WORDS: Final[tuple[str, ...]] = get_args(Origin)


@dataclass(frozen=True)
class FixtureFile:
    """A fixture file as read: the record by name, its light file, and fields nobody knows."""

    record: dict[str, Any]
    light_file: dict[str, Any] | None
    ignored: tuple[str, ...]


def spectrum_of(fields: Fields) -> Spectrum:
    """Return the spectrum in a JSON object: channels, an older lamp by name, or a table.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    given = [name for name in ("channels", "lamp", "wavelength_nm") if name in fields]
    if len(given) != 1:
        raise CanopyError(
            f"{fields.path} should have either channels, lamp or wavelength_nm with power.",
            fields.path,
        )
    match given[0]:
        case "lamp":
            key = fields.raw("lamp")
            spectrum: Spectrum = checked(lambda: lamp_spectrum(str(key)), fields.path)
        case "channels":
            channels = channels_of(fields)
            spectrum = checked(lambda: mixed_spectrum(channels), fields.path)
        case _:
            nm = fields.numbers("wavelength_nm", *WAVELENGTH_NM, MOST_POINTS)
            power = fields.numbers("power", 0, POWER[1], MOST_POINTS)
            spectrum = checked(lambda: Spectrum(nm, power), fields.path)
    fields.done()
    return spectrum


def channels_of(fields: Fields) -> list[Channel]:
    """Return the whites and colours of a spectrum that is given by them; none of any other.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    if "channels" not in fields:
        return []
    rows, where = fields.items("channels", MOST_CHANNELS), fields.name_of("channels")
    return [_channel(Fields(row, f"{where}.{i}", fields.ignored)) for i, row in enumerate(rows)]


def read_switches(fields: Fields) -> list[Switch]:
    """Return a lamp's switches, in the order they are counted in; most have none.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    rows = fields.items("switches", MOST_SWITCHES) if fields.raw("switches", None) else []
    where = fields.name_of("switches")
    return [_switch(Fields(row, f"{where}.{i}", fields.ignored)) for i, row in enumerate(rows)]


def _switch(fields: Fields) -> Switch:
    name = _text(fields, "name", MOST_SWITCH_NAME, ...)
    if not name:
        raise CanopyError("A switch needs a name, like whites or reds.", fields.name_of("name"))
    found = Switch(
        name=name,
        watts_share=fields.number("watts_share", 0.001, 0.999),
        dimmed=fields.word("dial", ("with", "none"), "with") == "with",
        fan=fields.flag("fan"),
    )
    fields.done()
    return found


def _switch_row(switch: Switch) -> dict[str, Any]:
    return {
        "name": switch.name,
        "watts_share": switch.watts_share,
        "dial": "with" if switch.dimmed else "none",
        "fan": switch.fan,
    }


def _channel(fields: Fields) -> Channel:
    channel = Channel(
        share=fields.number("share", 1e-6, 1000),
        cct_k=fields.number("cct_k", *CCT_K) if "cct_k" in fields else None,
        cri=fields.number("cri", 0, 100, default=USUAL_CRI),
        peak_nm=fields.number("peak_nm", GRID_NM[0], GRID_NM[-1]) if "peak_nm" in fields else None,
        # counted from 1, as people count
        switch=fields.whole("switch", 0, MOST_SWITCHES, 0) - 1,
    )
    fields.done()
    return channel


def _limited(fields: Fields, limits: dict[str, Limit]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, limit in limits.items():
        value = fields.raw(name) if limit.needed else fields.raw(name, None)
        if value is not None or limit.needed:
            where = fields.name_of(name)
            found[name] = number(value, where, limit.low, limit.high)
    return found


def _text(fields: Fields, name: str, most: int, default: Any = "") -> str:
    return _text_of(fields.raw(name, default), fields.name_of(name), most)


def _text_of(value: Any, where: str, most: int) -> str:
    if not isinstance(value, str) or len(value) > most:
        raise CanopyError(f"{where} should be a text of at most {most} characters.", where)
    try:
        check_texts(value, where)
    except CanopyError as error:
        raise error.at(where) from error
    return value.strip()


def _details(fields: Fields) -> dict[str, Any]:
    found = _limited(fields, DETAIL_LIMITS)
    for name in DETAIL_TEXTS:
        if name in fields:
            found[name] = _text(fields, name, MOST_CHARACTERS)
    for name, words in DETAIL_WORDS.items():
        if name in fields:
            found[name] = fields.word(name, ("", *words))
    fields.done()
    checked(lambda: details_of(found), fields.path)
    return found


def _dial(fields: Fields) -> dict[str, Any]:
    kind = fields.word("dial_kind", DIALS)
    rows = []
    for i, row in enumerate(fields.items("dial_table", 101)):
        cells = Fields(row, f"dial_table.{i}", fields.ignored)
        rows.append(
            {
                "position_pct": cells.number("position_pct", 0, 100),
                "watts_fraction": cells.number("watts_fraction", 0, 1),
                "light_fraction": cells.number("light_fraction", 0, 1),
            }
        )
        cells.done()
    Dimmer(kind, tuple(DialRow(**row) for row in rows))  # type: ignore[arg-type]
    return {"dial_kind": kind, "dial_table": rows}


def _notes(fields: Fields) -> list[str]:
    value, where = fields.raw("notes", []), fields.name_of("notes")
    if not isinstance(value, list) or len(value) > MOST_NOTES:
        raise CanopyError(f"{where} should be a list of at most {MOST_NOTES} texts.", where)
    return [_text_of(note, f"{where}.{i}", 500) for i, note in enumerate(value)]


def read_light_file(fields: Fields) -> dict[str, Any]:
    """Return the table of intensities in a JSON object, every figure within its limits.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    rows = fields.items("values", MOST_ANGLES)
    many = sum(len(row) for row in rows if isinstance(row, list))
    if many > MOST_INTENSITIES:
        where = fields.name_of("values")
        raise CanopyError(f"{where} has {many} intensities; {MOST_INTENSITIES} at most.", where)
    where = fields.name_of("values")
    values = [
        [number(v, f"{where}[{i}]", 0, 1e12) for v in row] if isinstance(row, list) else []
        for i, row in enumerate(rows)
    ]
    vertical = fields.numbers("vertical_deg", 0, 180, MOST_ANGLES)
    horizontal = fields.numbers("horizontal_deg", 0, 450, MOST_ANGLES)
    checked(
        lambda: CandelaBeam(vertical, horizontal, tuple(tuple(row) for row in values)), fields.path
    )
    found = read_light_head(fields) | {
        "vertical_deg": list(vertical),
        "horizontal_deg": list(horizontal),
        "values": values,
    }
    fields.done()
    return found


def read_light_head(fields: Fields) -> dict[str, Any]:
    """Return what a light file says besides its table, every figure within its limits.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    watts, ppf = fields.raw("watts", None), FIGURES["ppf_umol_s"]
    return {
        "name": _text(fields, "name", MOST_NAME),
        "ppf_umol_s": fields.number("ppf_umol_s", ppf.low, ppf.high),
        "width_cm": fields.number("width_cm", 0, 1000),
        "length_cm": fields.number("length_cm", 0, 1000),
        "watts": None if watts is None else fields.number("watts", 0, 20_000),
        "notes": _notes(fields),
    }


def read_fixture_record(fields: Fields) -> dict[str, Any]:
    """Return the record in a JSON object, every figure within its limits.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    name = _text(fields, "name", 80, ...)
    if not name:
        raise CanopyError("The lamp's name is empty.", "name")
    record: dict[str, Any] = {
        "name": name,
        "kind": fields.word("kind", KINDS),
        **{name: _text(fields, name, most) for name, most in RECORD_TEXTS.items()},
        "layout": fields.raw("layout"),
        **_limited(fields, FIGURES),
        **_dial(fields),
    }
    layout = read_layout(fields.object("layout"))
    check_frame(layout, record["frame_x_cm"], record["frame_y_cm"])
    check_depth(layout, record["closest_cm"], record["body_cm"])
    check_heights(record.get("maker_low_cm"), record.get("maker_high_cm"))
    if fields.raw("spectrum", None) is not None:
        spectrum_of(fields.object("spectrum"))
        record["spectrum"] = fields.raw("spectrum")
    switches = read_switches(fields)
    if switches:
        colours = Fields(record.get("spectrum", {}), "spectrum", [])
        check_switches(switches, channels_of(colours))
        record["switches"] = [_switch_row(switch) for switch in switches]
    if fields.raw("details", None) is not None:
        record["details"] = _details(fields.object("details"))
    if fields.raw("origins", None) is not None:
        origins = fields.object("origins")
        record["origins"] = {
            figure: origins.word(figure, ORIGIN_WORDS) for figure in ORIGINS if figure in origins
        }
        origins.done()
    return record


def read_fixture_file(text: str) -> FixtureFile:
    """Return the lamp in a fixture file.

    Raises
    ------
    CanopyError
        With the field's name and what to do.
    """
    ignored: list[str] = []
    fields = Fields(load_json(text.lstrip("\ufeff"), "The fixture file"), "", ignored)
    if fields.raw("format", None) != FORMAT:
        raise CanopyError(f'This is no fixture file: its format should be "{FORMAT}".', "format")
    if fields.raw("version", None) != VERSION:
        raise CanopyError(f"Only version {VERSION} of fixture files can be read.", "version")
    record = read_fixture_record(fields)
    light_file = None
    if fields.raw("light_file", None) is not None:
        light_file = read_light_file(fields.object("light_file"))
    fields.done()
    return FixtureFile(record, light_file, tuple(ignored))


def write_fixture_file(record: dict[str, Any], light_file: dict[str, Any] | None = None) -> str:
    """Return a record as a fixture file that `read_fixture_file` takes back unchanged."""
    kept = {name: value for name, value in record.items() if value not in (None, "", {}, [])}
    whole = {"format": FORMAT, "version": VERSION, **kept}
    if light_file is not None:
        whole["light_file"] = light_file
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"
