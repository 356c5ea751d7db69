"""What can be done with a space."""

from typing import Any

from django.db import transaction

from server.accounts.models import Grower
from server.common.problems import CanopyError
from server.common.rows import Expected, held, keep
from server.spaces.adapters import check_space
from server.spaces.models import Space, Tariff
from server.spaces.selectors import space_of

MOST_TARIFFS = 500
"""Prices one space can keep: a change every month for forty years."""


def _parted(values: dict[str, Any]) -> tuple[dict[str, Any], dict[str, Any]]:
    """Return a space's own figures, and those of its tariff."""
    own = dict(values)
    tariff = {
        "per_kwh": own.pop("tariff_per_kwh"),
        "bands": own.pop("tariff_bands", []),
        "currency": own.pop("currency", None),
        "holds_from": own.pop("tariff_from", None),
    }
    return own, tariff


def _keep_tariff(space: Space, tariff: dict[str, Any]) -> None:
    """Append what power costs where it differs from what is known for its day."""
    day = tariff["holds_from"] or space.owner.today()
    known = space.tariff_on(day) if space.tariffs.exists() else None
    new = {
        "per_kwh": tariff["per_kwh"],
        "bands": tariff["bands"],
        "currency": tariff["currency"] or (known.currency if known else space.owner.currency),
    }
    if known is None or any(getattr(known, name) != value for name, value in new.items()):
        if space.tariffs.count() >= MOST_TARIFFS:
            raise CanopyError(f"{MOST_TARIFFS} prices are the most a space can keep.")
        Tariff.objects.create(space=space, holds_from=day, **new)


def add_space(grower: Grower, values: dict[str, Any]) -> Space:
    """Return a new space."""
    check_space(values)
    own, tariff = _parted(values)
    with transaction.atomic():
        space = Space.objects.create(owner=grower, **own)
        _keep_tariff(space, tariff)
    return space_of(grower, space.pk)


def change_space(space: Space, values: dict[str, Any], expected: Expected = None) -> Space:
    """Keep new figures for a space; another price is a new row, the old ones stay."""
    check_space(values)
    own, tariff = _parted(values)
    with held(space, expected) as row:
        keep(row, **own)
        _keep_tariff(row, tariff)
    return space_of(space.owner, space.pk)


def put_away(space: Space, removed: bool, expected: Expected = None) -> Space:
    """Put a space away, or bring it back; runs in it go on."""
    with held(space, expected) as row:
        keep(row, removed=removed)
    return space_of(space.owner, space.pk)
