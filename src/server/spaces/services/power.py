"""What can be done with circuits, prices, and what carries and cools a space's lamps."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from server.accounts.models import Grower
from server.changes.services import keep_noted
from server.common.problems import CanopyError
from server.common.rows import Expected, held, keep
from server.spaces.adapters import check_tariff, circuit_rows, joined_prices, read_price_file
from server.spaces.models import Circuit, PriceFile, Space
from server.spaces.selectors import circuit_of, space_of
from server.spaces.services import keep_tariff

MOST_CIRCUITS = 100
MOST_PRICE_FILES = 5
"""A space keeps so many; the latest counts, older ones go."""


def add_circuit(grower: Grower, values: dict[str, Any]) -> Circuit:
    """Return a new circuit."""
    values = circuit_rows(values)
    with transaction.atomic():
        if Circuit.objects.of(grower).count() >= MOST_CIRCUITS:
            raise CanopyError(f"{MOST_CIRCUITS} circuits are the most one grower can have.")
        made = Circuit.objects.create(owner=grower, **values)
    return circuit_of(grower, made.pk)


def change_circuit(circuit: Circuit, values: dict[str, Any], expected: Expected = None) -> Circuit:
    """Keep new figures for a circuit."""
    values = circuit_rows(values)
    with held(circuit, expected) as row:
        keep(row, **values)
    return circuit_of(circuit.owner, circuit.pk)


def put_circuit_away(circuit: Circuit, removed: bool, expected: Expected = None) -> Circuit:
    """Put a circuit away, or bring it back; spaces on it keep it."""
    with held(circuit, expected) as row:
        keep(row, removed=removed)
    return circuit_of(circuit.owner, circuit.pk)


def keep_power(
    space: Space, circuit: Circuit | None, values: dict[str, Any], expected: Expected = None
) -> Space:
    """Keep a space's circuit, and what carries and cools its lamps."""
    with held(space, expected) as row:
        keep_noted(row, "space", circuit_id=circuit and circuit.pk, **values)
    return space_of(space.owner, space.pk)


def change_tariff(space: Space, values: dict[str, Any], expected: Expected = None) -> Space:
    """Append what power costs from a day on; the old rows stay."""
    check_tariff(values)
    with held(space, expected) as row:
        keep_tariff(row, values)
    return space_of(space.owner, space.pk)


def keep_prices(space: Space, text: str, adds_per_kwh: float, expected: Expected = None) -> Space:
    """Keep a file of hourly prices, or go without any when it is empty."""
    first, prices = timezone.now(), list[float]()
    if text.strip():
        found = read_price_file(text, space.owner.zone)
        first, prices = found.first, list(found.per_kwh)
    with held(space, expected) as row:
        _keep_file(row, first, prices, adds_per_kwh)
    return space_of(space.owner, space.pk)


def _keep_file(space: Space, first: datetime, prices: list[float], adds_per_kwh: float) -> None:
    PriceFile.objects.create(space=space, first=first, per_kwh=prices, adds_per_kwh=adds_per_kwh)
    old = space.price_files.order_by("-id").values_list("id", flat=True)[MOST_PRICE_FILES:]
    space.price_files.filter(pk__in=list(old)).delete()


def join_prices(space: Space, text: str) -> int:
    """Let the hours of a price file join those a space has; return how many it then has.

    What the file says of an hour counts; where neither says anything of an hour between, the file
    stands alone. What comes on top of each stays as it was.
    """
    found = read_price_file(text, space.owner.zone)
    with held(space) as row:
        before = row.price_files.order_by("id").last()
        joined = joined_prices(before, found)
        prices = list(joined.per_kwh)
        if before is None or (joined.first, prices) != (before.first, before.per_kwh):
            adds = 0.0 if before is None else before.adds_per_kwh
            _keep_file(row, joined.first, prices, adds)
    return len(prices)
