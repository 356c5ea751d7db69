"""Taking back what was changed last of a plan, and of the space, crop and lamps it follows."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.core.exceptions import ObjectDoesNotExist
from django.db import transaction
from django.db.models import QuerySet
from django.http import Http404

from server.changes.models import Change
from server.changes.services import (
    Subject,
    changes_of,
    last_done,
    next_undone,
    put_back,
    subject_of,
    unnoted,
)
from server.common.problems import CanopyError
from server.common.rows import held
from server.crops.models import Crop
from server.crops.services import change_crop
from server.fixtures.models import Fixture
from server.fixtures.selectors import fixture_of, piece_of
from server.fixtures.services import fixture_as_noted
from server.runs.adapters.lamps import HungFixture
from server.runs.adapters.standing import hung_in
from server.runs.models import Run
from server.runs.selectors import run_of
from server.runs.services import SETTLED_CHANGES, check_goes_on, hang_lamps, set_planned
from server.spaces.models import Space
from server.spaces.services import space_as_noted


@dataclass(frozen=True)
class TakenBack:
    """What was taken back or made again: which side of what, and at which stage."""

    what: str
    stage_id: int | None
    group: int
    run: Run


def _subjects(run: Run) -> list[Subject]:
    """Return the rows a plan is made of; a begun run stands on its own copy of the others."""
    if run.begun_on is not None:
        return [subject_of(run)]
    fixtures = {run.fixture_id, *(lamp.fixture_id for lamp in hung_in(run))}
    return [
        subject_of(run),
        subject_of(run.space),
        subject_of(run.crop),
        *(("fixture", pk) for pk in fixtures),
    ]


def _noted(run: Run) -> QuerySet[Change]:
    rows = changes_of(run.owner, _subjects(run))
    return rows if run.begun_on is None else rows.exclude(what__in=SETTLED_CHANGES)


def undo(run: Run) -> TakenBack:
    """Take back the last change of a plan.

    Raises
    ------
    CanopyError
        When nothing is left to take back, or it cannot be any more.
    """
    return _turn(run, last_done, lambda change: change.before, undone=True)


def redo(run: Run) -> TakenBack:
    """Make again what was taken back last.

    Raises
    ------
    CanopyError
        When nothing was, or something else was changed since.
    """
    return _turn(run, next_undone, lambda change: change.after, undone=False)


def _turn(
    run: Run,
    choose: Callable[[QuerySet[Change]], Change | None],
    side: Callable[[Change], Any],
    undone: bool,
) -> TakenBack:
    refused: Exception | None = None
    with held(run) as row:
        row.owner = run.owner
        check_goes_on(row)
        change = choose(_noted(row))
        if change is None:
            raise CanopyError(
                "Nothing of this plan is left to take back."
                if undone
                else "Nothing was taken back that could be made again."
            )
        try:
            with unnoted(), transaction.atomic():
                _set(row, change, side(change))
        except (CanopyError, Http404, ObjectDoesNotExist) as error:
            refused = error
        else:
            Change.objects.filter(pk=change.pk).update(undone=undone)
    if refused is not None:
        # the one before it can still be
        change.delete()
        why = refused.sentence if isinstance(refused, CanopyError) else "A part of it is gone."
        raise CanopyError(f"The last change can no longer be turned: {why} Try the next one.")
    place = change.place
    return TakenBack(
        what=change.what,
        stage_id=place.get("stage_id"),
        group=place.get("group", 0),
        run=run_of(run.owner, run.pk),
    )


def _set(run: Run, change: Change, values: Any) -> None:
    """Let one side of a row be as it was noted."""
    match change.what:
        case "levers" | "group" | "switch":
            set_planned(run, **change.place, values=values)
        case "lamps":
            hang_lamps(run, [_lamp(run, lamp) for lamp in values])
        case "crop":
            change_crop(Crop.objects.get(pk=change.row), values)
        case "space":
            space_as_noted(Space.objects.get(pk=change.row), values)
        case "fixture" | "light":
            fixture_as_noted(Fixture.objects.get(pk=change.row), values)
        case _:
            put_back(Run.objects.get(pk=change.row), values)


def _lamp(run: Run, values: dict[str, Any]) -> HungFixture:
    rest = {**values}
    fixture_id, piece_id = rest.pop("fixture_id"), rest.pop("piece_id")
    return HungFixture(
        fixture=fixture_of(run.owner, fixture_id),
        piece=None if piece_id is None else piece_of(run.owner, piece_id),
        bars_off=tuple(rest.pop("bars_off")),
        **rest,
    )
