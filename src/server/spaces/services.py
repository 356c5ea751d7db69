"""What can be done with a space."""

from typing import Any

from django.db import transaction

from server.accounts.models import Grower
from server.spaces.adapters import check_space
from server.spaces.models import Space


@transaction.atomic
def add_space(grower: Grower, values: dict[str, Any]) -> Space:
    """Return a new space."""
    check_space(values)
    return Space.objects.create(owner=grower, **values)


@transaction.atomic
def change_space(space: Space, values: dict[str, Any]) -> Space:
    """Keep new figures for a space."""
    check_space(values)
    for name, value in values.items():
        setattr(space, name, value)
    space.save()
    return space
