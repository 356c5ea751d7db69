"""A row's columns as an archive has them: plain JSON, and its schema."""

from datetime import UTC, date, datetime
from math import isfinite
from typing import Any, TypeAlias
from uuid import UUID

from django.db import models

from canopy.errors import CanopyError

Field: TypeAlias = "models.Field[Any, Any]"

MOST_WHOLE = {
    "PositiveSmallIntegerField": 32_767,
    "PositiveIntegerField": 2_147_483_647,
    "PositiveBigIntegerField": 2**53,
    "BigIntegerField": 2**53,
}
MOST_TEXT = 4000


def written(value: Any) -> Any:
    """Return a column's value as JSON has it."""
    if isinstance(value, UUID):
        return str(value)
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat().replace("+00:00", "Z")
    if isinstance(value, date):
        return value.isoformat()
    return value


def read(field: Field, value: Any, where: str) -> Any:
    """Return a column's value from JSON; one of another row stays the name it is known by.

    Raises
    ------
    CanopyError
        Where it is of another kind, or more than the column holds.
    """
    if value is None:
        if field.null:
            return None
        raise CanopyError(f"{where} is empty; it is never.", where)
    kind = field.get_internal_type()
    if kind in ("ForeignKey", "OneToOneField", "UUIDField"):
        return _uuid(value, where)
    if kind == "CharField":
        if not isinstance(value, str) or len(value) > (field.max_length or MOST_TEXT):
            most = field.max_length
            raise CanopyError(f"{where} should be a text of at most {most} characters.", where)
        return value
    if kind == "BooleanField":
        if not isinstance(value, bool):
            raise CanopyError(f"{where} should be true or false.", where)
        return value
    if kind == "FloatField":
        return _number(value, where)
    if kind in MOST_WHOLE:
        number = _number(value, where)
        low = -MOST_WHOLE[kind] if kind == "BigIntegerField" else 0
        if number != int(number) or not low <= number <= MOST_WHOLE[kind]:
            raise CanopyError(f"{where} should be a whole number.", where)
        return int(number)
    if kind in ("DateField", "DateTimeField"):
        return _time(kind, value, where)
    return value


def _uuid(value: Any, where: str) -> UUID:
    try:
        return UUID(value)
    except (TypeError, ValueError, AttributeError) as error:
        raise CanopyError(f"{where} should be the UUID a row is known by.", where) from error


def _number(value: Any, where: str) -> float:
    right = isinstance(value, int | float) and not isinstance(value, bool)
    if not right or abs(value) > 1e15 or not isfinite(value):
        raise CanopyError(f"{where} should be a number.", where)
    return float(value)


def _time(kind: str, value: Any, where: str) -> date:
    try:
        if kind == "DateField":
            found = date.fromisoformat(value)
        else:
            found = datetime.fromisoformat(value.replace("Z", "+00:00"))
            if found.tzinfo is None:
                raise ValueError
            found.astimezone(UTC)
        if not 1990 <= found.year <= 2200:
            raise ValueError
    except (TypeError, ValueError, AttributeError, OverflowError) as error:
        form = "2026-06-21" if kind == "DateField" else "2026-06-21T08:00:00Z"
        raise CanopyError(f"{where} should be a time like {form}.", where) from error
    return found


def schema(field: Field) -> dict[str, Any]:
    """Return the JSON Schema of a column."""
    kind = field.get_internal_type()
    found: dict[str, Any] = {}
    if kind in ("ForeignKey", "OneToOneField", "UUIDField"):
        found = {"type": "string", "format": "uuid"}
    elif kind == "CharField":
        found = {"type": "string", "maxLength": field.max_length}
    elif kind == "BooleanField":
        found = {"type": "boolean"}
    elif kind == "FloatField":
        found = {"type": "number"}
    elif kind in MOST_WHOLE:
        found = {"type": "integer", "maximum": MOST_WHOLE[kind]}
        if kind != "BigIntegerField":
            found["minimum"] = 0
    elif kind == "DateField":
        found = {"type": "string", "format": "date"}
    elif kind == "DateTimeField":
        found = {"type": "string", "format": "date-time"}
    if field.null and "type" in found:
        found["type"] = [found["type"], "null"]
    return found
