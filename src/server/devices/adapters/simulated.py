"""The simulated tent's lamp: its light by the core, where things are not as noted."""

import json
from collections.abc import Iterable
from datetime import date, datetime, time, timedelta
from math import cos, pi
from zoneinfo import ZoneInfo

from canopy.errors import CanopyError
from canopy.formats.pricefile import write_prices
from canopy.formats.scene import read_scene
from canopy.light.scene import scene_map
from canopy.power.hourly import HourlyPrices
from canopy.power.schedule import Switching
from server.devices.adapters.planned import PlannedDay
from server.devices.simulated.tent import Channel, Lamp, Truth
from server.runs.adapters.standing import Standing


def true_lamp(run: Standing, planned: PlannedDay, truth: Truth) -> Lamp:
    """Return the lamp of a run as it truly is, hung as planned; the sensor stands in the middle."""
    fixture = run.fixture
    try:
        ppfd = _middle_ppfd(run, planned, truth, truth.tilt_deg, truth.offset_x_cm)
    except CanopyError:
        # it would stand through a wall: then at least it hangs straight
        ppfd = _middle_ppfd(run, planned, truth, 0.0, 0.0)
    rows = [
        (row["position_pct"], row["watts_fraction"], row["light_fraction"])
        for row in fixture.dial_table
    ]
    return Lamp(fixture.watts, sorted(rows), ppfd)


def _middle_ppfd(
    run: Standing, planned: PlannedDay, truth: Truth, tilt_deg: float, offset_x_cm: float
) -> float:
    space, fixture = run.space, run.fixture
    x, y = space.width_cm / 2, space.depth_cm / 2
    scene = {
        "format": "idle-canopy/scene",
        "version": 1,
        "space": {
            "width_cm": space.width_cm,
            "depth_cm": space.depth_cm,
            "height_cm": space.height_cm,
            "walls": {
                side: {"reflectance": part, "specular_share": 0.1}
                for side, part in truth.walls.items()
            },
            "ceiling_reflectance": 0.7,
            "canopy_reflectance": 0.1,
            "canopy_cm": planned.tops_cm,
        },
        "lamps": [
            {
                "ppf_umol_s": fixture.ppf_umol_s * truth.light_scale,
                "x_cm": x + offset_x_cm,
                "y_cm": y,
                "height_cm": planned.height_cm,
                "tilt_deg": tilt_deg,
                "beam": {"cosine_power": fixture.cosine_power},
                "layout": fixture.layout,
            }
        ],
        "grid": {"at": [[x, y]]},
    }
    found, _ = read_scene(json.dumps(scene))
    return float(scene_map(found).ppfd_umol_m2_s[0])


def channels_of(windows: Iterable[Switching]) -> list[Channel]:
    """Return a schedule as the simulated controller keeps it."""
    return [
        Channel(w.channel, w.on_minute, w.off_minute, w.ramp_min, w.output_pct) for w in windows
    ]


def switchings_of(channels: Iterable[Channel]) -> list[Switching]:
    """Return the simulated controller's schedule as it is read back."""
    return [
        Switching(c.channel, c.on_minute, c.off_minute, c.ramp_min, c.output_pct) for c in channels
    ]


def day_prices(day: date, zone: ZoneInfo) -> str:
    """Return the simulated feed's prices of a day as a price file: cheap at night and at noon."""
    midnight = datetime.combine(day, time(), zone)
    end = datetime.combine(day + timedelta(days=1), time(), zone)
    hours = round((end.timestamp() - midnight.timestamp()) / 3600)
    level = 0.25 + 0.03 * cos(day.toordinal() * 1.7)
    prices = tuple(
        round(level - 0.05 * cos(2 * pi * (hour - 7) / 12) + 0.02 * cos(hour + day.day), 4)
        for hour in range(hours)
    )
    first = datetime.fromtimestamp(midnight.timestamp(), ZoneInfo("UTC"))
    return write_prices(HourlyPrices(first, prices), "EUR")
