"""Looking back on a run, and starting the next one from it."""

from datetime import datetime, time, timedelta

from django.db import transaction
from django.utils import timezone

from server.common.problems import CanopyError
from server.crops.services import STAGE_COLUMNS, add_crop
from server.devices.services.watching import daily_kwh
from server.logbook.adapters.light import ledger_of
from server.logbook.adapters.stood import LightPart
from server.logbook.adapters.tops import day_of
from server.logbook.selectors import of_light, set_at_bench
from server.logbook.services.days import parts_lived
from server.readings.models import Sensor
from server.review import selectors
from server.review.adapters.drift import DriftAnswer, LitHours, drift_answer, taken_walk
from server.review.adapters.review import Kept, Review, review_of, stages_as_grown
from server.runs.adapters.season import season_of
from server.runs.adapters.standing import kept_of, standing_of
from server.runs.models import Run
from server.runs.selectors import run_of
from server.runs.services import change_run, copy_run

MOST_NAME = 80


def _now(run: Run) -> datetime:
    """Return now, or the evening a run ended on."""
    now = timezone.now()
    if run.ended_on is None:
        return now
    evening = datetime.combine(run.ended_on, time.max, tzinfo=run.owner.zone)
    return min(now, evening)


def _kept(run: Run) -> Kept | None:
    if run.begun_on is None:
        raise CanopyError("This plan has not begun: there is nothing to look back on yet.")
    now = _now(run)
    standing = standing_of(run)
    parts = parts_lived(run, standing, now)
    entries = of_light(run)
    ledger = ledger_of(run, parts, entries, set_at_bench(run), now)
    if ledger is None:
        return None
    plans = list(run.plans.defer("document").exclude(holds_from=None))
    seasons = [
        (
            max(((plan.holds_from or run.begun_on) - run.begun_on).days, 0),
            season_of(standing_of(run, plan), kept_of(run, plan)),
        )
        for plan in plans[:-1]
    ]
    first = max(((plans[-1].holds_from or run.begun_on) - run.begun_on).days, 0) if plans else 0
    seasons.append((first if seasons else 0, season_of(standing, kept_of(run))))
    last = run.ended_on or run.owner.today() - timedelta(days=1)
    return Kept(
        run=run,
        ledger=ledger,
        seasons=seasons,
        metered=daily_kwh(run, run.begun_on, last),
        signs=selectors.signs_of(run),
        fits=selectors.fits_during(run),
        measured=[
            (day_of(run, entry.at), float(entry.values["tops_cm"]))
            for entry in entries
            if entry.kind == "tops"
        ],
    )


def review(run: Run) -> Review | None:
    """Return a run looked back on; nothing where no setting of its lamp is known.

    Raises
    ------
    CanopyError
        When it has not begun.
    """
    kept = _kept(run)
    return None if kept is None else review_of(kept)


def drift(run: Run) -> DriftAnswer:
    """Return what lamp and lining have lost in a run's space, by all that was read there."""
    now = _now(run)
    sensors = {row.pk: row for row in Sensor.objects.of(run.owner)}
    taken = [taken_walk(walk, standing_of(walk.run), sensors) for walk in selectors.walks_here(run)]
    walks = sorted((walk for walk in taken if walk is not None), key=lambda walk: walk.at)
    ledgers = []
    for lived in selectors.lived_here(run):
        until = _now(lived)
        parts = parts_lived(lived, standing_of(lived), until)
        found = ledger_of(lived, parts, of_light(lived), set_at_bench(lived), until)
        if found is not None:
            ledgers.append((lived, found))
    standing = standing_of(run)
    fit = standing.learnt.tent
    days = sum(part.days for part in standing.parts)
    held = [LightPart(0, standing, part) for part in standing.parts] if days else []
    return drift_answer(
        run,
        walks,
        selectors.cleaned_here(run),
        LitHours(tuple(ledgers)),
        held,
        now,
        None if fit is None else fit.kept.read_on,
    )


def next_run(run: Run, as_grown: bool) -> Run:
    """Return a new plan from a run: its space, lamps and wishes, planned by what was learnt there.

    What fits taught of lamp and lining holds for its space by itself. With ``as_grown`` its crop is
    a copy whose stages last, and plants rise, as they did.

    Raises
    ------
    CanopyError
        When the run has not begun.
    """
    found = review(run)
    name = f"{run.name or run.crop.name}, next"[:MOST_NAME]
    with transaction.atomic():
        made = copy_run(run, name)
        if as_grown and found is not None and found.differs:
            rows = [
                {"id": stage.pk, **{n: getattr(stage, n) for n in STAGE_COLUMNS if n != "id"}}
                for stage in run.crop.stages
            ]
            stages = [
                {n: v for n, v in row.items() if n != "id"} for row in stages_as_grown(found, rows)
            ]
            called = f"{run.crop.name}, as grown"[:MOST_NAME]
            crop = add_crop(run.owner, {"name": called, "habit": run.crop.habit, "stages": stages})
            made = change_run(made, made.space, made.fixture, crop, made.over_cap)
    return run_of(run.owner, made.pk)
