"""Crops."""

from django.db.models import QuerySet
from django.http import HttpRequest
from ninja import Router, Status
from ninja.security import django_auth

from server.accounts.api import grower_of
from server.common.schemas import CHANGES, PROBLEMS, RemovedIn
from server.common.versions import IfMatch, expected, shown_by
from server.crops import selectors, services
from server.crops.adapters import crop_library, plant_labels
from server.crops.models import Crop
from server.crops.schemas import CropIn, CropOut, LabelOut, LibraryCrop

router = Router(auth=django_auth)
shown_by(Crop, CropOut.from_orm)


@router.get("", response={200: list[CropOut], **PROBLEMS})
def crops(request: HttpRequest) -> QuerySet[Crop]:
    """The grower's crops with their stages."""
    return selectors.crops_of(grower_of(request))


@router.get("/library", response={200: list[LibraryCrop], **PROBLEMS})
def library(request: HttpRequest) -> list[LibraryCrop]:
    """The crops that ship with the app, to copy."""
    return [LibraryCrop.model_validate(row) for row in crop_library()]


@router.get("/labels", response={200: list[LabelOut], **PROBLEMS})
def labels(request: HttpRequest) -> list[LabelOut]:
    """What the words of plant labels come to."""
    return [LabelOut.model_validate(row) for row in plant_labels()]


@router.post("", response={201: CropOut, **PROBLEMS})
def add_crop(request: HttpRequest, payload: CropIn) -> Status[Crop]:
    """Add a crop."""
    return Status(201, services.add_crop(grower_of(request), payload.model_dump()))


@router.put("/{int:crop_id}", response={200: CropOut, **CHANGES})
def change_crop(
    request: HttpRequest, crop_id: int, payload: CropIn, if_match: IfMatch = None
) -> Crop:
    """Change a crop; a stage given with its id keeps its settings."""
    crop = selectors.crop_of(grower_of(request), crop_id)
    return services.change_crop(crop, payload.model_dump(), expected(if_match))


@router.put("/{int:crop_id}/aside", response={200: CropOut, **CHANGES})
def put_away(
    request: HttpRequest, crop_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> Crop:
    """Put a crop away, or bring it back."""
    crop = selectors.crop_of(grower_of(request), crop_id)
    return services.put_away(crop, payload.removed, expected(if_match))
