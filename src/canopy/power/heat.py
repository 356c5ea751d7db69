"""Where the lamp's heat goes. Watts, m3 an hour, kelvin; degrees Celsius."""

from dataclasses import dataclass

from canopy.errors import CanopyError

AIR_KG_M3 = 1.204
"""Dry air at 20 degrees and 101.325 kPa; its density by the ideal gas law, 287.05 J/(kg K)."""

AIR_J_KG_K = 1006.0
"""Specific heat of dry air at constant pressure near 20 degrees; from memory of ASHRAE
Fundamentals."""

WATTS_PER_FLOW_K = AIR_KG_M3 * AIR_J_KG_K / 3600
"""W for each m3/h and kelvin."""

M3_H_PER_CFM = 1.699011
"""Exact factors of NIST SP 811 (2008), appendix B.8: 1 ft3/min is 4.719 474e-4 m3/s."""

DRIVER_SHARE = 0.08
"""Of the wall's watts turn to heat in the driver. Common practice, no source."""

SINK_RISE_K = (18.0, 30.0)
DRIVER_RISE_K = 35.0
"""Heat sink and driver over the room after warm-up. Common practice, no source."""


def rise_k(watts: float, flow_m3_h: float) -> float:
    """Return by how much air that carries off so many watts gets warmer.

    >>> round(rise_k(630, 250), 1)
    7.5

    Raises
    ------
    CanopyError
        When no air moves.
    """
    if flow_m3_h <= 0:
        raise CanopyError("Say how much air the fan moves; without any the tent only warms up.")
    return watts / (WATTS_PER_FLOW_K * flow_m3_h)


def flow_m3_h(watts: float, rise: float) -> float:
    """Return the air that carries off so many watts when it gets so many kelvin warmer.

    >>> round(flow_m3_h(630, 5))
    374
    """
    if rise <= 0:
        raise CanopyError("Say how many degrees warmer the tent may be, above 0.", "rise_k")
    return watts / (WATTS_PER_FLOW_K * rise)


def tent_watts(lamp_watts: float, drivers_outside: bool, other_watts: float = 0.0) -> float:
    """Return what of the heat the tent's air takes up."""
    return lamp_watts * (1 - DRIVER_SHARE * drivers_outside) + other_watts


@dataclass(frozen=True)
class Warmth:
    """How warm it gets while the lamp is on; rises over the room, and of the room.

    ``room_rise_k`` is not known without the room's own change of air.
    """

    tent_watts: float
    room_watts: float
    tent_rise_k: float | None
    room_rise_k: float | None
    wanted_flow_m3_h: float | None


def warmth(
    lamp_watts: float,
    drivers_outside: bool = False,
    other_watts: float = 0.0,
    fan_m3_h: float | None = None,
    room_m3_h: float | None = None,
    wanted_rise_k: float | None = None,
) -> Warmth:
    """Return how warm tent and room get.

    Parameters
    ----------
    lamp_watts : float
        From the wall.
    drivers_outside : bool
    other_watts : float
        Of what else runs in the tent.
    fan_m3_h : float, optional
        Air through the tent.
    room_m3_h : float, optional
        Air through the room the tent stands in, from outdoors.
    wanted_rise_k : float, optional
        What the tent may be warmer than the room.
    """
    inside = tent_watts(lamp_watts, drivers_outside, other_watts)
    everything = lamp_watts + other_watts
    return Warmth(
        inside,
        everything,
        rise_k(inside, fan_m3_h) if fan_m3_h else None,
        rise_k(everything, room_m3_h) if room_m3_h else None,
        flow_m3_h(inside, wanted_rise_k) if wanted_rise_k else None,
    )


def heating_saved(kwh: float, heated_share: float, heat_per_kwh: float) -> float:
    """Return what the lamp's heat saves where the room is heated meanwhile.

    ``heated_share`` of the lit hours the room is heated, at so much a kWh of heat.
    """
    return kwh * heated_share * heat_per_kwh


def too_warm(sink_c: float, driver_c: float | None, room_c: float) -> tuple[bool, bool]:
    """Return whether heat sink and driver are warmer over the room than lamps usually get."""
    return (
        sink_c - room_c > SINK_RISE_K[1],
        driver_c is not None and driver_c - room_c > DRIVER_RISE_K,
    )
