"""What readings find wrong: hypotheses beside the fit's, each held against the same readings.

Each says what the readings would be if something were so: a shift, or more room for an unknown.
Its evidence (:mod:`canopy.measure.evidence`) is taken times how often such a thing is so. Tilt,
mirrors, canopy and height hardly move readings, and are never named.
"""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.light.sources import PlacedLamp
from canopy.measure.evidence import evidence
from canopy.measure.fit import Fit, Model, Values, left_out
from canopy.measure.prepared import listed
from canopy.words import Said, said

Array = NDArray[np.float64]

FindingCode = Literal["offset", "open_side", "dial", "dead_part", "slip", "weak_lamp", "sensor"]
LopsidedCode = Literal["offset", "open_side", "dead_part"]

SIDES = ("left", "right", "front", "back")

USUAL = {"open_side": 0.3, "dead_part": 0.005, "offset": 0.02, "level": 0.15}
"""How readily each is believed: chosen so that of tents drawn by chance in which all is as noted
one in fifty is accused (benchmarks/fit.py)."""

LEVEL_SD = 0.40
"""How far a wrong dial, a weak lamp or a blind sensor may put all readings off, in logarithms."""

FAR_OFFSET_CM = 7.0

LEVEL_SHARES = {"dial": 0.5, "weak_lamp": 0.3, "sensor": 0.2}
"""Which of them it is: readings alone cannot tell."""

BELIEVED = 0.5
"""What is less likely than not is not named."""

LEANS = 0.8
"""That one side is brighter than the other is given a cause only when it is believed so far."""

SLIP_SD = 4.0
"""A reading so many standard deviations off is a slip."""

SPACING_CM = 3.0
MOST_LAMPS = 6


@dataclass(frozen=True)
class Finding:
    """Something that is wrong: what, in words, and how likely, from 0 to 1."""

    code: FindingCode
    line: Said
    likelihood: float


@dataclass(frozen=True)
class _Hypothesis:
    kind: str
    detail: str
    prior: float
    shift: Array
    room: Array
    """Added covariance of the readings."""
    size: Array
    """Column of the unknown whose size is told, or none."""


def _noted(found: Fit) -> dict[str, float]:
    """Return the unknowns as they were noted."""
    return {each.name: each.mean for each in found.known}


@dataclass(frozen=True)
class _Held:
    """Readings held against what was noted: misfit, slopes, and how far it may be off by right."""

    misfit: Array
    slopes: Array
    signal: Array
    variance: Array
    weights: Array
    lit: NDArray[np.bool_]

    def evidence(self, hypothesis: _Hypothesis | None) -> tuple[float, Array, Array]:
        """Return ln of the evidence, the weighted misfit, and how far each reading was believed."""
        misfit, signal = self.misfit, self.signal
        if hypothesis is not None:
            misfit, signal = misfit - hypothesis.shift, signal + hypothesis.room
        return evidence(misfit, signal, self.variance, self.weights, self.lit)


def _held(found: Fit) -> _Held:
    readings, noted = found.readings, _noted(found)
    base, slopes = found.model.slopes(noted)
    names = [each.name for each in found.known]
    slopes[:, names.index("sensor")] = 1.0
    shown = np.log(np.maximum(readings.ppfd, 1e-3) / np.maximum(readings.light_fraction, 1e-6))
    points = readings.points_cm()
    prior = np.array([each.sd**2 for each in found.known])
    missing = left_out(found.box, points, readings.height_cm, points, readings.height_cm)
    return _Held(
        misfit=shown - base - noted["sensor"],
        slopes=slopes,
        signal=missing + (slopes * prior) @ slopes.T,
        variance=found.noise_sd**2,
        weights=found.weights,
        lit=readings.lit,
    )


@dataclass(frozen=True)
class Cause:
    """What would make one side brighter than the other, at its likeliest, from 0 to 1.

    ``side`` is where the lamp would hang too far to, the wall that would be open, or where a part
    of a lamp would give none; ``by_cm`` is how far it would hang off.
    """

    code: LopsidedCode
    side: str
    by_cm: float
    likelihood: float


@dataclass(frozen=True)
class Diagnosis:
    """What is wrong, the likeliest first, and what makes the light lopsided, likewise.

    Causes are named only where one of them is believed, whichever: by more than :data:`LEANS`.
    """

    findings: tuple[Finding, ...]
    causes: tuple[Cause, ...]


def findings(found: Fit) -> tuple[Finding, ...]:
    """Return what is wrong, the likeliest first; nothing where all is as noted."""
    return diagnosis(found).findings


def diagnosis(found: Fit) -> Diagnosis:
    """Return what is wrong, and what makes the light lopsided."""
    held = _held(found)
    hypotheses = _hypotheses(found, held)
    looked = [held.evidence(each) for each in hypotheses]
    evidence = np.array([each[0] for each in looked])
    plain = held.evidence(None)[0]
    priors = np.array([each.prior for each in hypotheses])
    odds = priors * np.exp(np.clip(evidence - plain, -60, 60))
    total = 1.0 + odds.sum()
    shares = odds / total
    lines: list[Finding] = []
    causes: list[Cause] = []
    believed = found.weights
    for kind in ("open_side", "dead_part", "offset", "level"):
        which = [k for k, each in enumerate(hypotheses) if each.kind == kind]
        if not which:
            continue
        share = float(shares[which].sum())
        at = which[int(np.argmax(shares[which]))]
        best, (_, solved, weighed) = hypotheses[at], looked[at]
        if kind != "level":
            causes.append(_cause(found, held, best, share, solved))
        if share >= BELIEVED or (share >= BELIEVED / 3 and 1 / total < 1 - BELIEVED):
            lines += _worded(found, held, best, share, solved)
            # what that explains is no slip
            believed = np.maximum(believed, weighed)
    lean = sum(each.likelihood for each in causes) >= LEANS
    return Diagnosis(
        tuple(sorted([*lines, *_slips(found, believed)], key=lambda each: -each.likelihood)),
        tuple(sorted(causes, key=lambda each: -each.likelihood)) if lean else (),
    )


def _cause(found: Fit, held: _Held, best: _Hypothesis, share: float, solved: Array) -> Cause:
    if best.kind == "offset":
        side, by = _off_side(found, held, solved)
        return Cause("offset", side, by, share)
    return Cause("open_side" if best.kind == "open_side" else "dead_part", best.detail, 0.0, share)


def _off_side(found: Fit, held: _Held, solved: Array) -> tuple[str, float]:
    """Return to which side the lamp hangs too far, and how far, in cm."""
    x, y = _offset(found, held, solved)
    side = ("right" if x > 0 else "left") if abs(x) >= abs(y) else ("back" if y > 0 else "front")
    return side, float(np.hypot(x, y))


def _worded(
    found: Fit, held: _Held, best: _Hypothesis, share: float, solved: Array
) -> list[Finding]:
    if best.kind == "open_side":
        return [Finding("open_side", said("fit.open_side", side=best.detail), share)]
    if best.kind == "dead_part":
        return [Finding("dead_part", said("fit.dead_part", side=best.detail), share)]
    if best.kind == "offset":
        side, by = _off_side(found, held, solved)
        return [Finding("offset", said("fit.offset", by_cm=by, side=side), share)]
    off = float(np.exp(_level(best, solved)) - 1)
    lines = []
    for code, part in LEVEL_SHARES.items():
        # a lamp is not stronger than its record without a cause
        if code == "weak_lamp" and off > 0:
            continue
        which = "fit.more" if off > 0 else "fit.less"
        lines.append(Finding(code, said(which, share=abs(off), what=CAUSE[code]), share * part))  # type: ignore[arg-type]
    whole = sum(each.likelihood for each in lines)
    return [replace(each, likelihood=each.likelihood * share / whole) for each in lines]


CAUSE = {
    "dial": "another dial than noted",
    "weak_lamp": "a lamp weaker than its record",
    "sensor": "the sensor's calibration",
}


def _slips(found: Fit, believed: Array) -> list[Finding]:
    readings = found.readings
    apart = np.log(np.maximum(readings.ppfd, 1e-3) / np.maximum(found.fitted, 1e-3))
    lines = []
    for k in np.flatnonzero(np.abs(apart) > SLIP_SD * found.noise_sd):
        if believed[k] > 0.5:
            continue
        line = said(
            "fit.slip",
            x_cm=float(readings.x_cm[k]),
            y_cm=float(readings.y_cm[k]),
            read=float(readings.ppfd[k]),
            expected=float(found.fitted[k]),
        )
        lines.append(Finding("slip", line, float(1 - min(believed[k], 1.0))))
    return lines


def _hypotheses(found: Fit, held: _Held) -> list[_Hypothesis]:
    count = len(found.readings.ppfd)
    none, nothing = np.zeros(count), np.zeros((count, count))
    names = [each.name for each in found.known]
    direct, other = found.model.parts(_noted(found))
    whole = np.maximum(direct.sum(axis=0) + other.sum(axis=0), 1e-9)
    hypotheses = []
    for side in range(4):
        if found.box.wall_reflectance[side] > 0:
            shift = _open_shift(found, direct, other, whole, side)
            prior = USUAL["open_side"] / 4
            hypotheses.append(_Hypothesis("open_side", SIDES[side], prior, shift, nothing, none))
    dead = dead_shifts(found.model, _noted(found), direct, other)
    for detail, shift in dead:
        prior = USUAL["dead_part"] / max(len(dead), 1) * 4
        hypotheses.append(_Hypothesis("dead_part", detail, prior, shift, nothing, none))
    columns = held.slopes[:, [names.index("offset_x"), names.index("offset_y")]]
    room = columns @ columns.T * FAR_OFFSET_CM**2
    hypotheses.append(_Hypothesis("offset", "", USUAL["offset"], none, room, none))
    for fraction in np.unique(found.readings.light_fraction):
        ones = (found.readings.light_fraction == fraction).astype(float)
        room = np.outer(ones, ones) * LEVEL_SD**2
        hypotheses.append(_Hypothesis("level", "", USUAL["level"], none, room, ones))
    return hypotheses


def _open_shift(found: Fit, direct: Array, other: Array, whole: Array, side: int) -> Array:
    left = np.zeros_like(other)
    prepared = found.model.prepared
    for height in np.unique(found.readings.height_cm):
        which = found.readings.height_cm == height
        left[:, which] = prepared.opened_at(side, float(height))[:, which]
    opened = direct.sum(axis=0) + (other * np.exp(left)).sum(axis=0)
    result: Array = np.log(np.maximum(opened, 1e-9) / whole)
    return result


def dead_shifts(
    model: Model, noted: Values, direct: Array, other: Array
) -> list[tuple[str, Array]]:
    """Return what a dead third at each of a lamp's sides takes of ln of the light, by the side.

    Parameters
    ----------
    model : Model
    noted : mapping
        Its unknowns.
    direct, other : array, shape (lamps, n)
        What :meth:`canopy.measure.fit.Model.parts` gives for them.
    """
    whole = np.maximum(direct.sum(axis=0) + other.sum(axis=0), 1e-9)
    shifts = []
    for k, lamp in enumerate(model.prepared.lamps[:MOST_LAMPS]):
        places, shares = lamp.layout.emitters(SPACING_CM)
        spans = np.ptp(places[:, :2], axis=0)
        for axis, sign in ((0, -1), (0, 1), (1, -1), (1, 1)):
            if spans[axis] < SPACING_CM * 2:
                continue
            at = places[:, axis] * sign
            dead = at > at.max() - spans[axis] / 3 + 1e-6
            kept = float(shares[~dead].sum())
            if not 0.2 < kept < 0.98:
                continue
            rest = np.zeros(len(whole))
            for height in np.unique(model.height_cm):
                which = model.height_cm == height
                rest[which] = _without(model, noted, k, (places, shares, dead), which)
            changed = whole - direct[k] - other[k] + rest + other[k] * kept
            shift = np.log(np.maximum(changed, 1e-9) / whole)
            shifts.append((_side_of(lamp, axis, sign), shift))
    return shifts


def _without(
    model: Model,
    noted: Values,
    k: int,
    parts: tuple[Array, Array, NDArray[np.bool_]],
    which: NDArray[np.bool_],
) -> Array:
    """Return the light straight from a lamp less its dead part, at points of one height."""
    places, shares, dead = parts
    lamps = model.lamps_at(noted, float(model.height_cm[which][0]))
    kept = shares[~dead]
    alone = replace(
        lamps[k],
        layout=listed(places[~dead], kept),
        ppf_umol_s=model.prepared.lamps[k].ppf_umol_s * float(kept.sum()),
    )
    others = tuple(other for i, other in enumerate(lamps) if i != k)
    points = np.ascontiguousarray(model.prepared.points_cm[which])
    return model.prepared.straight.direct_at(points, alone, others)


def _side_of(lamp: PlacedLamp, axis: int, sign: int) -> str:
    """Return towards which wall a side of a lamp looks."""
    along = lamp.frame()[axis] * sign
    if abs(along[0]) >= abs(along[1]):
        return "right" if along[0] > 0 else "left"
    return "back" if along[1] > 0 else "front"


def _level(best: _Hypothesis, solved: Array) -> float:
    """Return by how much all readings are off, in logarithms, where they are."""
    return float(LEVEL_SD**2 * (best.size @ solved))


def _offset(found: Fit, held: _Held, solved: Array) -> tuple[float, float]:
    names = [each.name for each in found.known]
    columns = held.slopes[:, [names.index("offset_x"), names.index("offset_y")]]
    x, y = (FAR_OFFSET_CM**2 + 4.0) * (columns.T @ solved)
    return float(x), float(y)
