"""A begun run's stages as lived: they begin when the grower says, later ones move along."""

from collections.abc import Iterable, Sequence
from datetime import date

from canopy.formats.growing import STAGE_LIMITS
from server.crops.models import Stage
from server.runs.models import RunStage

MOST_DAYS = int(STAGE_LIMITS["days"].high)
"""A stage can last."""


def lived_stages(stages: Sequence[Stage], lived: Iterable[RunStage], today: date) -> list[Stage]:
    """Return the stages with their days as lived; those that are to come as planned.

    One that was passed over is left out. The one the run is in lasts at least until today: until
    another begins it goes on.
    """
    lives = {life.stage_id: life for life in lived}
    begun = [k for k, stage in enumerate(stages) if _began(lives.get(stage.pk))]
    if not begun:
        return list(stages)
    found: list[Stage] = []
    for k, stage in enumerate(stages):
        life = lives.get(stage.pk)
        if life is None or life.began_on is None:
            if k > begun[-1]:
                found.append(stage)
            continue
        if life.ended_on is not None and k < begun[-1]:
            days = (life.ended_on - life.began_on).days
            if not days:
                continue
        else:
            last = life.ended_on or today
            days = max(stage.days, (last - life.began_on).days + 1)
        stage.days = min(max(days, 1), MOST_DAYS)
        found.append(stage)
    return found


def _began(life: RunStage | None) -> bool:
    return life is not None and life.began_on is not None
