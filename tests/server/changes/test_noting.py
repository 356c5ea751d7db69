"""What is noted of a row, and how it is written back."""

from datetime import date

import pytest

from server.changes.models import Change
from server.changes.services import (
    MOST_CHANGES,
    changes_of,
    forget,
    keep_noted,
    last_done,
    next_undone,
    note,
    put_back,
    subject_of,
    unnoted,
)
from server.runs.models import Run


@pytest.fixture
def row(run):
    return Run.objects.select_related("owner").get(pk=run["id"])


def noted(row):
    return changes_of(row.owner, [subject_of(row)])


def test_only_what_becomes_other_is_noted_and_comes_back_as_it_was(row):
    before = row.started_on
    keep_noted(row, "wishes", started_on=date(2031, 5, 4), aim=row.aim)
    (change,) = noted(row)
    assert (change.before, change.after) == (
        {"started_on": before.isoformat()},
        {"started_on": "2031-05-04"},
    )
    put_back(row, change.before)
    # a day is a day again, not its writing
    assert Run.objects.get(pk=row.pk).started_on == before
    assert row.version == Run.objects.get(pk=row.pk).version


def test_nothing_is_noted_of_what_is_taken_back_or_stays(row):
    note(row, "name", {"name": "a"}, {"name": "a"})
    with unnoted():
        keep_noted(row, "name", name="Quiet")
    assert not Change.objects.exists()
    assert Run.objects.get(pk=row.pk).name == "Quiet"
    with pytest.raises(ValueError, match="told"), unnoted():
        raise ValueError("told")
    keep_noted(row, "name", name="Said")
    assert noted(row).count() == 1


def test_the_oldest_are_forgotten_and_what_was_undone_ends_with_the_next_change(row):
    for i in range(MOST_CHANGES + 5):
        note(row, "name", {"name": str(i)}, {"name": str(i + 1)})
    assert [c.before["name"] for c in noted(row)] == [str(i) for i in range(5, MOST_CHANGES + 5)]
    last = last_done(noted(row))
    Change.objects.filter(pk=last.pk).update(undone=True)
    assert next_undone(noted(row)) == last
    note(row, "wishes", 1, 2)
    assert next_undone(noted(row)) is None
    forget(row, ["wishes"])
    assert (
        noted(
            row,
        )
        .last()
        .what
        == "name"
    )


def test_of_another_row_changed_since_nothing_is_made_again(row, grower, run):
    """What was undone of a space is not made again over a later change of the plan."""
    space = Change.objects.create(
        owner=row.owner, kind="space", row=run["space_id"], what="space", undone=True
    )
    both = changes_of(row.owner, [subject_of(row), ("space", run["space_id"])])
    assert next_undone(both) == space
    note(row, "name", 1, 2)
    assert next_undone(both) is None
    assert last_done(both).what == "name"
