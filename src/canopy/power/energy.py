"""Energy, money and heat."""

from canopy.constants import BTU_PER_H_PER_W


def energy_kwh(wall_watts: float, hours_per_day: float, days: float = 1.0) -> float:
    """Return the energy used, kWh.

    >>> round(energy_kwh(66, 13, 45), 2)
    38.61
    """
    return wall_watts * hours_per_day * days / 1000


def heat_btu_per_h(wall_watts: float) -> float:
    """Return the heat the room takes up, BTU/h: all wall power ends there.

    >>> round(heat_btu_per_h(630), -1)
    2150.0
    """
    return wall_watts * BTU_PER_H_PER_W
