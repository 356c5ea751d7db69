"""Which of a grower's lamps would do the job in a run's tent: rows to core values and back."""

from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np

from canopy.errors import CanopyError
from canopy.fixture.ageing import NO_AGEING, Ageing, MaintenancePoint, ageing
from canopy.fixture.ownership import DAYS_A_YEAR, Ownership, ownership, pareto
from canopy.plan.shelf import Candidate, Ranked, Room, Shelf, hungriest, ranked, shelf
from canopy.power.energy import heat_btu_per_h
from canopy.power.tariff import cost_of_day
from canopy.quantities import dli_mol
from server.crops.adapters import canopy_reflectance, target_of
from server.crops.models import Stage
from server.fixtures.adapters import dimmer_of, modelled
from server.fixtures.adapters.record import possible_light, sound, trust_of
from server.fixtures.models import Fixture
from server.runs.models import Run
from server.spaces.adapters import enclosure, tariff_of

DECIMALS = 1


@dataclass(frozen=True)
class ShelfWishes:
    """What the shelf is ranked by; ``None`` where there is no limit."""

    counts: tuple[int, ...] = (1,)
    years: float = 3.0
    days_a_year: float = DAYS_A_YEAR
    budget: float | None = None
    circuit_w: float | None = None
    bears_kg: float | None = None
    has_dial: bool = False


def _life(fixture: Fixture) -> Ageing:
    if fixture.life_share is None or fixture.life_h is None:
        return NO_AGEING
    return ageing((MaintenancePoint(fixture.life_share, fixture.life_h),))


def _candidate(fixture: Fixture, count: int, ppf_umol_s: float) -> Candidate:
    return Candidate(
        lamp=replace(modelled(fixture), body=None, ppf_umol_s=ppf_umol_s),
        dimmer=dimmer_of(fixture.dial_kind, fixture.dial_table),
        watts=fixture.watts,
        weight_kg=fixture.weight_kg,
        frame_x_cm=fixture.frame_x_cm,
        frame_y_cm=fixture.frame_y_cm,
        body_cm=fixture.body_cm,
        closest_cm=fixture.closest_cm,
        count=count,
    )


@dataclass(frozen=True)
class ShelfAnswer:
    """The ranked shelf: the stage it is ranked for, the floor's points, and a row a candidate."""

    stage_id: int
    stage: str
    dli_low: float
    dli_high: float
    x_cm: list[float]
    y_cm: list[float]
    rows: list[dict[str, Any]]


def hungriest_stage(run: Run) -> Stage:
    """Return the stage of a run that asks for the most light while the lamp is on."""
    stages = list(run.crop.stages.all())
    return stages[hungriest([target_of(s, run.space.co2_enriched) for s in stages])]


def shelf_of(run: Run, fixtures: list[Fixture], wishes: ShelfWishes) -> ShelfAnswer:
    """Return a grower's lamps ranked in a run's tent, those that meet every target first.

    Lamps whose claims cannot be come after all that can, and never lie on the Pareto edge.
    """
    hung = hung_shelf(run, wishes)
    rows = [
        candidate_row(run, hung, fixture, count, wishes)
        for fixture in fixtures
        for count in wishes.counts
    ]
    costs = np.array(
        [r["cost"]["total"] if r["cost"] and does_the_job(r) else np.nan for r in rows]
    )
    merits = np.array([r["inside_share"] for r in rows])
    for row, edge in zip(rows, pareto(costs, merits)):
        row["pareto"] = bool(edge)
    rows.sort(key=_order)
    return ShelfAnswer(**hung.head(), rows=rows)


@dataclass(frozen=True)
class HungShelf:
    """A run's tent at its hungriest stage, ready for lamps."""

    stage: Stage
    room: Room
    shelf: Shelf

    def head(self) -> dict[str, Any]:
        """Return what every answer about the shelf begins with."""
        x, y = self.shelf.grid.axes_cm(self.room.box.width_cm, self.room.box.depth_cm)
        return {
            "stage_id": self.stage.pk,
            "stage": self.stage.name,
            "dli_low": self.room.target.dli_low,
            "dli_high": self.room.target.dli_high,
            "x_cm": x.tolist(),
            "y_cm": y.tolist(),
        }


def hung_shelf(run: Run, wishes: ShelfWishes) -> HungShelf:
    """Return a run's tent at its hungriest stage, ready for lamps."""
    stage, space = hungriest_stage(run), run.space
    top_cm = space.pot_cm + stage.plant_end_cm
    target = target_of(stage, space.co2_enriched)
    box = enclosure(space, top_cm, canopy_reflectance(run.crop.habit))
    room = Room(
        box=box,
        room_cm=space.height_cm - top_cm - space.hangers_cm,
        target=target,
        step_min=space.timer_step_min,
        bears_kg=wishes.bears_kg,
        circuit_w=wishes.circuit_w,
    )
    return HungShelf(stage, room, shelf(room))


def does_the_job(row: dict[str, Any]) -> bool:
    """Return whether a row may be recommended: it meets every target, by claims that can be."""
    return bool(row["meets"]) and not row["cannot_be"]


def _order(row: dict[str, Any]) -> tuple[bool, bool, int, float]:
    """Order rows: those that meet every target by cost, without a price by energy, then the rest.

    Those that miss a target stand by how much of the floor they light in the band, those whose
    claims cannot be come after them, those that are kept out last.
    """
    if row["refused"] or not row["meets"]:
        place = 2, -float(row["inside_share"])
    elif row["cost"]:
        place = 0, float(row["cost"]["total"])
    else:
        place = 1, float(row["outcome"].kwh_per_day)
    return bool(row["refused"]), bool(row["cannot_be"]), *place


def candidate_row(
    run: Run, hung: HungShelf, fixture: Fixture, count: int, wishes: ShelfWishes
) -> dict[str, Any]:
    """Return what one or several of a lamp do in the tent, and cost."""
    record = sound(fixture)
    findings, price = record.findings, fixture.price
    light = possible_light(fixture, record)
    over = price is not None and wishes.budget is not None and price * count > wishes.budget
    if record.trouble:
        found = Ranked(f"Its record cannot be read: {record.trouble} Mend it in its form.")
    elif over and price is not None:
        found = Ranked(f"Costs {price * count:g}, over the budget of {wishes.budget:g}.")
    elif wishes.has_dial and fixture.dial_kind == "none":
        found = Ranked("It has no dial: only its height and its hours can be set.")
    else:
        found = _ranked(hung.room, fixture, count, light)
    row: dict[str, Any] = {
        "fixture_id": fixture.pk,
        "name": fixture.name,
        "count": count,
        "refused": found.refused,
        "meets": found.meets,
        "cannot_be": trust_of(record) == "wrong" or light < fixture.ppf_umol_s,
        "ppf_umol_s": light,
        "trust": trust_of(record),
        "findings": [asdict(finding) for finding in findings if finding.trust != "good"],
        "pareto": False,
        "setting": None,
        "outcome": None,
        "relaxed": [],
        "obstacles": [],
        "inside_share": found.inside_share,
        "reserve": found.reserve,
        "reserve_aged": 0.0,
        "ppfd_low": 0.0,
        "ppfd_high": 0.0,
        "floor": [],
        "heat_btu_per_h": 0.0,
        "cooling": record.details.get("cooling", ""),
        "purchase": None if price is None else price * count,
        "cost": None,
    }
    if found.solution is None or found.floor is None:
        return row
    setting, outcome = found.solution.setting, found.solution.outcome
    lit_h = setting.hours * wishes.days_a_year * wishes.years
    low, high = hung.room.target.ppfd_band(setting.hours)
    grid = hung.shelf.grid
    row |= {
        "setting": setting,
        "outcome": outcome,
        "relaxed": found.solution.relaxed,
        "obstacles": found.solution.obstacles,
        "reserve_aged": found.reserve * _life(fixture).share_left(lit_h),
        "ppfd_low": low,
        "ppfd_high": high,
        "heat_btu_per_h": heat_btu_per_h(outcome.watts),
        "floor": np.round(found.floor.reshape(grid.ny, grid.nx), DECIMALS).tolist(),
        "cost": None if price is None else _cost(run, fixture, price, count, found, wishes),
    }
    return row


def _ranked(room: Room, fixture: Fixture, count: int, ppf_umol_s: float) -> Ranked:
    """Return what a lamp can do; one that cannot be put to the core does not stop the others."""
    try:
        return ranked(room, _candidate(fixture, count, ppf_umol_s))
    except CanopyError as error:
        return Ranked(error.sentence)


def _cost(
    run: Run, fixture: Fixture, price: float, count: int, found: Ranked, wishes: ShelfWishes
) -> dict[str, Any]:
    assert found.solution is not None
    setting, outcome = found.solution.setting, found.solution.outcome
    kwh = outcome.kwh_per_day
    day = cost_of_day(tariff_of(run.space), run.on_minute, setting.hours, kwh)
    cost: Ownership = ownership(
        price=price,
        lamps=count,
        kwh_per_day=kwh,
        hours_per_day=setting.hours,
        per_kwh=day / kwh if kwh else 0.0,
        mol_per_day=dli_mol(found.canopy_umol_s, setting.hours),
        years=wishes.years,
        life_h=fixture.life_h,
        days_a_year=wishes.days_a_year,
    )
    return asdict(cost) | {"total": cost.total, "per_mol": cost.per_mol}
