"""Reading which steps are done."""

from server.accounts.models import Grower
from server.power.models import InstallTick
from server.runs.models import Run


def ticks_of(run: Run) -> dict[str, InstallTick]:
    """Return the last tick of each step that is done."""
    last = {tick.step: tick for tick in InstallTick.objects.filter(run=run)}
    return {step: tick for step, tick in last.items() if tick.done}


def begun_installs(grower: Grower) -> dict[int, set[str]]:
    """Return the steps that are done of every run that has begun or some step of which is."""
    done: dict[int, dict[str, bool]] = {
        pk: {}
        for pk in Run.objects.of(grower)
        .filter(begun_on__isnull=False, ended_on=None, removed=False)
        .values_list("pk", flat=True)
    }
    ticks = InstallTick.objects.filter(run__owner=grower, run__removed=False, run__ended_on=None)
    for tick in ticks.order_by("id"):
        done.setdefault(tick.run_id, {})[tick.step] = tick.done
    return {pk: {step for step, well in steps.items() if well} for pk, steps in done.items()}
