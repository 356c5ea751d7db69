"""What may be behind what was seen on plants, by the run's own light and log; and what to try."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np

from canopy.crop.symptoms import OF_LIGHT as OF_LIGHT
from canopy.crop.symptoms import Cause as Cause
from canopy.crop.symptoms import Facts, Look, Tried, Weighed, limit_is_near, weighed
from canopy.crop.symptoms import Outcome as Outcome
from canopy.ledger.due import Dial, ToSet, lines_to_set
from canopy.plan.upkeep import Levers, Proposal, Upkeep
from canopy.words import Said, said
from server.logbook.adapters.light import Ledger
from server.logbook.adapters.stood import part_on
from server.logbook.adapters.today import Day
from server.logbook.adapters.tops import day_of
from server.logbook.models import Entry
from server.runs.models import Run

LATELY, BEFORE = 3, 7
LESS, MORE = 0.8, 1.2
"""How much of the light is tried instead: enough to show. Common practice, no source."""

SAME = 0.02
"""A share of the light that nobody sees."""

FED = ("fed", "feed")


@dataclass(frozen=True)
class Change:
    """One thing to try: in words, and where the levers are to stand if it is light."""

    lines: tuple[Said, ...]
    to_set: ToSet | None


@dataclass(frozen=True)
class CauseShown:
    """A cause with what speaks for and against it, and what to do about it."""

    cause: Cause
    name: Said
    share: float
    speaks_for: tuple[Said, ...]
    against: tuple[Said, ...]
    change: Change


@dataclass(frozen=True)
class SeenAnswer:
    """What may be behind a sign, the likeliest first; ``note`` where it says more than that."""

    causes: list[CauseShown]
    note: Said | None
    how: Said


def look_of(entry: Entry) -> Look:
    """Return what was seen as the core's."""
    values = entry.values
    many = values.get("many")
    return Look(
        what=str(values.get("what", "")),
        part=str(values.get("part", "")),
        where=str(values.get("where", "")),
        since_days=values.get("since_days"),
        many=many if many in ("one", "some", "all") else "",
    )


def facts_of(run: Run, entry: Entry, ledger: Ledger | None, log: Sequence[Entry]) -> Facts:
    """Return what is known of a run as something was seen; ``log`` are its entries before that."""
    known = Facts() if ledger is None else _light(ledger)
    at = day_of(run, entry.at)

    def since(*words: str) -> float | None:
        days = [
            at - day_of(run, each.at)
            for each in log
            if each.kind == "water" and any(word in each.text.lower() for word in words)
        ]
        return round(min(days)) if days else None

    warm = [e for e in log if e.kind == "temperature" and at - day_of(run, e.at) <= LATELY]
    return replace(
        known,
        celsius=float(warm[-1].values["celsius"]) if warm else None,
        watered_days=since("water", "fed", "feed"),
        fed_days=since(*FED),
    )


def _light(ledger: Ledger) -> Facts:
    """Return what the ledger knows of the last days, and of the lamp as it hangs."""
    day = ledger.today
    part, stood = part_on(ledger.parts, day), ledger.stood_on(day)
    dli = ledger.found.mean_of_last(day - 1, LATELY) if day else None
    before = ledger.found.mean_of_last(day - 1 - LATELY, BEFORE) if day > LATELY else None
    known = Facts(
        dli=dli,
        dli_low=part.target.dli_low,
        dli_high=part.target.dli_high,
        cap=part.target.hot_spot_cap,
        closest_cm=part.problem.lowest_cm,
        rise=dli / before if dli is not None and before else None,
    )
    if stood is None:
        return known
    above = stood.lamp_cm - float(ledger.lived.rising(np.array([ledger.until]))[0])
    space = part.light.space
    h = int(np.abs(space.heights_cm - above).argmin())
    d = int(np.abs(space.dials_pct - stood.dial_pct).argmin())
    return replace(
        known,
        peak=float(part.light.peak(above, stood.dial_pct)),
        lowest_share=float(space.evenness[h, d]),
        height_cm=above,
    )


def tried_before(log: Sequence[Entry], until: datetime) -> tuple[Tried, ...]:
    """Return what was tried before a moment, and came of it; ``log`` of all runs, oldest first."""
    signs = {str(e.key): str(e.values.get("what", "")) for e in log if e.kind == "symptom"}
    causes = {str(e.values.get("of")): e.values.get("cause") for e in log if e.kind == "try"}
    found: list[Tried] = []
    for each in log:
        of = str(each.values.get("of"))
        if each.kind == "outcome" and each.at <= until and of in signs and of in causes:
            found.append((signs[of], causes[of], each.values["what"]))
    return tuple(found)


def seen_of(day: Day, entry: Entry, facts: Facts, tried: tuple[Tried, ...]) -> SeenAnswer:
    """Return what may be behind what was seen, with one thing to try for each cause."""
    look = look_of(entry)
    found = weighed(look, facts, tried)
    of_light = found[0].cause in OF_LIGHT
    return SeenAnswer(
        causes=[_shown(day, each, facts) for each in found],
        note=said("seen.limit") if limit_is_near(look) else None,
        how=said("seen.try_light") if of_light else said("seen.try_other"),
    )


def _shown(day: Day, found: Weighed, facts: Facts) -> CauseShown:
    return CauseShown(
        cause=found.cause,
        name=said(f"seen.cause_{found.cause}"),
        share=found.share,
        speaks_for=found.speaks_for,
        against=found.against,
        change=_change(day, found.cause, facts),
    )


def _change(day: Day, cause: Cause, facts: Facts) -> Change:
    if cause not in OF_LIGHT:
        return Change((said(f"seen.do_{cause}"),), None)
    stands, planned, part = day.stands, day.planned, day.part
    if stands is None or planned is None:
        plain = "seen.do_raise" if cause == "near_lamp" else "seen.do_ease"
        share = {"much_light": LESS, "little_light": MORE}.get(cause)
        line = said(plain) if share is None else _share(cause, share)
        return Change((line,), None)
    now = Levers(stands.lamp_cm, stands.dial_pct, stands.hours)
    upkeep = day.upkeep(7)
    tops = float(upkeep.rising.likely_cm[0])
    dli = float(part.light.dli(now.lamp_cm - tops, now.dial_pct, now.hours))
    low, high = part.target.dli_low, part.target.dli_high
    match cause:
        case "much_light":
            aim = max(LESS * dli, min(low, dli))
        case "little_light":
            aim = min(MORE * dli, max(high, dli))
        case "sudden_light":
            aim = dli / facts.rise if facts.rise else LESS * dli
        case _:
            aim = dli
    best = _nearest(upkeep, now, aim)
    gives = best.dli / dli if dli > 0 else 1.0
    # what is said is what the levers give, not what was aimed at
    if cause == "little_light" and gives < 1 + SAME:
        return Change((said("seen.no_more"),), None)
    if cause in ("much_light", "sudden_light") and gives > 1 - SAME:
        return Change((said("seen.no_less"),), None)
    first = {
        "near_lamp": said("seen.do_raise"),
        "sudden_light": said("seen.do_ease"),
    }.get(cause) or _share(cause, gives)
    levers = best.levers
    lines = lines_to_set(now, levers, tops, Dial(part.problem.dimmer.kind, part.light))
    if not lines:
        return Change((first,), None)
    to_set = ToSet(levers.lamp_cm - tops, levers.lamp_cm, levers.dial_pct, stands.windows)
    return Change((first, *lines), to_set)


def _nearest(upkeep: Upkeep, now: Levers, aim_dli: float) -> Proposal:
    """Return of one lever moved, or both, what lasts a week and comes nearest to an aim."""
    found = [upkeep.dimmed(now, aim_dli), upkeep.raised(now, aim_dli), upkeep.both(now, aim_dli)]
    left = [each for each in found if each is not None]
    most = max(each.lasts.days for each in left)
    lasting = [each for each in left if each.lasts.days == most]
    off = min(abs(each.dli - aim_dli) for each in lasting)
    # one lever before both, where it comes about as near
    return next(e for e in lasting if abs(e.dli - aim_dli) <= off + 0.05 * aim_dli)


def _share(cause: Cause, share: float) -> Said:
    return said("seen.do_less" if cause == "much_light" else "seen.do_more", share=share)
