"""What the watts at the plug say of the light, where there is no light sensor.

Watts tell how far a dial is turned and whether a driver still works; they tell nothing of old
LEDs, dirt or lining. Powers in W.
"""

from dataclasses import dataclass
from math import exp, hypot, log

from canopy.constants import NINETY
from canopy.errors import CanopyError
from canopy.fixture.dimming import Dimmer
from canopy.measure.dialcurve import DROOP, DROOP_SD, WATTS_SD
from canopy.words import Said, said

AGREES = 0.03
"""A plug-in meter and a driver together are seldom closer. Common practice, no source."""


@dataclass(frozen=True)
class BySocket:
    """What the lamp gives by its watts: shares of its full light, with the 90 % range.

    ``change`` is how far that is from what the dial was to give, as a share.
    """

    expected_watts: float
    planned: float
    low: float
    middle: float
    high: float
    change: float
    line: Said


def by_socket(watts: float, dial_pct: float, dimmer: Dimmer, full_watts: float) -> BySocket:
    """Return what the watts at the plug say of the light.

    From what the dial's table has there, light goes with watts as in dimmed lamps.

    Parameters
    ----------
    watts : float
        At the plug, of one lamp or of several alike together.
    dial_pct : float
        Where the dial stands.
    dimmer : Dimmer
    full_watts : float
        At the dial's highest position.

    Raises
    ------
    CanopyError
        When the lamp draws nothing there, or was to draw nothing, or more than twice its watts.
    """
    share = watts / full_watts
    if share <= 0:
        raise CanopyError("The meter shows nothing: is the lamp on?", "watts")
    if share > 2:
        raise CanopyError(
            f"{watts:g} W is more than twice what this lamp draws at full, {full_watts:g} W; "
            "look whether something else hangs on the meter.",
            "watts",
        )
    planned_watts = float(dimmer.watts_fraction(dial_pct))
    planned = float(dimmer.light_fraction(dial_pct))
    if planned_watts <= 0 or planned <= 0:
        raise CanopyError(f"At dial {dial_pct:g} the lamp gives no light; turn it up.", "dial_pct")
    apart = log(share / planned_watts)
    change = exp(DROOP * apart) - 1
    sd = hypot(DROOP_SD * apart, DROOP * WATTS_SD)
    middle = planned * (1 + change)
    expected = planned_watts * full_watts
    return BySocket(
        expected_watts=expected,
        planned=planned,
        low=middle * exp(-NINETY * sd),
        middle=middle,
        high=middle * exp(NINETY * sd),
        change=change,
        line=_line(watts, expected, apart, change, dial_pct, dimmer),
    )


def _line(
    watts: float, expected: float, apart: float, change: float, dial_pct: float, dimmer: Dimmer
) -> Said:
    if abs(apart) <= AGREES:
        return said("socket.agrees", watts=watts)
    positions = dimmer.positions_pct()
    # what a dial that goes no further cannot mend is not to be mended by it
    end = dial_pct >= positions[-1] if apart < 0 else dial_pct <= positions[0]
    code = ("socket.less" if apart < 0 else "socket.more") + ("_full" if end else "")
    return said(code, watts=watts, expected=expected, share=abs(change))
