"""What can be done with a space."""

from datetime import date
from typing import Any

from django.db import transaction

from server.accounts.models import Grower
from server.changes.services import changed, note, put_back
from server.common.problems import CanopyError
from server.common.rows import Expected, copy_of, held, keep
from server.spaces.adapters import MOST_LEVELS, check_space
from server.spaces.models import Rack, Space, Tariff
from server.spaces.selectors import rack_of, space_of

MOST_RACK_NAME = 66
"""Characters of a rack's name in those of its levels."""

OWN = tuple(
    field.name
    for field in Space._meta.concrete_fields
    if field.name
    not in ("id", "uuid", "owner", "created_at", "changed_at", "version", "removed", "rack", "tier")
)
"""What a copy of a space, or a new level, takes from it."""

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


def keep_tariff(space: Space, tariff: dict[str, Any]) -> tuple[dict[str, Any], dict[str, Any]]:
    """Append what power costs where it differs from what is known for its day.

    Returns what of it is so before and after, as it is noted; nothing where it does not change.
    """
    day = tariff["holds_from"] or space.owner.today()
    known = space.tariff_on(day) if space.tariffs.exists() else None
    new = {
        **{name: known and getattr(known, name) for name in CARRIED if known},
        **{name: value for name, value in tariff.items() if name != "holds_from"},
    }
    if new["currency"] is None:
        new["currency"] = known.currency if known else space.owner.currency
    if known is None or any(getattr(known, name) != value for name, value in new.items()):
        if space.tariffs.count() >= MOST_TARIFFS:
            raise CanopyError(f"{MOST_TARIFFS} prices are the most a space can keep.")
        Tariff.objects.create(space=space, holds_from=day, **new)
        if known is not None:
            before = {name: getattr(known, name) for name in new}
            from_then = {"holds_from": day}
            return {"tariff": before | from_then}, {"tariff": new | from_then}
    return {}, {}


CARRIED = ("tiers", "standing_per_day", "other_kwh_a_day", "grid_g_per_kwh")
"""What a new price keeps of the one before where it says nothing of it."""


def add_space(grower: Grower, values: dict[str, Any]) -> Space:
    """Return a new space."""
    check_space(values)
    own, tariff = _parted(values)
    with transaction.atomic():
        space = Space.objects.create(owner=grower, **own)
        keep_tariff(space, tariff)
    return space_of(grower, space.pk)


def change_space(space: Space, values: dict[str, Any], expected: Expected = None) -> Space:
    """Keep new figures for a space; another price is a new row, the old ones stay."""
    check_space(values)
    own, tariff = _parted(values)
    with held(space, expected) as row:
        before, after = changed(row, own)
        keep(row, **own)
        was, now = keep_tariff(row, tariff)
        note(row, "space", before | was, after | now)
    return space_of(space.owner, space.pk)


def space_as_noted(space: Space, values: dict[str, Any]) -> None:
    """Let a space be as it was noted; another price is a row of its own."""
    own = dict(values)
    tariff = own.pop("tariff", None)
    put_back(space, own)
    if tariff is not None:
        keep_tariff(space, tariff | {"holds_from": date.fromisoformat(tariff["holds_from"])})


def copy_space(space: Space, **other: Any) -> Space:
    """Return a new space like one but for what is given, with its prices.

    The copy of a rack's level stands by itself.
    """
    values = {name: getattr(space, name) for name in OWN} | other
    check_space(values)
    with transaction.atomic():
        made = Space.objects.create(owner=space.owner, **values)
        for tariff in space.tariffs.all():
            copy_of(tariff, space=made).save()
    return space_of(space.owner, made.pk)


def add_rack(grower: Grower, name: str, clear_cm: list[float], level: dict[str, Any]) -> Rack:
    """Return a new rack with its levels, the lowest first, each a space of its own."""
    levels = [_level(level, name, i, height) for i, height in enumerate(clear_cm)]
    for values in levels:
        check_space(values)
    with transaction.atomic():
        rack = Rack.objects.create(owner=grower, name=name)
        for tier, values in enumerate(levels):
            own, tariff = _parted(values)
            space = Space.objects.create(owner=grower, rack=rack, tier=tier, **own)
            keep_tariff(space, tariff)
    return rack_of(grower, rack.pk)


def _level(values: dict[str, Any], rack: str, tier: int, clear_cm: float) -> dict[str, Any]:
    named = f"{rack[:MOST_RACK_NAME]}, level {tier + 1}"
    return {**values, "name": named, "height_cm": clear_cm}


def add_level(rack: Rack, clear_cm: float, expected: Expected = None) -> Rack:
    """Put one level more on a rack, like the one under it."""
    with held(rack, expected) as row:
        top = row.levels.order_by("-tier").first()
        if top is None or top.tier + 1 >= MOST_LEVELS:
            raise CanopyError(f"{MOST_LEVELS} levels are the most a rack can have.")
        tariff, tier = top.present_tariff(), top.tier + 1
        own = {name: getattr(top, name) for name in OWN}
        values = _level(own, row.name, tier, clear_cm)
        check_space(values)
        space = Space.objects.create(owner=row.owner, rack=row, tier=tier, **values)
        price = {"per_kwh": tariff.per_kwh, "bands": tariff.bands, "currency": tariff.currency}
        keep_tariff(space, {**price, "holds_from": None})
        keep(row)
    return rack_of(rack.owner, rack.pk)


def name_rack(rack: Rack, name: str, expected: Expected = None) -> Rack:
    """Call a rack otherwise; its levels keep their names."""
    with held(rack, expected) as row:
        keep(row, name=name)
    return rack_of(rack.owner, rack.pk)


def put_rack_away(rack: Rack, removed: bool, expected: Expected = None) -> Rack:
    """Put a rack away with its levels, or bring it back; runs on them go on."""
    with held(rack, expected) as row:
        keep(row, removed=removed)
        for space in row.levels.all():
            if space.removed != removed:
                keep(space, removed=removed)
    return rack_of(rack.owner, rack.pk)


def put_away(space: Space, removed: bool, expected: Expected = None) -> Space:
    """Put a space away, or bring it back; runs in it go on."""
    with held(space, expected) as row:
        keep(row, removed=removed)
    return space_of(space.owner, space.pk)
