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
