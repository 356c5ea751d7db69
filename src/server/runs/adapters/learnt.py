"""What fits have taught of a grower's tents and lamps, for a run that is planned.

A fit in use corrects the lamps that were read where they still hang as they did. Other lamps in
that tent take its walls from it, and the same lamp in another tent its own light.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import lru_cache

from canopy.formats.keptfit import KeptFit, WhoseLamp, opened, read_kept_fit
from canopy.light.enclosure import Enclosure
from canopy.light.sources import PlacedLamp
from canopy.measure.learnt import (
    SAME_CM,
    fit_of,
    hangs_as_read,
    lamp_learnt,
    lamp_sd,
    tent_learnt,
    walls_sd,
)
from canopy.plan.doubts import LINING_REFLECTANCE
from canopy.plan.problem import Fitted, HungLamp
from server.accounts.models import Grower
from server.runs.adapters.lamps import HungFixture
from server.runs.models import Fit, FitChoice


@dataclass(frozen=True)
class InUse:
    """A fit in use, by its row."""

    id: int
    made_at: datetime

    @property
    def kept(self) -> KeptFit:
        """Return it as it was kept."""
        return _kept(self.id, self.made_at)


@lru_cache(maxsize=64)
def _kept(fit_id: int, made_at: datetime) -> KeptFit:
    """Return a kept fit; when it was made tells one from another of the same number."""
    return read_kept_fit(Fit.objects.values_list("document", flat=True).get(pk=fit_id))


@dataclass(frozen=True)
class Learnt:
    """The fits a run is planned by: its own tent's, and those of other tents, the latest first."""

    tent: InUse | None = None
    others: tuple[InUse, ...] = field(default=())

    def of(self, box: Enclosure) -> "Learnt":
        """Return what holds in a tent as it is noted: rebuilt or lined anew it is another."""
        if self.tent is None or same_tent(self.tent.kept.scene.box, box):
            return self
        return Learnt(None, (self.tent, *self.others))

    def box(self, box: Enclosure) -> Enclosure:
        """Return the box of the tent as it is noted with what was learnt of its walls."""
        if self.tent is None:
            return box
        kept = self.tent.kept
        return tent_learnt(fit_of(kept.taken())).of(opened(box, kept.open_now))

    def as_noted(self, box: Enclosure) -> Enclosure:
        """Return the box with the wall open that stays open."""
        return box if self.tent is None else opened(box, self.tent.kept.open_now)

    def lamps(
        self, hung: Sequence[HungFixture], lamps: Sequence[HungLamp], tall: Enclosure
    ) -> tuple[HungLamp, ...]:
        """Return a run's lamps with what was learnt of them.

        ``tall`` is the box of the tent as it is noted, where it is highest above the tops.
        """
        if self.tent is None and not self.others:
            return tuple(lamps)
        found = list(lamps)
        fitted = self._as_read(hung, lamps)
        for k, number in fitted.items():
            assert self.tent is not None
            taken = self.tent.kept.taken()
            own = Fitted(taken, number, self.as_noted(tall))
            found[k] = replace(lamps[k], fitted=own, measured=None)
        for k, lamp in enumerate(found):
            if k not in fitted:
                found[k] = self._inherited(hung[k], lamp)
        return tuple(found)

    def plain(self, hung: HungFixture, lamp: PlacedLamp) -> PlacedLamp:
        """Return a lamp as its record has it with what was learnt of it, if anything was."""
        found = self._own(hung)
        return lamp if found is None else lamp_learnt(fit_of(found[0].taken()), found[1], lamp)

    def _own(self, hung: HungFixture) -> tuple[KeptFit, int] | None:
        """Return the fit that has read a lamp, and which of its lamps it is."""
        for fit in (self.tent, *self.others):
            kept = None if fit is None else fit.kept
            for number, whose in enumerate(() if kept is None else kept.whose):
                if kept is not None and _same_piece(whose, hung):
                    return kept, number
        return None

    def _as_read(self, hung: Sequence[HungFixture], lamps: Sequence[HungLamp]) -> dict[int, int]:
        """Return which of a run's lamps are which of the fit's; none where one was moved."""
        if self.tent is None:
            return {}
        kept = self.tent.kept
        matched: dict[int, int] = {}
        for number, (whose, read) in enumerate(zip(kept.whose, kept.scene.lamps)):
            at = next(
                (
                    k
                    for k, lamp in enumerate(lamps)
                    if k not in matched
                    and _same_piece(whose, hung[k])
                    and hangs_as_read(read, lamp.lamp)
                ),
                None,
            )
            if at is None:
                return {}
            matched[at] = number
        first = min(read.height_cm for read in kept.scene.lamps)
        lowest = min(lamps[k].raise_cm for k in matched)
        for k, number in matched.items():
            above = kept.scene.lamps[number].height_cm - first
            if abs(lamps[k].raise_cm - lowest - above) > SAME_CM:
                return {}
        return matched

    def _inherited(self, hung: HungFixture, lamp: HungLamp) -> HungLamp:
        known = lamp.known
        if self.tent is not None:
            left = walls_sd(fit_of(self.tent.kept.taken())) / LINING_REFLECTANCE
            known = replace(known, lining=min(left, 1.0), learnt=True)
        own = self._own(hung)
        if own is None:
            return replace(lamp, known=known)
        kept, number = own
        found, sure = fit_of(kept.taken()), kept.whose[number].piece is not None
        known = replace(known, ppf_sd=lamp_sd(found, number, sure), learnt=True)
        return replace(lamp, lamp=lamp_learnt(found, number, lamp.lamp), known=known, measured=None)


NOTHING = Learnt()


def same_tent(read: Enclosure, now: Enclosure) -> bool:
    """Return whether a tent has the floor and the walls it was read with."""
    return (
        abs(read.width_cm - now.width_cm) < SAME_CM
        and abs(read.depth_cm - now.depth_cm) < SAME_CM
        and read.wall_reflectance == now.wall_reflectance
        and read.wall_mirror_share == now.wall_mirror_share
    )


def _same_piece(whose: WhoseLamp, lamp: HungFixture) -> bool:
    """Return whether a lamp that was read may be one that hangs here."""
    if whose.fixture != lamp.fixture_id:
        return False
    return whose.piece == lamp.piece_id or None in (whose.piece, lamp.piece_id)


def learnt_of(owner: Grower, space_id: int, until: datetime | None = None) -> Learnt:
    """Return the fits in use for a space, now or as they were at a moment."""
    rows = FitChoice.objects.filter(owner=owner)
    if until is not None:
        rows = rows.filter(created_at__lte=until)
    latest: dict[int, InUse | None] = {}
    for row in rows.order_by("id").values_list("space_id", "fit_id", "fit__created_at"):
        space, fit, made_at = row
        latest.pop(space, None)
        latest[space] = None if fit is None else InUse(fit, made_at)
    tent = latest.pop(space_id, None)
    return Learnt(tent, tuple(fit for fit in reversed(latest.values()) if fit is not None))
