"""What can be done with a space."""

from typing import Any

from server.accounts.models import Grower
from server.common.rows import held, keep
from server.spaces.adapters import check_space
from server.spaces.models import Space


def add_space(grower: Grower, values: dict[str, Any]) -> Space:
    """Return a new space."""
    check_space(values)
    return Space.objects.create(owner=grower, **values)


def change_space(space: Space, values: dict[str, Any]) -> Space:
    """Keep new figures for a space."""
    check_space(values)
    with held(space) as row:
        keep(row, **values)
    return row
