"""The simulated tent's lamp: its light by the core, where things are not as noted."""

import json
from collections.abc import Iterable
from datetime import date, datetime, time, timedelta
from functools import lru_cache
from math import cos, hypot, pi
from zoneinfo import ZoneInfo

from canopy.errors import CanopyError
from canopy.formats.pricefile import write_prices
from canopy.formats.scene import read_scene
from canopy.light.scene import scene_map
from canopy.power.hourly import HourlyPrices
from canopy.power.schedule import Switching
from server.devices.adapters.planned import PlannedDay
from server.devices.simulated.hand import Hand
from server.devices.simulated.tent import Channel, Lamp, Truth
from server.runs.adapters.lamps import rail_lamp
from server.runs.adapters.standing import Standing
from server.runs.adapters.switched import dial_on


def true_lamp(run: Standing, planned: PlannedDay, truth: Truth) -> Lamp:
    """Return the lamp of a run as it truly is, hung as planned; the sensor stands in the middle."""
    fixture = run.fixture
    try:
        ppfd = _middle_ppfd(run, planned, truth, truth.tilt_deg, truth.offset_x_cm)
    except CanopyError:
        # it would stand through a wall: then at least it hangs straight
        ppfd = _middle_ppfd(run, planned, truth, 0.0, 0.0)
    dimmer = dial_on(run, rail_lamp(run.lamps, fixture), run.owner.today())
    rows = [(row.position_pct, row.watts_fraction, row.light_fraction) for row in dimmer.rows]
    return Lamp(fixture.watts, sorted(rows), ppfd)


COSINE_AT = cos(pi / 3)


@lru_cache(maxsize=256)
def _shown_at(scene: str, lean: float) -> float:
    """Return the light a scene gives at its point, times what a sensor leaning on it shows."""
    found, _ = read_scene(scene)
    return float(scene_map(found).ppfd_umol_m2_s[0]) * lean


def light_in_hand(run: Standing, planned: PlannedDay, truth: Truth, hand: Hand) -> float:
    """Return what a sensor in a hand shows at full light, but for its calibration and noise."""
    spot = (hand.x_cm, hand.y_cm)
    space = run.space
    away = hypot(hand.x_cm - space.width_cm / 2, hand.y_cm - space.depth_cm / 2)
    slant = 1 - hand.height_cm / hypot(hand.height_cm, away)
    lean = 1 - truth.cosine_error * slant / (1 - COSINE_AT)
    # the lamp is hung by the sensor's height, not by the tops
    tops = min(planned.tops_cm, max(space.height_cm - hand.height_cm - 5, 0.0))
    try:
        scene = _scene(run, tops, hand.height_cm, truth, spot, truth.tilt_deg, truth.offset_x_cm)
        return _shown_at(scene, lean)
    except CanopyError:
        return _shown_at(_scene(run, tops, hand.height_cm, truth, spot, 0.0, 0.0), lean)


def _middle_ppfd(
    run: Standing, planned: PlannedDay, truth: Truth, tilt_deg: float, offset_x_cm: float
) -> float:
    middle = run.space.width_cm / 2, run.space.depth_cm / 2
    height = planned.height_cm
    return _shown_at(
        _scene(run, planned.tops_cm, height, truth, middle, tilt_deg, offset_x_cm), 1.0
    )


def _scene(
    run: Standing,
    tops_cm: float,
    height_cm: float,
    truth: Truth,
    at: tuple[float, float],
    tilt_deg: float,
    offset_x_cm: float,
) -> str:
    """Return the tent as it truly is, as a scene: a part of the lamp at its right end is dark."""
    space, fixture = run.space, run.fixture
    x, y = space.width_cm / 2, space.depth_cm / 2
    light = fixture.ppf_umol_s * truth.light_scale * truth.aged * (1 - truth.dead_share)
    # what is dark at one end moves the rest's middle towards the other
    offset_x_cm -= truth.dead_share * fixture.frame_x_cm / 2
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
            "canopy_cm": tops_cm,
        },
        "lamps": [
            {
                "ppf_umol_s": light,
                "x_cm": x + offset_x_cm,
                "y_cm": y,
                "height_cm": height_cm,
                "tilt_deg": tilt_deg,
                "beam": {"cosine_power": fixture.cosine_power},
                "layout": fixture.layout,
            }
        ],
        "grid": {"at": [list(at)]},
    }
    return json.dumps(scene)


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
