"""Setting the switches of a run's lamp, stage by stage."""

from uuid import UUID

from server.common.problems import CanopyError
from server.common.rows import held
from server.fixtures.adapters.switches import check_switch
from server.runs.adapters.lamps import rail_lamp
from server.runs.adapters.standing import StagePart, changes_in, set_beside, standing_of
from server.runs.models import Run
from server.runs.services import check_goes_on, set_planned


def set_switch(
    run: Run,
    part: StagePart,
    switch: int,
    dial_pct: float | None,
    key: UUID | None = None,
) -> None:
    """Keep where one of the lamp's switches stands at a part of a stage: 0 is off.

    Without a position it goes with the plan's dial again.
    """
    with held(run) as row:
        check_goes_on(row)
        stage_id, from_day = part.key
        if from_day and from_day not in changes_in(set_beside(row)).get(stage_id, ()):
            raise CanopyError(
                "Nothing else changes on that day; set the switch from the stage's first day, or "
                "keep a change of the levers first.",
                "from_day",
            )
        if dial_pct is None:
            if (stage_id, from_day, 0, switch) in set_beside(row):
                set_planned(row, stage_id, from_day, 0, None, key, switch)
            return
        standing = standing_of(row)
        stands = {at + 1: position for at, position in standing.switched(part).items()}
        dial = rail_lamp(standing.lamps, standing.fixture).dial()
        check_switch(standing.fixture, dial, stands | {switch: dial_pct})
        set_planned(row, stage_id, from_day, 0, {"dial_pct": dial_pct}, key, switch)
