"""Reading spaces."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from server.accounts.models import Grower
from server.spaces.models import Space


def spaces_of(grower: Grower) -> QuerySet[Space]:
    """Return the grower's spaces, oldest first."""
    return Space.objects.of(grower).select_related("owner").prefetch_related("tariffs")


def space_of(grower: Grower, space_id: int) -> Space:
    """Return one space of the grower's, or answer 404."""
    return get_object_or_404(spaces_of(grower), pk=space_id)
