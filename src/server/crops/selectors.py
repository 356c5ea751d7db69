"""Reading crops."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from server.accounts.models import Grower
from server.crops.models import Crop


def crops_of(grower: Grower) -> QuerySet[Crop]:
    """Return the grower's crops with their stages, oldest first."""
    return Crop.objects.of(grower).prefetch_related("every_stage")


def crop_of(grower: Grower, crop_id: int) -> Crop:
    """Return one crop of the grower's, or answer 404."""
    return get_object_or_404(crops_of(grower), pk=crop_id)
