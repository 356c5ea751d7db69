"""What a plant shows, weighed against the light it really got: causes, evidence, one thing to try.

Signs and what they are put down to: common practice, no source. Many signs have causes that are
no light at all, which are always named. It gives no plant medicine.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from canopy.words import Said, said

Cause = Literal[
    "much_light",
    "sudden_light",
    "little_light",
    "near_lamp",
    "heat",
    "water",
    "feed",
    "pests",
    "age",
]
CAUSES: tuple[Cause, ...] = get_args(Cause)
OF_LIGHT: frozenset[Cause] = frozenset({"much_light", "sudden_light", "little_light", "near_lamp"})

Outcome = Literal["better", "same", "worse"]
OUTCOMES: tuple[Outcome, ...] = ("better", "same", "worse")

Top = Literal["top", "low", "any"]

WEIGHTS: Mapping[str, Mapping[Cause, float]] = {
    "bleached": {"much_light": 6, "sudden_light": 4, "near_lamp": 3, "feed": 1, "pests": 0.5},
    "burnt": {"much_light": 3, "sudden_light": 2, "near_lamp": 4, "feed": 4, "heat": 2, "water": 1},
    "curled": {
        "much_light": 3,
        "sudden_light": 1,
        "near_lamp": 2,
        "heat": 4,
        "water": 3,
        "pests": 1.5,
    },
    "stretched": {"little_light": 6, "heat": 1.5},
    "yellow": {"little_light": 2, "feed": 4, "water": 3, "pests": 1, "age": 2, "much_light": 1},
    "pale": {"little_light": 2.5, "feed": 3, "much_light": 2, "sudden_light": 1, "water": 1},
    "brown": {"near_lamp": 2, "feed": 3, "water": 3, "heat": 2, "pests": 1, "much_light": 1},
    "wilted": {"water": 6, "heat": 3, "near_lamp": 1, "pests": 1},
    "leaning": {"little_light": 5, "water": 0.5},
    "dropped": {"little_light": 2.5, "water": 3, "age": 2, "feed": 2, "pests": 1},
    "small": {"little_light": 3, "feed": 3, "water": 1, "heat": 1},
}
"""How often a sign is put down to a cause, beside one another. Our judgement of common practice."""

LEAST = 0.25
"""What every cause that is no light counts at least: it is never left out."""

TOP_PARTS = ("tips", "upper leaves", "new leaves", "buds", "flowers", "tops")
LOW_PARTS = ("lower leaves",)
MIDDLE = ("under the lamp", "in the middle", "middle")
CORNERS = ("back left", "back right", "front left", "front right", "left", "right", "front", "back")

STRONG, SOME, AGAINST, WEAK = 3.0, 1.6, 0.4, 0.65
"""What evidence multiplies a cause by."""

NEAR_CAP, RISE, HOT_C, DRY_D, HUNGRY_D = 0.9, 1.2, 29.0, 4, 14
BETTER, NO_BETTER = 1.8, 0.5
"""What an earlier try of the same cause for the same sign makes of it."""


@dataclass(frozen=True)
class Look:
    """What was seen: a sign, where on the plant and in the tent, since when, on how many."""

    what: str
    part: str = ""
    where: str = ""
    since_days: float | None = None
    many: Literal["one", "some", "all", ""] = ""

    @property
    def height(self) -> Top:
        """Whether it is at the top of the plants, below, or anywhere."""
        if self.part in TOP_PARTS:
            return "top"
        return "low" if self.part in LOW_PARTS else "any"


@dataclass(frozen=True)
class Facts:
    """What is known of the run: light over the last days, and what the log has.

    PPFD in umol m-2 s-1, DLI in mol m-2 d-1, days since; None where nobody knows.
    ``rise`` is the last three days' light over the week's before.
    """

    dli: float | None = None
    dli_low: float = 0.0
    dli_high: float = 0.0
    peak: float | None = None
    cap: float = 0.0
    lowest_share: float | None = None
    height_cm: float | None = None
    closest_cm: float = 0.0
    rise: float | None = None
    celsius: float | None = None
    watered_days: float | None = None
    fed_days: float | None = None


@dataclass(frozen=True)
class Weighed:
    """A cause, how likely beside the others, and what speaks for and against it."""

    cause: Cause
    share: float
    speaks_for: tuple[Said, ...]
    against: tuple[Said, ...]


Tried = tuple[str, Cause, Outcome]
"""An earlier try: the sign, the cause it was put down to, and what came of it."""


@dataclass
class _Scale:
    weight: float
    speaks_for: list[Said]
    against: list[Said]

    def pro(self, by: float, why: Said) -> None:
        self.weight *= by
        self.speaks_for.append(why)

    def con(self, by: float, why: Said) -> None:
        self.weight *= by
        self.against.append(why)


def weighed(look: Look, facts: Facts, tried: tuple[Tried, ...] = ()) -> list[Weighed]:
    """Return the causes a sign may have, the likeliest first; those that are no light always too.

    A sign nobody knows has every cause alike.
    """
    known = WEIGHTS.get(look.what, dict.fromkeys(CAUSES, 1.0))
    scales: dict[Cause, _Scale] = {}
    for cause in CAUSES:
        least = 0.0 if cause in OF_LIGHT or cause == "age" else LEAST
        weight = max(known.get(cause, 0.0), least)
        if weight > 0:
            scales[cause] = _Scale(weight, [], [])
    _by_light(scales, facts)
    _by_place(scales, look, facts)
    _by_log(scales, facts)
    for what, cause, outcome in tried:
        if what == look.what and cause in scales:
            if outcome == "better":
                scales[cause].pro(BETTER, said("seen.helped"))
            else:
                scales[cause].con(NO_BETTER, said("seen.no_help"))
    total = sum(scale.weight for scale in scales.values())
    found = [
        Weighed(cause, scale.weight / total, tuple(scale.speaks_for), tuple(scale.against))
        for cause, scale in scales.items()
    ]
    return sorted(found, key=lambda each: -each.share)


def _by_light(scales: dict[Cause, _Scale], facts: Facts) -> None:
    dli, low, high = facts.dli, facts.dli_low, facts.dli_high
    much, little, sudden = (scales.get(c) for c in ("much_light", "little_light", "sudden_light"))
    if dli is not None:
        figures = {"dli": dli, "low": low, "high": high}
        if dli > high:
            _pro(much, STRONG, said("seen.dli_above", **figures))
            _con(little, AGAINST / 2, said("seen.dli_above", **figures))
        elif dli < low:
            _pro(little, STRONG, said("seen.dli_below", **figures))
            _con(much, AGAINST / 2, said("seen.dli_below", **figures))
        else:
            _con(much, WEAK, said("seen.dli_inside", **figures))
            _con(little, AGAINST, said("seen.dli_inside", **figures))
    if facts.peak is not None and facts.cap > 0:
        figures = {"peak": facts.peak, "cap": facts.cap}
        if facts.peak > facts.cap:
            _pro(much, STRONG, said("seen.peak_above", **figures))
        elif facts.peak > NEAR_CAP * facts.cap:
            _pro(much, SOME, said("seen.peak_near", **figures))
        else:
            _con(much, WEAK, said("seen.peak_below", **figures))
    if facts.rise is not None:
        if facts.rise > RISE:
            _pro(sudden, STRONG, said("seen.rose", share=facts.rise - 1))
        else:
            _con(sudden, AGAINST, said("seen.steady"))
    if facts.height_cm is not None and facts.closest_cm > 0:
        figures = {"height_cm": facts.height_cm, "closest_cm": facts.closest_cm}
        if facts.height_cm < facts.closest_cm:
            _pro(scales.get("near_lamp"), STRONG, said("seen.too_near", **figures))
        elif facts.height_cm < facts.closest_cm * 1.25:
            _pro(scales.get("near_lamp"), SOME, said("seen.near", **figures))
        else:
            _con(scales.get("near_lamp"), AGAINST, said("seen.far", **figures))


def _by_place(scales: dict[Cause, _Scale], look: Look, facts: Facts) -> None:
    bright: tuple[Cause, ...] = ("much_light", "sudden_light", "near_lamp")
    if look.height == "top":
        for cause in bright:
            _pro(scales.get(cause), SOME, said("seen.at_top"))
        _con(scales.get("age"), AGAINST / 2, said("seen.at_top"))
        _con(scales.get("little_light"), WEAK, said("seen.at_top"))
    elif look.height == "low":
        for cause in bright:
            _con(scales.get(cause), AGAINST / 2, said("seen.at_bottom"))
        _pro(scales.get("age"), SOME, said("seen.at_bottom"))
        _pro(scales.get("little_light"), SOME, said("seen.at_bottom"))
    if look.where in MIDDLE:
        for cause in bright:
            _pro(scales.get(cause), STRONG, said("seen.under_lamp"))
        _con(scales.get("little_light"), AGAINST, said("seen.under_lamp"))
        for cause in ("water", "feed"):
            _con(scales.get(cause), WEAK, said("seen.only_there"))
    elif look.where in CORNERS:
        for cause in bright:
            _con(scales.get(cause), AGAINST, said("seen.in_corner"))
        if facts.lowest_share is not None:
            share = said("seen.corner_share", share=facts.lowest_share)
            _pro(scales.get("little_light"), SOME, share)
    elif look.where == "everywhere" or look.many == "all":
        for cause in ("feed", "water", "heat"):
            _pro(scales.get(cause), SOME, said("seen.everywhere"))
    if look.many == "one":
        for cause in ("much_light", "little_light", "heat", "feed"):
            _con(scales.get(cause), WEAK, said("seen.one_plant"))
        for cause in ("pests", "water"):
            _pro(scales.get(cause), SOME, said("seen.one_plant"))


def _by_log(scales: dict[Cause, _Scale], facts: Facts) -> None:
    if facts.celsius is not None:
        if facts.celsius >= HOT_C:
            _pro(scales.get("heat"), STRONG, said("seen.hot"))
        else:
            _con(scales.get("heat"), AGAINST, said("seen.not_hot"))
    if facts.watered_days is not None:
        days = {"days": facts.watered_days}
        if facts.watered_days > DRY_D:
            _pro(scales.get("water"), SOME, said("seen.dry", **days))
        else:
            _con(scales.get("water"), WEAK, said("seen.watered", **days))
    if facts.fed_days is not None and facts.fed_days > HUNGRY_D:
        _pro(scales.get("feed"), SOME, said("seen.unfed", days=facts.fed_days))


def _pro(scale: _Scale | None, by: float, why: Said) -> None:
    if scale is not None:
        scale.pro(by, why)


def _con(scale: _Scale | None, by: float, why: Said) -> None:
    if scale is not None:
        scale.con(by, why)


def limit_is_near(look: Look) -> bool:
    """Return whether a little bleaching right under the lamp says that the limit is near."""
    few = look.many in ("", "one", "some")
    return look.what == "bleached" and look.where in MIDDLE and look.height != "low" and few
