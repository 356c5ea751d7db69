"""A walk's entries, as they now stand: of each spot the latest, daylight taken off."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from canopy.errors import CanopyError
from canopy.formats.maptable import MapReading, MapTable, write_map_sheet, write_map_table
from server.readings.adapters.taken import lamp_light
from server.readings.models import Walk, WalkEntry

DAYLIGHT = "daylight"


@dataclass(frozen=True)
class ShownWalk:
    """A walk with what was read; of each spot the latest."""

    key: UUID
    version: int
    removed: bool
    begun_at: datetime
    asked: dict[str, Any]
    spots: list[WalkEntry]
    fit_id: int | None


@dataclass(frozen=True)
class WalkRow:
    """A walk as lists show it."""

    key: UUID
    version: int
    removed: bool
    begun_at: datetime
    lamp: str
    readings: int
    height_cm: float | None
    dial_pct: float | None
    mean: float | None
    lowest: float | None
    highest: float | None
    fit_id: int | None


def _stands(entries: Iterable[WalkEntry]) -> list[WalkEntry]:
    """Return the latest entry of each spot by number, and all looks at daylight, in order."""
    spots: dict[int, WalkEntry] = {}
    looks = []
    for entry in entries:
        if entry.state == DAYLIGHT:
            looks.append(entry)
        else:
            spots[entry.number] = entry
    kept = [spot for _, spot in sorted(spots.items()) if spot.state != "taken_back"]
    return [*kept, *looks]


def shown_walk(walk: Walk) -> ShownWalk:
    """Return a walk as it now stands."""
    entries = list(walk.entries.all())
    asked = next(entry.asked for entry in reversed(entries) if entry.asked is not None)
    return ShownWalk(
        key=walk.key,
        version=walk.version,
        removed=walk.removed,
        begun_at=min(entry.at for entry in entries),
        asked=asked,
        spots=_stands(entries),
        fit_id=walk.fit_id,
    )


@dataclass(frozen=True)
class _Net:
    """A spot's reading by the sensor with daylight off."""

    spot: WalkEntry
    shown: float


def _net(walk: ShownWalk) -> list[_Net]:
    """Return a walk's readings; as they were shown where what was read in daylight cannot be."""
    read = [spot for spot in walk.spots if spot.state == "read"]
    if not read:
        return []

    def since(spot: WalkEntry) -> float:
        return (spot.at - walk.begun_at).total_seconds()

    rows = [
        {"x_cm": s.x_cm, "y_cm": s.y_cm, "at_s": since(s), "reading": s.shown, "unlit": s.unlit}
        for s in read
    ]
    looks = [{"at_s": since(s), "shown": s.shown} for s in walk.spots if s.state == DAYLIGHT]
    try:
        alone = lamp_light(rows, walk.asked["zero"], looks).shown
    except CanopyError:
        alone = [spot.shown or 0.0 for spot in read]
    return [_Net(spot, shown) for spot, shown in zip(read, alone)]


def fit_values(walk: ShownWalk) -> dict[str, Any] | None:
    """Return what was read on a walk as a fit takes it; nothing where nothing was read."""
    read = [spot for spot in walk.spots if spot.state == "read"]
    if not read:
        return None

    def since(spot: WalkEntry) -> float:
        return (spot.at - walk.begun_at).total_seconds()

    rows = [
        {
            "x_cm": spot.x_cm,
            "y_cm": spot.y_cm,
            "height_cm": spot.height_cm,
            "dial_pct": spot.dial_pct,
            "reading": spot.shown,
            "unlit": spot.unlit,
            "at_s": since(spot),
        }
        for spot in read
    ]
    looks = [spot for spot in walk.spots if spot.state == DAYLIGHT]
    asked = walk.asked
    return {
        **{name: asked[name] for name in ("plane_cm", "zero", "watts", "open_read", "open_now")},
        "left_out": asked["left_out"],
        "rows": rows,
        "backgrounds": [{"at_s": since(spot), "shown": spot.shown} for spot in looks],
        "daylight": asked["daylight"] == "left",
        "spots": [],
        "floor_reflectance": None,
        "edge_cm": None,
        "read_on": walk.begun_at.date(),
    }


def walk_row(walk: Walk) -> WalkRow:
    """Return a walk as lists show it: figures of the height and dial most was read at."""
    shown = shown_walk(walk)
    rows = _net(shown)
    at = Counter((row.spot.height_cm, row.spot.dial_pct) for row in rows).most_common(1)
    height, dial = at[0][0] if at else (None, None)
    light = [row.shown for row in rows if (row.spot.height_cm, row.spot.dial_pct) == (height, dial)]
    return WalkRow(
        key=shown.key,
        version=shown.version,
        removed=shown.removed,
        begun_at=shown.begun_at,
        lamp=walk.run.fixture.name,
        readings=len(rows),
        height_cm=height,
        dial_pct=dial,
        mean=sum(light) / len(light) if light else None,
        lowest=min(light, default=None),
        highest=max(light, default=None),
        fit_id=shown.fit_id,
    )


def walk_file(walk: Walk, kind: str) -> bytes:
    """Return a walk as a map table, CSV or XLSX: by the sensor, daylight off.

    Raises
    ------
    CanopyError
        When nothing was read on it.
    """
    shown = shown_walk(walk)
    rows = tuple(
        MapReading(
            x_cm=row.spot.x_cm,
            y_cm=row.spot.y_cm,
            height_cm=row.spot.height_cm,
            ppfd_umol_m2_s=round(row.shown, 2),
            dial_pct=row.spot.dial_pct,
            watts=shown.asked["watts"],
        )
        for row in _net(shown)
    )
    if not rows:
        raise CanopyError("Nothing was read on this walk yet.", "walk")
    table = MapTable(rows, {"begun": shown.begun_at.isoformat(timespec="minutes")})
    return write_map_sheet(table) if kind == "xlsx" else write_map_table(table).encode()
