"""What can be done with crops."""

from contextlib import suppress
from typing import Any

from django.db import transaction
from django.db.models import RestrictedError

from server.accounts.models import Grower
from server.accounts.services import signed_up
from server.changes.services import note
from server.common.models import shipped
from server.common.rows import Expected, held, keep
from server.crops.adapters import check_stages, starter_crops, with_bands
from server.crops.models import Crop, Stage
from server.crops.selectors import crop_of


def _stock(sender: object, grower: Grower, **_: object) -> None:
    for row in starter_crops():
        add_crop(grower, row)
    for crop in Crop.objects.of(grower):
        crop.uuid = shipped("crop", crop.name)
        crop.save(update_fields=["uuid"])
        for stage in crop.stages:
            stage.uuid = shipped("stage", crop.name, stage.position)
            stage.save(update_fields=["uuid"])


def stock_new_accounts() -> None:
    """Give every new account the starter crops."""
    signed_up.connect(_stock, dispatch_uid="starter crops")


def add_crop(grower: Grower, values: dict[str, Any]) -> Crop:
    """Return a new crop with its stages."""
    stages = with_bands(values["stages"])
    check_stages(stages)
    with transaction.atomic():
        crop = Crop.objects.create(owner=grower, name=values["name"], habit=values["habit"])
        Stage.objects.bulk_create(
            Stage(crop=crop, position=i, **_without_id(stage)) for i, stage in enumerate(stages)
        )
    return crop


def _without_id(stage: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in stage.items() if name != "id"}


def change_crop(crop: Crop, values: dict[str, Any], expected: Expected = None) -> Crop:
    """Keep new figures for a crop.

    A stage given with its id keeps its settings, also one that had been left out; one that is left
    out goes from the crop, and its settings with it, but stays in the past of runs.
    """
    stages = with_bands(values["stages"])
    check_stages(stages)
    with held(crop, expected) as row:
        before = _as_given(row)
        keep(row, name=values["name"], habit=values["habit"])
        _keep_stages(row, stages)
        note(row, "crop", before, _as_given(crop_of(row.owner, row.pk)))
    return crop_of(crop.owner, crop.pk)


STAGE_COLUMNS = tuple(
    field.name
    for field in Stage._meta.concrete_fields
    if field.name not in ("uuid", "crop", "position", "removed")
)


def _as_given(crop: Crop) -> dict[str, Any]:
    """Return a crop as it would be given to be kept so."""
    stages = [{name: getattr(stage, name) for name in STAGE_COLUMNS} for stage in crop.stages]
    return {"name": crop.name, "habit": crop.habit, "stages": stages}


def _keep_stages(crop: Crop, stages: list[dict[str, Any]]) -> None:
    known = {stage.pk: stage for stage in crop.every_stage.all()}
    # positions are unique among those present: all step aside first
    crop.every_stage.update(removed=True)
    for i, given in enumerate(stages):
        row = known.get(given.get("id") or 0) or Stage(crop=crop)
        for name, value in _without_id(given).items():
            setattr(row, name, value)
        row.position, row.removed = i, False
        row.save()
    for stage in crop.every_stage.filter(removed=True):
        # no run stands on most of them
        with suppress(RestrictedError), transaction.atomic():
            stage.delete()


def put_away(crop: Crop, removed: bool, expected: Expected = None) -> Crop:
    """Put a crop away, or bring it back; runs of it go on."""
    with held(crop, expected) as row:
        keep(row, removed=removed)
    return crop_of(crop.owner, crop.pk)
