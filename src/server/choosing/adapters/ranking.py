"""Which of a grower's lamps would do the job in a run's tent: rows to core values and back."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from canopy.errors import CanopyError
from canopy.fixture.claims import Finding
from canopy.fixture.dimming import Dimmer
from canopy.fixture.ownership import DAYS_A_YEAR, Ownership, ownership
from canopy.light.lightmap import Grid
from canopy.plan.advice import Obstacle
from canopy.plan.levers import Outcome, Setting, no_less
from canopy.plan.problem import HungLamp, StagePlace, hungriest
from canopy.plan.ranking import SHORT_SHELF, Merit, edge, exact_first, in_order
from canopy.plan.shelf import (
    NO_LIMITS,
    Candidate,
    Ranked,
    answered,
    kept_out,
    side_by_side,
)
from canopy.plan.shelf import Limits as Limits
from canopy.power.energy import heat_btu_per_h
from canopy.power.hanging import Frame
from canopy.power.tariff import Tariff, cost_of_day
from canopy.words import Said, said, worded
from server.common.words import unit_of
from server.crops.models import Stage
from server.fixtures.adapters import modelled
from server.fixtures.adapters.record import possible_light, sound, trust_of
from server.fixtures.adapters.switches import ALL_ON
from server.fixtures.models import Fixture
from server.runs.adapters.lamps import HungFixture, hung_lamp, life_of
from server.runs.adapters.planning import lamps_learnt, place_of, reach_of
from server.runs.adapters.prices import part_prices
from server.runs.adapters.standing import Standing, whole_stage

DECIMALS = 1


@dataclass(frozen=True)
class ShelfWishes:
    """What the shelf is ranked by."""

    limits: Limits = NO_LIMITS
    counts: tuple[int, ...] = (1,)
    years: float = 3.0
    days_a_year: float = DAYS_A_YEAR


@dataclass(frozen=True)
class ShelfRow:
    """One or several of a lamp in the tent.

    ``exact`` is whether it is the bench's own answer; else it is an estimate, without body, light
    file and map. ``cannot_be`` lamps are never recommended; ``ppf_umol_s`` is the light they
    were reckoned with. ``dli_aged`` is what a day still gives at the end of the chosen years, at
    full power where that takes it, in the hours it is lit.
    """

    fixture: Fixture
    count: int
    refused: str
    exact: bool
    cannot_be: bool
    ppf_umol_s: float
    trust: str
    findings: list[Finding]
    cooling: str
    price_currency: str
    purchase: float | None
    pareto: bool = False
    ranked: Ranked | None = None
    reserve_aged: float = 0.0
    dli_aged: float = 0.0
    lasts: bool = False
    heat_btu_per_h: float = 0.0
    floor: list[list[float]] = field(default_factory=list)
    floor_x_cm: list[float] = field(default_factory=list)
    floor_y_cm: list[float] = field(default_factory=list)
    cost: Ownership | None = None

    @property
    def fixture_id(self) -> int:
        """The fixture's id."""
        return self.fixture.pk

    @property
    def name(self) -> str:
        """The fixture's name."""
        return self.fixture.name

    @property
    def meets(self) -> bool:
        """Whether every target is met, as new and at the end of the chosen years."""
        return self.ranked is not None and self.ranked.meets and self.lasts

    @property
    def setting(self) -> Setting | None:
        """Its best setting."""
        return self.ranked.solution.setting if self.ranked else None

    @property
    def outcome(self) -> Outcome | None:
        """What that gives."""
        return self.ranked.solution.outcome if self.ranked else None

    @property
    def relaxed(self) -> tuple[str, ...]:
        """Targets it misses."""
        return self.ranked.solution.relaxed if self.ranked else ()

    @property
    def obstacles(self) -> tuple[Obstacle, ...]:
        """Why, and what would help."""
        return self.ranked.solution.obstacles if self.ranked else ()

    @property
    def inside_share(self) -> float:
        """Share of the floor in the band."""
        return self.ranked.inside_share if self.ranked else 0.0

    @property
    def reserve(self) -> float:
        """Light at full power over what the plan uses."""
        return self.ranked.reserve if self.ranked else 0.0

    @property
    def ppfd_low(self) -> float:
        """The band's lower end."""
        return self.ranked.ppfd_low if self.ranked else 0.0

    @property
    def ppfd_high(self) -> float:
        """The band's upper end."""
        return self.ranked.ppfd_high if self.ranked else 0.0

    def merit(self) -> Merit:
        """Return what it is judged by."""
        return Merit(
            refused=bool(self.refused),
            cannot_be=self.cannot_be,
            meets=self.meets,
            total=None if self.cost is None else self.cost.total,
            kwh_per_day=0.0 if self.outcome is None else self.outcome.kwh_per_day,
            inside_share=self.inside_share,
        )


@dataclass(frozen=True)
class ShelfAnswer:
    """The ranked shelf: the stage it is ranked for, and a row a candidate."""

    stage_id: int
    stage: str
    dli_low: float
    dli_high: float
    currency: str
    rows: list[ShelfRow]

    @property
    def x_cm(self) -> list[float]:
        """Where the points of the first floor stand; each row has its own."""
        return next((row.floor_x_cm for row in self.rows if row.floor), [])

    @property
    def y_cm(self) -> list[float]:
        """Likewise, from the front."""
        return next((row.floor_y_cm for row in self.rows if row.floor), [])


@dataclass(frozen=True)
class ShelfStage:
    """A run's hungriest stage in its tent, ready for lamps."""

    run: Standing
    stage: Stage
    place: StagePlace
    wishes: ShelfWishes

    @cached_property
    def prices(self) -> Tariff:
        """What power costs on the stage's days, looked up once for all lamps."""
        return part_prices(self.run, whole_stage(self.stage))

    def head(self) -> tuple[int, str, float, float, str]:
        """Return what every answer about it begins with: the stage, its DLI band, the money."""
        target, currency = self.place.target, self.run.tariff.currency
        return self.stage.pk, self.stage.name, target.dli_low, target.dli_high, currency

    def rows(
        self, lamps: Sequence[tuple[Fixture, int]], exact: bool = False, ahead: bool = False
    ) -> list[ShelfRow]:
        """Return what one or several of each lamp do in the tent, and cost.

        ``ahead``: exact answers are asked for next.
        """
        begun = [self._begun(fixture, count, exact) for fixture, count in lamps]
        candidates = [candidate for _, candidate in begun if candidate is not None]
        # rows of tables are read before and after, not by several threads
        found = iter(answered(self.place, candidates, exact, ahead))
        return [
            row if candidate is None else self._ended(row, next(found)) for row, candidate in begun
        ]

    def exactly(self, rows: Sequence[ShelfRow]) -> list[ShelfRow]:
        """Return rows as the bench has them."""
        return self.rows([(row.fixture, row.count) for row in rows], exact=True)

    def _begun(
        self, fixture: Fixture, count: int, exact: bool
    ) -> tuple[ShelfRow, Candidate | None]:
        """Return a lamp's row as far as it is known, and it as hung; none when it is kept out."""
        record, price = sound(fixture), self._price(fixture)
        light = possible_light(fixture, record)
        row = ShelfRow(
            fixture=fixture,
            count=count,
            refused="",
            exact=exact,
            cannot_be=trust_of(record) == "wrong" or light < fixture.ppf_umol_s,
            ppf_umol_s=light,
            trust=trust_of(record),
            findings=[finding for finding in record.findings if finding.trust != "good"],
            price_currency=self._foreign(fixture),
            cooling=record.details.get("cooling", ""),
            purchase=None if price is None else price * count,
        )
        if record.trouble is not None:
            why = said("shelf.unread", why=self._worded(record.trouble))
            return self._refused(row, why), None
        dimmer = self._dimmer(fixture)
        out = kept_out(
            self.wishes.limits,
            fixture.watts * count,
            fixture.weight_kg * count,
            row.purchase,
            dimmer,
        )
        if out is not None:
            return self._refused(row, out), None
        try:
            return row, self._candidate(fixture, count, light, dimmer, exact)
        except CanopyError as error:
            return self._refused(row, error.said), None

    def _ended(self, row: ShelfRow, found: Ranked | CanopyError) -> ShelfRow:
        """Return a row with what was answered."""
        if isinstance(found, CanopyError):
            return self._refused(row, found.said)
        return self._told(row, found)

    def _worded(self, what: Said) -> str:
        return worded(what, unit_of(self.run.owner))

    def _refused(self, row: ShelfRow, why: Said) -> ShelfRow:
        return replace(row, refused=self._worded(why))

    def _dimmer(self, fixture: Fixture) -> Dimmer:
        """Return a lamp's dial: of the run's own lamp with its switches as they stand."""
        own = fixture.pk == self.run.fixture.pk
        standing = self.run.switched(whole_stage(self.stage)) if own else ALL_ON
        return HungFixture(fixture, 0.0, 0.0).dimmer(standing)

    def _candidate(
        self, fixture: Fixture, count: int, ppf_umol_s: float, dimmer: Dimmer, exact: bool
    ) -> Candidate:
        frame = Frame(
            fixture.frame_x_cm, fixture.frame_y_cm, fixture.body_cm, fixture.closest_cm, 0.0, 0.0
        )
        frames = side_by_side(frame, count, self.place.box)
        hung = [HungFixture(fixture, f.x_cm, f.y_cm, f.turn_deg) for f in frames]
        plain = replace(modelled(fixture), ppf_umol_s=ppf_umol_s)
        return Candidate(
            plain=replace(self.run.learnt.plain(hung[0], plain), body=None),
            frames=frames,
            watts=fixture.watts * count,
            dimmer=dimmer,
            reach=reach_of(self.run, fixture),
            lamps=self._lamps(hung, ppf_umol_s / fixture.ppf_umol_s) if exact else (),
        )

    def _lamps(self, hung: Sequence[HungFixture], share: float) -> tuple[HungLamp, ...]:
        """Return lamps as the bench has them, with a share of the light they claim."""
        noted = [_lit(hung_lamp(lamp, self.run.space, lamp.fixture), share) for lamp in hung]
        return lamps_learnt(self.run, hung, noted)

    def _told(self, row: ShelfRow, found: Ranked) -> ShelfRow:
        setting = found.solution.setting
        lit_h = setting.hours * self.wishes.days_a_year * self.wishes.years
        aged, outcome = (
            found.reserve * life_of(row.fixture).share_left(lit_h),
            found.solution.outcome,
        )
        besides = self.place.daylight_dli
        dli_aged = besides + (outcome.dli - besides) * min(aged, 1.0)
        x, y = found.grid.axes_cm(self.place.box.width_cm, self.place.box.depth_cm)
        return replace(
            row,
            ranked=found,
            reserve_aged=aged,
            dli_aged=dli_aged,
            lasts=bool(no_less(dli_aged, min(self.place.target.dli_low, outcome.dli))),
            heat_btu_per_h=heat_btu_per_h(found.solution.outcome.watts),
            floor=rounded(found.floor, found.grid),
            floor_x_cm=x.tolist(),
            floor_y_cm=y.tolist(),
            cost=self._cost(row, found),
        )

    def _price(self, fixture: Fixture) -> float | None:
        """Return the price of one in the tariff's money, none without a rate for its own."""
        if fixture.price is None:
            return None
        own = fixture.price_currency or self.run.owner.currency
        return self.run.owner.exchanged(fixture.price, own, self.run.tariff.currency)

    def _foreign(self, fixture: Fixture) -> str:
        """Return the money a price is in where that is not the tariff's, else nothing."""
        own = fixture.price_currency or self.run.owner.currency
        return own if fixture.price is not None and own != self.run.tariff.currency else ""

    def _cost(self, row: ShelfRow, found: Ranked) -> Ownership | None:
        price = self._price(row.fixture)
        if price is None:
            return None
        setting, kwh = found.solution.setting, found.solution.outcome.kwh_per_day
        day = cost_of_day(self.prices, self.run.on_minute, setting.hours, kwh)
        return ownership(
            price=price,
            lamps=row.count,
            kwh_per_day=kwh,
            hours_per_day=setting.hours,
            per_kwh=day / kwh if kwh else 0.0,
            mol_per_day=found.lamp_mol_per_day,
            years=self.wishes.years,
            life_h=row.fixture.life_h,
            days_a_year=self.wishes.days_a_year,
        )


def _lit(hung: HungLamp, share: float) -> HungLamp:
    """Return a lamp with a share of the light it claims."""
    lamp = hung.lamp
    return (
        hung
        if share == 1
        else replace(hung, lamp=replace(lamp, ppf_umol_s=lamp.ppf_umol_s * share))
    )


def rounded(floor: np.ndarray, grid: Grid) -> list[list[float]]:
    rows: list[list[float]] = np.round(floor.reshape(grid.ny, grid.nx), DECIMALS).tolist()
    return rows


def shelf_stage(run: Standing, wishes: ShelfWishes) -> ShelfStage:
    """Return a run's hungriest stage in its tent, ready for lamps."""
    stages = run.stages
    places = [place_of(run, whole_stage(stage), run.on_minute) for stage in stages]
    at = hungriest(places)
    return ShelfStage(run, stages[at], places[at], wishes)


def shelf_of(
    run: Standing, fixtures: list[Fixture], wishes: ShelfWishes, whole: int, in_part: bool = False
) -> ShelfAnswer:
    """Return a grower's lamps ranked in a run's tent, those that meet every target first.

    Lamps whose claims cannot be come after all that can, and never lie on the Pareto edge. Of a
    long shelf, ``whole`` lamps in all, the first few are asked on the bench's engine before
    the list is shown, unless it is only asked in part.
    """
    hung = shelf_stage(run, wishes)
    short = whole * len(wishes.counts) <= SHORT_SHELF
    lamps = [(fixture, count) for fixture in fixtures for count in wishes.counts]
    rows = hung.rows(lamps, short, ahead=not short and not in_part)
    if in_part:
        rows = in_order(rows, ShelfRow.merit)
    else:
        rows = exact_first(rows, ShelfRow.merit, lambda row: row.exact, hung.exactly)
    on = edge([row.merit() for row in rows])
    rows = [replace(row, pareto=bool(at)) for row, at in zip(rows, on, strict=True)]
    return ShelfAnswer(*hung.head(), rows)
