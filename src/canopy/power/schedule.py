"""When a timer's or controller's channels are on, and how that differs from the plan.

Times are minutes after midnight of the wall clock; a window that ends when it begins lasts all
day.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from canopy.power.install import clock_words
from canopy.words import Said, said

OUTPUT_AGREES_PCT = 2.0
"""A dial and a controller's output that differ by less are the same. Our judgement."""


@dataclass(frozen=True, order=True)
class Switching:
    """A channel is on from a minute of the day until another, at an output.

    Parameters
    ----------
    channel : int
        From 1.
    on_minute, off_minute : int
        0 to 1439; equal: all day.
    ramp_min : int
        It takes so long to come up and to go down, within the window.
    output_pct : float
    """

    channel: int
    on_minute: int
    off_minute: int
    ramp_min: int = 0
    output_pct: float = 100.0


def differences(read: Iterable[Switching], planned: Iterable[Switching]) -> tuple[Said, ...]:
    """Return what of a schedule is other than planned, channel by channel; nothing when all is so.

    >>> differences([Switching(1, 300, 1080)], [Switching(1, 360, 1080)])[0].code
    'device.comes_on'
    """
    has, wants = _by_channel(read), _by_channel(planned)
    found: list[Said] = []
    for channel in sorted(has.keys() | wants.keys()):
        found += _of_channel(channel, has.get(channel, []), wants.get(channel, []))
    return tuple(found)


def _by_channel(windows: Iterable[Switching]) -> dict[int, list[Switching]]:
    found: dict[int, list[Switching]] = {}
    for window in sorted(windows):
        found.setdefault(window.channel, []).append(window)
    return found


def _of_channel(channel: int, has: Sequence[Switching], wants: Sequence[Switching]) -> list[Said]:
    if len(has) != len(wants):
        return [said("device.windows", channel=channel, read=_spans(has), planned=_spans(wants))]
    found: list[Said] = []
    for mine, plan in zip(has, wants):
        for code, read, planned in (
            ("device.comes_on", mine.on_minute, plan.on_minute),
            ("device.goes_off", mine.off_minute, plan.off_minute),
        ):
            if read != planned:
                figures = {"read": clock_words(read), "planned": clock_words(planned)}
                found.append(said(code, channel=channel, **figures))
        if abs(mine.output_pct - plan.output_pct) > OUTPUT_AGREES_PCT:
            outputs = {"read": mine.output_pct, "planned": plan.output_pct}
            found.append(said("device.output", channel=channel, **outputs))
        if mine.ramp_min != plan.ramp_min:
            ramps = {"read": mine.ramp_min, "planned": plan.ramp_min}
            found.append(said("device.ramp", channel=channel, **ramps))
    return found


def _spans(windows: Sequence[Switching]) -> str:
    spans = [f"{clock_words(w.on_minute)} to {clock_words(w.off_minute)}" for w in windows]
    return " and ".join(spans) or "off all day"
