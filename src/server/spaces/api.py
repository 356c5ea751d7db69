"""Spaces."""

from django.db.models import QuerySet
from django.http import HttpRequest
from ninja import Router, Status
from ninja.security import django_auth

from server.accounts.api import grower_of
from server.common.schemas import CHANGES, PROBLEMS, RemovedIn
from server.common.versions import IfMatch, expected, shown_by
from server.spaces import adapters, selectors, services
from server.spaces.models import Circuit, Rack, Space
from server.spaces.schemas import LevelIn, Lining, NamedIn, RackIn, RackOut, SpaceIn, SpaceOut
from server.spaces.schemas.power import (
    CircuitIn,
    CircuitOut,
    PresetOut,
    PricesIn,
    SpacePowerIn,
    SpacePowerOut,
    TariffIn,
)
from server.spaces.services import power

router = Router(auth=django_auth)
shown_by(Space, SpaceOut.from_orm)
shown_by(Rack, RackOut.from_orm)
shown_by(Circuit, CircuitOut.from_orm)


@router.get("", response={200: list[SpaceOut], **PROBLEMS})
def spaces(request: HttpRequest) -> QuerySet[Space]:
    """The grower's spaces."""
    return selectors.spaces_of(grower_of(request))


@router.get("/linings", response={200: list[Lining], **PROBLEMS})
def linings(request: HttpRequest) -> list[Lining]:
    """Linings to choose from, with their reflectance and its range."""
    return [Lining.model_validate(row) for row in adapters.linings()]


@router.post("", response={201: SpaceOut, **PROBLEMS})
def add_space(request: HttpRequest, payload: SpaceIn) -> Status[Space]:
    """Add a space."""
    return Status(201, services.add_space(grower_of(request), payload.model_dump()))


@router.get("/racks", response={200: list[RackOut], **PROBLEMS})
def racks(request: HttpRequest) -> QuerySet[Rack]:
    """The grower's racks of shelves."""
    return selectors.racks_of(grower_of(request))


@router.post("/racks", response={201: RackOut, **PROBLEMS})
def add_rack(request: HttpRequest, payload: RackIn) -> Status[Rack]:
    """Add a rack; each of its levels is a space."""
    level = payload.level.model_dump()
    rack = services.add_rack(grower_of(request), payload.name, payload.clear_cm, level)
    return Status(201, rack)


@router.post("/racks/{int:rack_id}/levels", response={201: RackOut, **CHANGES})
def add_level(
    request: HttpRequest, rack_id: int, payload: LevelIn, if_match: IfMatch = None
) -> Status[Rack]:
    """Put one level more on a rack, like the one under it."""
    rack = selectors.rack_of(grower_of(request), rack_id)
    return Status(201, services.add_level(rack, payload.clear_cm, expected(if_match)))


@router.put("/racks/{int:rack_id}/name", response={200: RackOut, **CHANGES})
def name_rack(
    request: HttpRequest, rack_id: int, payload: NamedIn, if_match: IfMatch = None
) -> Rack:
    """Call a rack otherwise."""
    rack = selectors.rack_of(grower_of(request), rack_id)
    return services.name_rack(rack, payload.name, expected(if_match))


@router.put("/racks/{int:rack_id}/aside", response={200: RackOut, **CHANGES})
def put_rack_away(
    request: HttpRequest, rack_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> Rack:
    """Put a rack away with its levels, or bring it back."""
    rack = selectors.rack_of(grower_of(request), rack_id)
    return services.put_rack_away(rack, payload.removed, expected(if_match))


@router.put("/{int:space_id}", response={200: SpaceOut, **CHANGES})
def change_space(
    request: HttpRequest, space_id: int, payload: SpaceIn, if_match: IfMatch = None
) -> Space:
    """Change a space."""
    space = selectors.space_of(grower_of(request), space_id)
    return services.change_space(space, payload.model_dump(), expected(if_match))


@router.post("/{int:space_id}/copy", response={201: SpaceOut, **PROBLEMS})
def copy_space(request: HttpRequest, space_id: int, payload: NamedIn) -> Status[Space]:
    """Make a space like one, with its prices; the copy of a rack's level stands by itself."""
    space = selectors.space_of(grower_of(request), space_id)
    return Status(201, services.copy_space(space, name=payload.name))


@router.put("/{int:space_id}/aside", response={200: SpaceOut, **CHANGES})
def put_away(
    request: HttpRequest, space_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> Space:
    """Put a space away, or bring it back."""
    space = selectors.space_of(grower_of(request), space_id)
    return services.put_away(space, payload.removed, expected(if_match))


@router.get("/circuits", response={200: list[CircuitOut], **PROBLEMS})
def circuits(request: HttpRequest) -> QuerySet[Circuit]:
    """The grower's circuits."""
    return selectors.circuits_of(grower_of(request))


@router.get("/circuits/presets", response={200: list[PresetOut], **PROBLEMS})
def presets(request: HttpRequest) -> list[PresetOut]:
    """Usual limits of household circuits; what stands on the parts, and local code, rule."""
    return [PresetOut.model_validate(each) for each in adapters.presets()]


@router.post("/circuits", response={201: CircuitOut, **PROBLEMS})
def add_circuit(request: HttpRequest, payload: CircuitIn) -> Status[Circuit]:
    """Add a circuit."""
    return Status(201, power.add_circuit(grower_of(request), payload.model_dump()))


@router.put("/circuits/{int:circuit_id}", response={200: CircuitOut, **CHANGES})
def change_circuit(
    request: HttpRequest, circuit_id: int, payload: CircuitIn, if_match: IfMatch = None
) -> Circuit:
    """Change a circuit."""
    circuit = selectors.circuit_of(grower_of(request), circuit_id)
    return power.change_circuit(circuit, payload.model_dump(), expected(if_match))


@router.put("/circuits/{int:circuit_id}/aside", response={200: CircuitOut, **CHANGES})
def put_circuit_away(
    request: HttpRequest, circuit_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> Circuit:
    """Put a circuit away, or bring it back."""
    circuit = selectors.circuit_of(grower_of(request), circuit_id)
    return power.put_circuit_away(circuit, payload.removed, expected(if_match))


@router.get("/{int:space_id}/power", response={200: SpacePowerOut, **PROBLEMS})
def space_power(request: HttpRequest, space_id: int) -> SpacePowerOut:
    """A space's circuit, what carries and cools its lamps, and its hourly prices."""
    return SpacePowerOut.of(selectors.space_of(grower_of(request), space_id))


@router.put("/{int:space_id}/power", response={200: SpacePowerOut, **CHANGES})
def keep_power(
    request: HttpRequest, space_id: int, payload: SpacePowerIn, if_match: IfMatch = None
) -> SpacePowerOut:
    """Keep a space's circuit, and what carries and cools its lamps."""
    grower = grower_of(request)
    space = selectors.space_of(grower, space_id)
    wanted = payload.circuit_id
    circuit = None if wanted is None else selectors.circuit_of(grower, wanted)
    values = {"mount": payload.mount.model_dump(), "air": payload.air.model_dump()}
    return SpacePowerOut.of(power.keep_power(space, circuit, values, expected(if_match)))


@router.put("/{int:space_id}/tariff", response={200: SpaceOut, **CHANGES})
def change_tariff(
    request: HttpRequest, space_id: int, payload: TariffIn, if_match: IfMatch = None
) -> Space:
    """Say what power costs in a space from a day on."""
    space = selectors.space_of(grower_of(request), space_id)
    return power.change_tariff(space, payload.model_dump(), expected(if_match))


@router.put("/{int:space_id}/prices", response={200: SpacePowerOut, **CHANGES})
def keep_prices(
    request: HttpRequest, space_id: int, payload: PricesIn, if_match: IfMatch = None
) -> SpacePowerOut:
    """Keep a file of hourly prices for a space, or go without any."""
    space = selectors.space_of(grower_of(request), space_id)
    kept = power.keep_prices(space, payload.text, payload.adds_per_kwh, expected(if_match))
    return SpacePowerOut.of(kept)
