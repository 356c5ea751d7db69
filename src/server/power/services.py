"""What can be done on Power and Install."""

from uuid import UUID

from server.common.problems import CanopyError
from server.common.rows import Expected, held, keep
from server.power.adapters.install import StepName, kept_readings
from server.power.models import InstallTick
from server.runs.models import Run
from server.runs.selectors import run_of

MOST_TICKS = 2000
"""Ticks one run can hold."""


def tick(
    run: Run,
    step: StepName,
    readings: dict[str, float | None],
    key: UUID | None = None,
    by: str = "",
) -> None:
    """Note that a step is done, with what was read and by which device; with one key once."""
    _note(run, step, True, kept_readings(step, readings), key, by)


def untick(run: Run, step: StepName, key: UUID | None = None) -> None:
    """Take a step back."""
    _note(run, step, False, {}, key)


def _note(
    run: Run,
    step: StepName,
    done: bool,
    readings: dict[str, float],
    key: UUID | None,
    by: str = "",
) -> None:
    with held(run):
        ticks = InstallTick.objects.filter(run=run)
        if ticks.count() >= MOST_TICKS:
            raise CanopyError(f"{MOST_TICKS} ticks are the most one run can hold.")
        if key is not None and ticks.filter(key=key).exists():
            return
        last = ticks.filter(step=step).order_by("id").last()
        if last is not None and (last.done, last.readings) == (done, readings):
            return
        if last is None and not done:
            return
        InstallTick.objects.create(run=run, step=step, done=done, readings=readings, key=key, by=by)


def keep_plants(run: Run, plants: int | None, expected: Expected = None) -> Run:
    """Keep how many plants share what a run costs."""
    with held(run, expected) as row:
        keep(row, plants=plants)
    return run_of(run.owner, run.pk)
