"""Reading spaces."""

from django.db.models import Prefetch, QuerySet
from django.shortcuts import get_object_or_404

from server.accounts.models import Grower
from server.spaces.models import Circuit, Rack, Space


def spaces_of(grower: Grower) -> QuerySet[Space]:
    """Return the grower's spaces, oldest first."""
    return Space.objects.of(grower).select_related("owner").prefetch_related("tariffs")


def space_of(grower: Grower, space_id: int) -> Space:
    """Return one space of the grower's, or answer 404."""
    return get_object_or_404(spaces_of(grower), pk=space_id)


def racks_of(grower: Grower) -> QuerySet[Rack]:
    """Return the grower's racks with their levels, the lowest first."""
    levels = spaces_of(grower).filter(removed=False).order_by("tier")
    return Rack.objects.of(grower).prefetch_related(Prefetch("levels", levels))


def rack_of(grower: Grower, rack_id: int) -> Rack:
    """Return one rack of the grower's, or answer 404."""
    return get_object_or_404(racks_of(grower), pk=rack_id)


def circuits_of(grower: Grower) -> QuerySet[Circuit]:
    """Return the grower's circuits, oldest first."""
    return Circuit.objects.of(grower)


def circuit_of(grower: Grower, circuit_id: int) -> Circuit:
    """Return one circuit of the grower's, or answer 404."""
    return get_object_or_404(circuits_of(grower).select_related("owner"), pk=circuit_id)
