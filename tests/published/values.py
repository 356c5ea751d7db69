"""Figures from outside the project, each with its source and the tolerance it is quoted to."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Published:
    """A figure, how far a right answer may be from it, and where it stands."""

    value: float
    tolerance: float
    source: str


HANDBOOK = "Howell, A Catalog of Radiation Heat Transfer Configuration Factors"
PRACTICE = "common practice, no source"

FACING_UNIT_SQUARES = Published(0.19982, 5e-5, f"{HANDBOOK}, C-11, X = Y = 1")
FACING_ONE_BY_TWO = Published(0.2859, 1e-4, f"{HANDBOOK}, C-11, X = 1, Y = 2 (from memory)")
MEETING_UNIT_SQUARES = Published(0.20004, 5e-5, f"{HANDBOOK}, C-14, equal squares")

BTU_OF_630_W = Published(2150, 5, "NIST SP 811 (2008), app. B.8: 3.412 Btu/h per W")

# (readings, their sum, mean)
MAP_MEANS = ((225, 269_346, 1197), (17, 4470, 263))
# lowest, mean, highest -> min/mean, min/max; common practice, no source
UNIFORMITY = (764, 1197, 1497, 0.64, 0.51)
# watts, mean PPFD over 1.2 x 1.2 m, canopy efficacy; common practice, no source
CANOPY_EFFICACY = ((812, 1298, 2.30), (550, 962, 2.52), (295, 536, 2.62))
# PPFD, DLI, exact hours, hours on an hourly timer, DLI then; common practice, no source
TIMER = (263, 12, 12.67, 13, 12.31)
# watts, hours, days, kWh; common practice, no source
ENERGY = (66, 13, 45, 38.61)

# kind of lamp, umol J-1 at the wall, source
_NELSON = "Nelson & Bugbee, PLoS ONE 9 (2014) e99010, table 3, from memory"
MEASURED_EFFICACY = (
    ("discharge", 1.02, f"{_NELSON}: HPS 400 and 1000 W, magnetic"),
    ("discharge", 1.70, f"{_NELSON}: HPS 1000 W, double-ended, electronic"),
    ("discharge", 1.46, f"{_NELSON}: ceramic metal halide 315 W"),
    ("tube", 0.84, f"{_NELSON}: fluorescent T8"),
    ("tube", 0.95, f"{_NELSON}: compact fluorescent"),
    ("panel", 1.70, f"{_NELSON}: the best red and blue panels"),
    ("panel", 1.10, f"{_NELSON}: a common red and blue panel"),
    ("board", 2.3, "DLC horticultural technical requirements V3.0 (2023): least 2.30, from memory"),
    ("bars", 3.0, PRACTICE),
)
# lux in one umol m-2 s-1
LUX_PER_UMOL = {"sodium": 82.0, "halide": 71.0, "tube": 74.0, "sun": 54.0}
"""Thimijan & Heins, HortScience 18 (1983) 818-822, table 3 (from memory)."""
