"""What can be done with crops."""

from typing import Any

from django.db import transaction

from server.accounts.models import Grower
from server.accounts.services import signed_up
from server.common.rows import held, keep
from server.crops.adapters import check_stages, starter_crops
from server.crops.models import Crop, Stage
from server.crops.selectors import crop_of


def _stock(sender: object, grower: Grower, **_: object) -> None:
    for row in starter_crops():
        add_crop(grower, row)


def stock_new_accounts() -> None:
    """Give every new account the starter crops."""
    signed_up.connect(_stock, dispatch_uid="starter crops")


def add_crop(grower: Grower, values: dict[str, Any]) -> Crop:
    """Return a new crop with its stages."""
    check_stages(values["stages"])
    with transaction.atomic():
        crop = Crop.objects.create(owner=grower, name=values["name"], habit=values["habit"])
        Stage.objects.bulk_create(
            Stage(crop=crop, position=i, **_without_id(stage))
            for i, stage in enumerate(values["stages"])
        )
    return crop


def _without_id(stage: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in stage.items() if name != "id"}


def change_crop(crop: Crop, values: dict[str, Any]) -> Crop:
    """Keep new figures for a crop.

    A stage given with its id keeps its settings; one that is left out goes.
    """
    check_stages(values["stages"])
    with held(crop) as row:
        keep(row, name=values["name"], habit=values["habit"])
        _keep_stages(row, values["stages"])
    return crop_of(crop.owner, crop.pk)


def _keep_stages(crop: Crop, stages: list[dict[str, Any]]) -> None:
    kept = {stage.pk: stage for stage in crop.stages.all()}
    wanted = [stage.get("id") for stage in stages]
    Stage.objects.filter(crop=crop).exclude(pk__in=[pk for pk in wanted if pk in kept]).delete()
    # positions are unique: move what stays out of the way first
    for offset, stage in enumerate(Stage.objects.filter(crop=crop)):
        Stage.objects.filter(pk=stage.pk).update(position=1000 + offset)
    for i, given in enumerate(stages):
        row = kept.get(given.get("id") or 0) or Stage(crop=crop)
        for name, value in _without_id(given).items():
            setattr(row, name, value)
        row.position = i
        row.save()
