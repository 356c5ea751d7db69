"""What a run stands on: the rows as they now are, or its own copy once it has begun."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, datetime, time
from functools import lru_cache
from itertools import accumulate
from typing import Any

from django.db.models import Max, Model, Q
from django.http import Http404

from canopy.daylight.lampday import Window
from canopy.errors import CanopyError
from canopy.formats.runfile import (
    FORMAT,
    VERSION,
    RunFile,
    read_run_file,
    run_document,
)
from canopy.formats.runfile import MOST_LAMPS as MOST_LAMPS
from canopy.plan.rack import FromAbove
from server.accounts.models import Grower
from server.crops.models import Stage
from server.fixtures.adapters import map_in_use
from server.fixtures.adapters.record import EMPTY, fixture_record
from server.fixtures.adapters.switches import standing_of_switches
from server.fixtures.models import Fixture, LightMap, OwnedLamp
from server.runs.adapters.lamps import GroupSetting, HungFixture, in_the_middle
from server.runs.adapters.learnt import NOTHING, Learnt, learnt_of
from server.runs.adapters.lived import MOST_DAYS as MOST_DAYS
from server.runs.adapters.lived import lived_stages
from server.runs.models import Plan, Run, RunLamp, Setting
from server.spaces.adapters import enclosure
from server.spaces.models import Space, Tariff

Above = Mapping[int, FromAbove]

PlannedAt = tuple[int, int, int, int]
"""Of a planned setting: its stage's id, the day it holds from, its group, and which of the lamp's
switches it is for; 0: all."""

Changes = Mapping[int, tuple[int, ...]]
"""Days within stages from which other levers are kept, by the stages' ids."""

WISHES = (
    "aim",
    "over_cap",
    "started_on",
    "on_wish",
    "on_minute",
    "rise_pct",
    "shift_days",
    "lift_cm",
    "gap_days",
    "beyond_maker",
)
BOOKKEEPING = ("id", "uuid", "owner", "created_at", "changed_at", "version", "removed")


def _columns(model: type[Model], *left_out: str) -> tuple[str, ...]:
    """Return a kind of row's columns, without what is only kept about it."""
    names = [field.name for field in model._meta.concrete_fields]
    return tuple(name for name in names if name not in (*BOOKKEEPING, *left_out))


SPACE_COLUMNS = _columns(Space, "rack", "tier", "circuit", "mount", "air")
TARIFF_COLUMNS = _columns(Tariff, "space", "holds_from")
STAGE_COLUMNS = _columns(Stage, "crop", "position")
MAP_COLUMNS = _columns(LightMap, "fixture", "about", "notes", "agreement")
LAMP_COLUMNS = _columns(RunLamp, "arrangement", "fixture", "piece", "position", "bars_off")
PIECE_COLUMNS = _columns(OwnedLamp, "fixture", "note")
"""What of a row its copy holds. A column that is new to a row and not to the copy's reader does not
pass it, so that no run can begin without it."""


@dataclass(frozen=True)
class StagePart:
    """A stage of a run, or what of it lies between two dated changes of its levers.

    ``from_day`` counts from 0 at the stage's first day.
    """

    stage: Stage
    from_day: int
    days: int

    @property
    def key(self) -> tuple[int, int]:
        """What its kept levers are known by."""
        return self.stage.pk, self.from_day

    @property
    def plant_start_cm(self) -> float:
        """How tall the plants are on its first day."""
        return self._tall_cm(self.from_day)

    @property
    def plant_end_cm(self) -> float:
        """How tall they are after its last."""
        return self._tall_cm(self.from_day + self.days)

    def _tall_cm(self, day: int) -> float:
        stage = self.stage
        share = day / stage.days
        return stage.plant_start_cm * (1 - share) + stage.plant_end_cm * share


def whole_stage(stage: Stage) -> StagePart:
    """Return a stage in one part."""
    return StagePart(stage, 0, stage.days)


@dataclass(frozen=True)
class Standing:
    """All a run is planned by. The rows of a begun run are its copy's, and never saved.

    ``hung`` is empty where the main lamp hangs once, in the middle. ``above`` is what falls
    through from a level above, by its stages' ids; where there is none it is looked up.
    ``changes`` are the days within stages, by their ids, from which other levers are kept,
    ``groups`` what is set for groups of lamps, ``switches`` where switches of its lamp stand,
    ``learnt`` the fits it is planned by.
    """

    run_id: int
    owner: Grower
    space: Space
    tariff: Tariff
    crop_name: str
    habit: str
    stages: list[Stage]
    fixture: Fixture
    hung: list[HungFixture]
    aim: str
    over_cap: bool
    started_on: date
    on_wish: str
    on_minute: int
    rise_pct: float
    shift_days: int
    lift_cm: float
    gap_days: int
    beyond_maker: bool
    above: Above | None = None
    changes: Changes = field(default_factory=dict)
    groups: Mapping[PlannedAt, GroupSetting] = field(default_factory=dict)
    switches: Mapping[PlannedAt, float] = field(default_factory=dict)
    learnt: Learnt = NOTHING

    @property
    def lamps(self) -> list[HungFixture]:
        """Its lamps where they hang.

        Raises
        ------
        CanopyError
            When its only lamp does not go in.
        """
        return self.hung or [in_the_middle(self.space, self.fixture)]

    def stage(self, stage_id: int) -> Stage:
        """Return one of its stages, or answer 404."""
        found = next((stage for stage in self.stages if stage.pk == stage_id), None)
        if found is None:
            raise Http404
        return found

    def parts_of(self, stage: Stage, also: int = 0) -> list[StagePart]:
        """Return a stage's parts in their order, one of them from another day where one is given.

        A change that lies beyond a stage made shorter since is none.
        """
        starts = sorted({0, also, *self.changes.get(stage.pk, ())})
        starts = [day for day in starts if day < stage.days]
        ends = [*starts[1:], stage.days]
        return [StagePart(stage, day, end - day) for day, end in zip(starts, ends)]

    @property
    def parts(self) -> list[StagePart]:
        """All of its stages, in parts."""
        return [part for stage in self.stages for part in self.parts_of(stage)]

    def part(self, stage_id: int, from_day: int) -> StagePart:
        """Return the part of a stage that begins on a day, or would if levers were changed then.

        Answers 404 without such a stage.

        Raises
        ------
        CanopyError
            When the stage is over by then.
        """
        stage = self.stage(stage_id)
        if not 0 <= from_day < stage.days:
            raise CanopyError(
                f"{stage.name} lasts {stage.days} days; give one of its days.", "from_day"
            )
        parts = self.parts_of(stage, from_day)
        return next(part for part in parts if part.from_day == from_day)

    def group_setting(self, part: StagePart, group: int) -> GroupSetting | None:
        """Return what is set for a group of lamps at a part of a stage: its own, or from before."""
        found = [
            (day, setting)
            for (stage_id, day, number, _), setting in self.groups.items()
            if (stage_id, number) == (part.stage.pk, group) and day <= part.from_day
        ]
        return max(found, key=lambda each: each[0])[1] if found else None

    def switched(self, part: StagePart) -> dict[int, float]:
        """Return where switches of its lamp stand at a part of a stage, counted from 0.

        Those that go with the plan's dial are left out.
        """
        found = {
            number: at
            for (stage_id, day, _, number), at in sorted(self.switches.items())
            if stage_id == part.stage.pk and day <= part.from_day
        }
        return standing_of_switches(self.fixture, found)

    def part_on(self, day: date) -> StagePart | None:
        """Return the part of a stage a day lies in; none before the run and after it."""
        left = (day - self.started_on).days
        for part in self.parts if left >= 0 else []:
            if left < part.days:
                return part
            left -= part.days
        return None


@dataclass(frozen=True)
class PartName:
    """A stage, or a part of one, as tabs name it; ``first_day`` counts from the run's."""

    id: int
    name: str
    from_day: int
    days: int
    first_day: int


@dataclass(frozen=True)
class FitNamed:
    """The fit a run is planned by; ``read_on`` is the day its readings were taken."""

    id: int
    read_on: date
    readings: int


@dataclass(frozen=True)
class MadeOf:
    """What of a run's space and crop its screens name beside the answers."""

    space: str
    crop: str
    currency: str
    timer_step_min: int
    ramp_min: int
    co2_enriched: bool
    first: date
    stages: list[PartName]
    fit: FitNamed | None


def made_of(standing: Standing) -> MadeOf:
    """Return what a run's screens name, as the run stands on it."""
    space, parts = standing.space, standing.parts
    first = accumulate((part.days for part in parts), initial=0)
    return MadeOf(
        space=space.name,
        crop=standing.crop_name,
        currency=standing.tariff.currency,
        timer_step_min=space.timer_step_min,
        ramp_min=space.ramp_min,
        co2_enriched=space.co2_enriched,
        first=standing.started_on,
        stages=[
            PartName(part.stage.pk, part.stage.name, part.from_day, part.days, day)
            for part, day in zip(parts, first)
        ],
        fit=fit_named(standing.learnt),
    )


def fit_named(learnt: Learnt) -> FitNamed | None:
    """Return the fit a run is planned by, as its screens name it."""
    if learnt.tent is None:
        return None
    kept = learnt.tent.kept
    return FitNamed(learnt.tent.id, kept.read_on, len(kept.readings))


def standing_of(run: Run, plan: Plan | None = None) -> Standing:
    """Return what a run stands on: by its latest plan, or one of those before."""
    if run.begun_on is None:
        standing = rows_now(run)
    else:
        standing = _thawed(run, file_of(run, plan))
        stages = lived_stages(standing.stages, run.lived.all(), run.owner.today())
        standing = replace(standing, stages=stages)
    kept = set_beside(run, None if plan is None else plan.number)
    learnt = _learnt(run)
    if learnt.tent is not None:
        learnt = learnt.of(enclosure(standing.space, 0.0, 0.0))
    return replace(
        standing,
        changes=changes_in(kept),
        groups=_groups_in(kept),
        switches=_switches_in(kept),
        learnt=learnt,
    )


def plans_lived(run: Run, standing: Standing) -> list[tuple[int, Standing]]:
    """Return the plans a begun run had, the last as it ``standing`` has it.

    Each from which day of the run on it held.
    """
    begun = run.begun_on
    if begun is None:
        return [(0, standing)]
    plans = list(run.plans.defer("document").exclude(holds_from=None))
    days = [max((plan.holds_from - begun).days, 0) for plan in plans if plan.holds_from]
    before = [(day, standing_of(run, plan)) for day, plan in zip(days[:-1], plans[:-1])]
    return [*before, (days[-1] if days else 0, standing)]


def _learnt(run: Run) -> Learnt:
    """Return the fits a run is planned by; what is measured after its end says nothing of it."""
    if run.ended_on is None:
        return learnt_of(run.owner, run.space_id)
    last = datetime.combine(run.ended_on, time.max, tzinfo=run.owner.zone)
    return learnt_of(run.owner, run.space_id, last)


def planned_now(
    run: Run, which: Q | None = None, until: int | None = None
) -> dict[PlannedAt, Setting]:
    """Return what is planned for a run as it now stands: of each place the last, if not let go.

    As it stood with an earlier plan where its number is given.
    """
    rows = run.settings.filter(which or Q(), kind="planned", level=0).order_by()
    if until is not None:
        rows = rows.filter(plan__number__lte=until)
    last = (
        rows.values("stage", "from_day", "group", "channel").annotate(last=Max("id")).values("last")
    )
    found = Setting.objects.filter(pk__in=last, freed=False).order_by("id")
    return {(row.stage_id, row.from_day, row.group, row.channel or 0): row for row in found}


def set_beside(run: Run, until: int | None = None) -> dict[PlannedAt, Setting]:
    """Return what is planned for a run beside its stages' levers: changes, groups, switches."""
    return planned_now(run, Q(from_day__gt=0) | Q(group__gt=0) | Q(channel__gt=0), until)


def kept_of(run: Run, plan: Plan | None = None) -> dict[tuple[int, int], Setting]:
    """Return the levers as the grower left them, by their stages' ids and days."""
    levers = Q(group=0, channel=None)
    kept = planned_now(run, levers, None if plan is None else plan.number)
    return {(stage_id, day): row for (stage_id, day, _, _), row in kept.items()}


def changes_in(kept: Iterable[PlannedAt]) -> Changes:
    """Return the days within stages from which other levers are kept."""
    changes: dict[int, tuple[int, ...]] = {}
    for stage_id, day, group, switch in kept:
        if day and not group and not switch:
            changes[stage_id] = (*changes.get(stage_id, ()), day)
    return changes


def _holds(place: PlannedAt, changes: Changes) -> bool:
    """Return whether a setting holds: one that goes with a change goes when that is taken out."""
    stage_id, day, _, _ = place
    return not day or day in changes.get(stage_id, ())


def _groups_in(kept: Mapping[PlannedAt, Setting]) -> dict[PlannedAt, GroupSetting]:
    changes = changes_in(kept)
    return {
        place: GroupSetting(row.dial_pct or 0.0, tuple(Window(**each) for each in row.windows))
        for place, row in kept.items()
        if row.group and _holds(place, changes)
    }


def _switches_in(kept: Mapping[PlannedAt, Setting]) -> dict[PlannedAt, float]:
    changes = changes_in(kept)
    return {
        place: row.dial_pct or 0.0
        for place, row in kept.items()
        if row.channel and _holds(place, changes)
    }


def hung_in(run: Run) -> list[HungFixture]:
    """Return the lamps of a plan as the grower hung them; none: its own, in the middle."""
    rows = list(
        RunLamp.objects.filter(
            arrangement__run=run,
            arrangement__space=run.space_id,
            arrangement__fixture=run.fixture_id,
        )
    )
    if not rows:
        # most plans: nothing is joined in vain
        return []
    kinds = Fixture.objects.select_related("light_map").in_bulk({row.fixture_id for row in rows})
    pieces = OwnedLamp.objects.in_bulk({row.piece_id for row in rows} - {None})
    return [
        HungFixture(
            fixture=kinds[row.fixture_id],
            bars_off=tuple(row.bars_off),
            piece=None if row.piece_id is None else pieces[row.piece_id],
            **{name: getattr(row, name) for name in LAMP_COLUMNS},
        )
        for row in rows
    ]


def rows_now(run: Run) -> Standing:
    """Return what a run is made of as its rows now are, begun or not."""
    # a price still to come holds for a run that still is to come
    first = max(run.started_on, run.owner.today())
    return Standing(
        run_id=run.pk,
        owner=run.owner,
        space=run.space,
        tariff=run.space.tariff_on(first),
        crop_name=run.crop.name,
        habit=run.crop.habit,
        stages=run.crop.stages,
        fixture=run.fixture,
        hung=hung_in(run),
        **{name: getattr(run, name) for name in WISHES},
    )


def copied(standing: Standing, above: Above) -> dict[str, Any]:
    """Return what a run stands on as the document it will keep, read once by its reader.

    ``above`` is what falls through from a level above.

    Raises
    ------
    CanopyError
        When something of it cannot be read, with what to do.
    """
    kinds = {standing.fixture.pk: standing.fixture}
    kinds |= {lamp.fixture.pk: lamp.fixture for lamp in standing.hung}
    tariff = standing.tariff
    document = {
        "format": FORMAT,
        "version": VERSION,
        "space": {name: getattr(standing.space, name) for name in SPACE_COLUMNS},
        "tariff": {name: getattr(tariff, name) for name in TARIFF_COLUMNS},
        "crop": {
            "name": standing.crop_name,
            "habit": standing.habit,
            "stages": [
                {"id": stage.pk, **{name: getattr(stage, name) for name in STAGE_COLUMNS}}
                for stage in standing.stages
            ],
        },
        "fixtures": [_fixture_copy(fixture) for fixture in kinds.values()],
        "main": standing.fixture.pk,
        "lamps": [_lamp_copy(lamp) for lamp in standing.hung],
        "above": [
            {
                "stage": stage_id,
                "dli": light.dli,
                "windows": [vars(window) for window in light.windows],
            }
            for stage_id, light in above.items()
            if light.dli > 0
        ],
        "wishes": {name: getattr(standing, name) for name in WISHES}
        | {"started_on": standing.started_on.isoformat()},
    }
    read = read_run_file(document)
    if read.ignored:
        raise CanopyError(f"A run file has no place for {read.ignored[0]}.", read.ignored[0])
    return run_document(read)


def _fixture_copy(fixture: Fixture) -> dict[str, Any]:
    record = fixture_record(fixture)
    light_map = map_in_use(fixture)
    return {
        "id": fixture.pk,
        "record": {
            name: value for name, value in record.items() if value not in (None, "", {}, [])
        },
        "light_source": fixture.light_source,
        "light_file": fixture.photometry,
        "map": light_map and {name: getattr(light_map, name) for name in MAP_COLUMNS},
    }


def _lamp_copy(lamp: HungFixture) -> dict[str, Any]:
    piece = lamp.piece
    return {
        "fixture": lamp.fixture.pk,
        "bars_off": list(lamp.bars_off),
        **{name: getattr(lamp, name) for name in LAMP_COLUMNS},
        "piece": piece
        and {"id": piece.pk, **{name: getattr(piece, name) for name in PIECE_COLUMNS}},
    }


@lru_cache(maxsize=64)
def _file(plan_id: int, made_at: datetime) -> RunFile:
    """Return a plan's copy; when it was made tells one from another of the same plan."""
    return read_run_file(Plan.objects.values_list("document", flat=True).get(pk=plan_id))


def file_of(run: Run, plan: Plan | None = None) -> RunFile:
    """Return a begun run's own copy: that of its latest plan, or of one before."""
    plan = plan or run.plans.defer("document").last()
    if plan is None:
        raise CanopyError("This run has lost its plan; copy it to a new one.")
    return _file(plan.pk, plan.made_at)


def _thawed(run: Run, file: RunFile) -> Standing:
    fixtures = {row["id"]: _thawed_fixture(run, row) for row in file.fixtures}
    return Standing(
        run_id=run.pk,
        owner=run.owner,
        space=Space(pk=run.space_id, owner=run.owner, **file.space),
        tariff=Tariff(holds_from=file.wishes["started_on"], **file.tariff),
        crop_name=file.crop["name"],
        habit=file.crop["habit"],
        stages=[
            Stage(pk=row["id"], position=i, **{name: row[name] for name in STAGE_COLUMNS})
            for i, row in enumerate(file.crop["stages"])
        ],
        fixture=fixtures[file.main],
        hung=[_thawed_lamp(run, row, fixtures[row["fixture"]]) for row in file.lamps],
        above={
            row["stage"]: FromAbove(row["dli"], tuple(Window(**each) for each in row["windows"]))
            for row in file.above
        },
        **file.wishes,
    )


def _thawed_fixture(run: Run, row: dict[str, Any]) -> Fixture:
    fixture = Fixture(
        pk=row["id"],
        owner=run.owner,
        **EMPTY | row["record"],
        photometry=row["light_file"],
        light_source=row["light_source"],
    )
    if row["map"] is not None:
        fixture.light_map = LightMap(owner=run.owner, fixture=fixture, **row["map"])
    return fixture


def _thawed_lamp(run: Run, row: dict[str, Any], fixture: Fixture) -> HungFixture:
    piece = row["piece"]
    return HungFixture(
        fixture=fixture,
        bars_off=tuple(row["bars_off"]),
        piece=piece and _thawed_piece(run, piece, fixture),
        **{name: row[name] for name in LAMP_COLUMNS},
    )


def _thawed_piece(run: Run, row: dict[str, Any], fixture: Fixture) -> OwnedLamp:
    own = {name: row[name] for name in PIECE_COLUMNS}
    return OwnedLamp(pk=row["id"], owner=run.owner, fixture=fixture, **own)


def another_lamp(standing: Standing, fixture: Fixture, hung: int) -> HungFixture:
    """Return one more lamp: in the middle, turned to fit, beside so many others.

    One of the run's own kind follows the dial, another is held at its own.

    Raises
    ------
    CanopyError
        When there are lamps enough, or it does not go in.
    """
    if hung >= MOST_LAMPS:
        raise CanopyError(f"{MOST_LAMPS} lamps are the most one space can have; take one out.")
    lamp = in_the_middle(standing.space, fixture)
    return lamp if fixture.pk == standing.fixture.pk else replace(lamp, own_dial_pct=100.0)
