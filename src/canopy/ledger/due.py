"""What is to be done at the tent today, and why.

Days count from the run's first, 0. What a person need not do is not asked: a lamp that keeps all
targets until the next trip stays where it is, whatever day the plan had it moved.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, field
from typing import Literal

from canopy.daylight.lampday import Window, windows_words
from canopy.fixture.dimming import DialKind
from canopy.plan.between import Between
from canopy.plan.upkeep import Levers, Proposal, Reason, Upkeep
from canopy.words import Said, said

DueKind = Literal["set", "timer", "stage", "harvest", "cut", "seen", "look", "walk", "tops"]
ORDER: tuple[DueKind, ...] = (
    "set",
    "timer",
    "stage",
    "harvest",
    "cut",
    "seen",
    "look",
    "walk",
    "tops",
)

TOPS_EVERY, WALK_EVERY = 7, 42
"""Days between two looks at the tops, and between two walks with the sensor. Our judgement."""

LOOK_AFTER, LOOK_UNTIL = 2, 6
"""Plants answer a change in two or three days. Common practice, no source."""

SEEN_AFTER, SEEN_UNTIL = 3, 8
CUT_UNTIL = 3
STAGE_AHEAD = 3
"""So many days before a stage is to begin it is told."""

SAME_LIGHT = 0.08
"""A day's light that differs by less from the plan's asks for no trip. Our judgement."""

SAME_CM, SAME_DIAL = 0.75, 0.5


@dataclass(frozen=True)
class Standing:
    """How the lamp was set last, and on which day its height or dial was."""

    lamp_cm: float
    dial_pct: float
    windows: tuple[Window, ...]
    set_day: int

    @property
    def hours(self) -> float:
        """For how long it is on."""
        return sum(window.hours for window in self.windows)


@dataclass(frozen=True)
class Planned:
    """What the plan has for a day; ``asked_day``: when it last moved lamp or dial."""

    above_tops_cm: float
    dial_pct: float
    windows: tuple[Window, ...]
    dli: float
    asked_day: int

    @property
    def hours(self) -> float:
        """For how long the lamp is on."""
        return sum(window.hours for window in self.windows)


@dataclass(frozen=True)
class ToSet:
    """Levers as they are to stand; height above the tops as they are today."""

    height_cm: float
    lamp_cm: float
    dial_pct: float
    windows: tuple[Window, ...]


@dataclass(frozen=True)
class Due:
    """One thing to do.

    Parameters
    ----------
    kind : str
    key : str
        The same as long as it is the same thing: what is not needed is not asked again.
    day : int
        When; before today it is late.
    lines : tuple of Said
        What to do.
    why : Said, optional
    to_set : ToSet, optional
        What the levers are set to.
    holds_days : int, optional
        For how many days that is known to last.
    """

    kind: DueKind
    key: str
    day: int
    lines: tuple[Said, ...]
    why: Said | None = None
    to_set: ToSet | None = None
    holds_days: int | None = None


@dataclass(frozen=True)
class Dial:
    """How a lamp's dial is spoken of."""

    kind: DialKind
    light: Between

    def said(self, dial_pct: float) -> Said:
        """Return how to set it."""
        watts = self.light.watts(dial_pct)
        if self.kind == "unmarked":
            return said("season.meter", watts=watts)
        return said("season.dial", dial_pct=dial_pct, watts=watts)


def stays(upkeep: Upkeep, stands: Levers) -> Said:
    """Return that nothing is to be done, for how long, and what comes then."""
    lasts = upkeep.lasts(stands)
    reason = f"_{lasts.fails[0]}" if lasts.fails else ""
    return said(f"today.stays{reason}", days=float(lasts.days))


def lines_to_set(now: Levers, to: Levers, tops_cm: float, dial: Dial) -> tuple[Said, ...]:
    """Return what there is to do to get from levers to others; nothing where they are the same."""
    lines = []
    by = to.lamp_cm - now.lamp_cm
    if abs(by) > SAME_CM:
        lines.append(
            said(
                "season.raise" if by > 0 else "season.lower",
                by_cm=abs(by),
                lamp_cm=to.lamp_cm,
                height_cm=to.lamp_cm - tops_cm,
            )
        )
    if abs(to.dial_pct - now.dial_pct) > SAME_DIAL:
        lines.append(dial.said(to.dial_pct))
    return tuple(lines)


FAILS: dict[Reason, str] = {
    "clearance": "due.near",
    "hot_spot_cap": "due.bright",
    "dli_low": "due.little",
    "dli_high": "due.much",
}


def why_fails(reason: Reason, in_days: int, late: int = 0) -> Said:
    """Return why levers do not last, now, since some days, or from a day on."""
    when = "late" if late > 0 else "soon" if in_days > 0 else "now"
    days = {"days": float(late or in_days)} if when != "now" else {}
    return said(f"{FAILS[reason]}_{when}", **days)


def levers_due(
    today: int,
    now: Standing,
    planned: Planned,
    upkeep: Upkeep,
    dial: Dial,
    gap_days: int,
    failing_since: int | None,
) -> Due | None:
    """Return what is to be done with lamp and dial; nothing while they can stay.

    ``failing_since`` is the day since which they fail as they hang, where they do.
    """
    stands = Levers(now.lamp_cm, now.dial_pct, planned.hours)
    tops = float(upkeep.rising.likely_cm[0])
    lasts = upkeep.lasts(stands)
    dli = float(upkeep.light.dli(stands.lamp_cm - tops, stands.dial_pct, stands.hours))
    moved = planned.asked_day > now.set_day and abs(dli - planned.dli) > SAME_LIGHT * planned.dli
    soon = lasts.days < min(gap_days, len(upkeep.rising.likely_cm))
    if not moved and not soon:
        return None
    best = upkeep.proposed(stands, planned.dli, gap_days)
    if moved:
        as_planned = Levers(tops + planned.above_tops_cm, planned.dial_pct, planned.hours)
        kept = upkeep.lasts(as_planned)
        if kept.days >= min(gap_days, best.lasts.days):
            best = Proposal(as_planned, kept, planned.dli)
    lines = lines_to_set(stands, best.levers, tops, dial)
    if not lines or (best.lasts.days <= lasts.days and not moved):
        if lasts.days or not lasts.fails:
            return None
        # nothing else helps either: said once, with what stands in the way
        return Due(
            "set",
            f"stuck:{lasts.fails[0]}:{now.set_day}",
            today,
            (said(f"due.stuck_{lasts.fails[0]}"),),
        )
    late = max(today - failing_since, 0) if failing_since is not None and not lasts.days else 0
    if soon:
        why = why_fails(lasts.fails[0], lasts.days, late)
        code: str = lasts.fails[0]
    else:
        late = today - planned.asked_day
        why = said("due.planned_late", days=float(late)) if late else said("due.planned")
        code = "planned"
    at = best.levers
    return Due(
        kind="set",
        key=f"set:{code}:{now.set_day}:{planned.asked_day}",
        day=today - late if late else today + (lasts.days if soon else 0),
        lines=lines,
        why=why,
        to_set=ToSet(at.lamp_cm - tops, at.lamp_cm, at.dial_pct, now.windows),
        holds_days=best.lasts.days,
    )


def timer_due(
    today: int, now: Standing, planned: Planned, step_min: int, tops_cm: float
) -> Due | None:
    """Return that the timer is to be set otherwise, where it is."""
    half = step_min / 2
    same = len(now.windows) == len(planned.windows) and all(
        abs(a.hours - b.hours) * 60 < half and _apart(a.on_minute, b.on_minute) < half
        for a, b in zip(now.windows, planned.windows)
    )
    if same:
        return None
    times = windows_words(planned.windows)
    was = windows_words(now.windows) if now.hours else ""
    return Due(
        kind="timer",
        key=f"timer:{times}",
        day=today,
        lines=(said("season.timer", times=times),),
        why=said("due.timer", times=was, hours=planned.hours) if was else None,
        to_set=ToSet(now.lamp_cm - tops_cm, now.lamp_cm, now.dial_pct, planned.windows),
    )


def _apart(a: float, b: float) -> float:
    """Return how far two minutes of the day are apart, over midnight too."""
    by = abs(a - b) % 1440
    return min(by, 1440 - by)


@dataclass(frozen=True)
class Lately:
    """What was done lately, by the run's days; None: never.

    ``changed`` is when height, dial or hours were set otherwise, ``noted`` when plants were looked
    at and something was written of it, ``seen`` when a symptom was, ``tried`` when something was
    tried for one, ``cut`` when power went.
    ``growing`` tells whether the tops still rise.
    """

    tops: int | None = None
    walk: int | None = None
    changed: int | None = None
    noted: int | None = None
    seen: int | None = None
    tried: int | None = None
    cut: int | None = None
    growing: bool = True


def looks_due(today: int, lately: Lately) -> list[Due]:
    """Return what is to be looked at and measured."""
    found: list[Due] = []
    cut = lately.cut
    if cut is not None and today - cut < CUT_UNTIL:
        found.append(Due("cut", f"cut:{cut}", cut, (said("due.cut"),)))
    # what was tried for it has to show first
    tried = _since(lately.tried, -1 if lately.seen is None else lately.seen - 1)
    seen = lately.tried if tried else lately.seen
    if (
        seen is not None
        and SEEN_AFTER <= today - seen <= SEEN_UNTIL
        and not _since(lately.noted, seen)
    ):
        days = float(today - seen)
        line = said("due.tried" if tried else "due.seen", days=days)
        found.append(Due("seen", f"seen:{seen}", seen + SEEN_AFTER, (line,)))
    changed = lately.changed
    if (
        changed is not None
        # how a run begins is no change
        and changed > 0
        and LOOK_AFTER <= today - changed <= LOOK_UNTIL
        and not _since(lately.noted, changed)
        and not found
    ):
        days = float(today - changed)
        found.append(
            Due("look", f"look:{changed}", changed + LOOK_AFTER, (said("due.look", days=days),))
        )
    if lately.walk is None:
        found.append(Due("walk", "walk:first", today, (said("due.walk_first"),)))
    elif today - lately.walk >= WALK_EVERY:
        days = float(today - lately.walk)
        line = said("due.walk", days=days)
        found.append(Due("walk", f"walk:{lately.walk}", lately.walk + WALK_EVERY, (line,)))
    if lately.tops is None:
        found.append(Due("tops", "tops:first", today, (said("due.tops_first"),)))
    elif lately.growing and today - lately.tops >= TOPS_EVERY:
        days = float(today - lately.tops)
        line = said("due.tops", days=days)
        found.append(Due("tops", f"tops:{lately.tops}", lately.tops + TOPS_EVERY, (line,)))
    return found


def _since(day: int | None, after: int) -> bool:
    return day is not None and day > after


def stage_due(
    today: int, name: str, ends_day: int, following: str | None, number: int
) -> Due | None:
    """Return that another stage is to begin, or the run to end, by the plan.

    ``ends_day`` is the first day on which the present one is over, ``number`` tells stages apart.
    """
    ahead = ends_day - today
    if ahead > STAGE_AHEAD:
        return None
    when = "soon" if ahead > 0 else "late" if ahead < 0 else "now"
    figures: dict[str, float | str] = {} if when == "now" else {"days": float(abs(ahead))}
    if following is None:
        line = said(f"due.harvest_{when}", stage=name, **figures)
        return Due("harvest", f"harvest:{number}", ends_day, (line,))
    if when != "soon":
        figures["before"] = name
    line = said(f"due.stage_{when}", stage=following, **figures)
    return Due("stage", f"stage:{number}", ends_day, (line,))


def in_order(today: int, found: Sequence[Due | None], answered: Collection[str]) -> list[Due]:
    """Return what is due, without what was answered: today's first, then as it comes."""
    left = [due for due in found if due is not None and due.key not in answered]
    return sorted(left, key=lambda due: (max(due.day, today), ORDER.index(due.kind)))


@dataclass(frozen=True)
class Away:
    """What holds while nobody comes for some days.

    Parameters
    ----------
    asked_days, days : int
        How many days were asked for, and for how many it holds.
    lines : tuple of Said
        What to set before going, if anything, and how long it holds.
    to_set : ToSet, optional
    """

    asked_days: int
    days: int
    lines: tuple[Said, ...] = field(default_factory=tuple)
    to_set: ToSet | None = None


def away(days: int, now: Standing, planned: Planned, upkeep: Upkeep, dial: Dial) -> Away:
    """Return one setting that holds while nobody comes, or for how long the best does.

    ``upkeep`` looks at no more days than that; fewer where another stage begins meanwhile.
    """
    stands = Levers(now.lamp_cm, now.dial_pct, planned.hours)
    tops, ahead = float(upkeep.rising.likely_cm[0]), len(upkeep.rising.likely_cm)
    lasts = upkeep.lasts(stands)
    if lasts.days >= ahead:
        return Away(days, ahead, (_held(days, ahead, "away.holds"),))
    best = upkeep.proposed(stands, planned.dli, ahead)
    lines = lines_to_set(stands, best.levers, tops, dial)
    if best.lasts.days <= lasts.days or not lines:
        reason = said(f"away.stops_{lasts.fails[0]}", days=float(lasts.days))
        return Away(days, lasts.days, (reason,))
    at = best.levers
    to_set = ToSet(at.lamp_cm - tops, at.lamp_cm, at.dial_pct, now.windows)
    if best.lasts.days >= ahead:
        return Away(days, ahead, (*lines, _held(days, ahead, "away.then")), to_set)
    reason = said(f"away.stops_{best.lasts.fails[0]}", days=float(best.lasts.days))
    return Away(days, best.lasts.days, (*lines, reason), to_set)


def _held(asked: int, ahead: int, code: str) -> Said:
    """Return that it holds for all the days, or until another stage begins meanwhile."""
    if ahead < asked:
        return said("away.stage", days=float(ahead))
    return said(code, days=float(asked))
