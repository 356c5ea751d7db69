"""Sign up, sign in, sign out, preferences."""

from typing import Any, cast

from django.http import HttpRequest
from ninja import Router, Status
from ninja.errors import HttpError
from ninja.security import django_auth
from ninja.utils import check_csrf

from server.accounts import services
from server.accounts.models import Grower
from server.accounts.schemas import (
    AddressOut,
    DeleteIn,
    GrowerOut,
    PasswordIn,
    Preferences,
    SessionOut,
    SignIn,
    SignUp,
)
from server.common.network import Door
from server.common.schemas import CHANGES, PROBLEMS, Problem
from server.common.versions import IfMatch, expected, shown_by

router = Router()
shown_by(Grower, GrowerOut.from_orm)

Session = dict[str, Grower | None]

OPEN: dict[int, Any] = dict.fromkeys((400, 403, 413, 422, 429, 503), Problem)


def grower_of(request: HttpRequest) -> Grower:
    """Return who is signed in, on a guarded endpoint."""
    return cast(Grower, request.user)


def _same_site(request: HttpRequest) -> None:
    """Refuse a forged form: ninja only checks endpoints that need a session."""
    if check_csrf(request, lambda *_: None) is not None:
        raise HttpError(403, "This page is out of date; reload it and try again.")


@router.get("/session", response=SessionOut, auth=None)
def session(request: HttpRequest) -> Session:
    """Who is signed in."""
    return {"grower": request.user if isinstance(request.user, Grower) else None}


@router.post("/sign-up", response={200: SessionOut, **OPEN}, auth=None)
def sign_up(request: HttpRequest, payload: SignUp) -> Session:
    """Make an account with the starter lamps and crops, and open a session."""
    _same_site(request)
    services.check_sign_up(request.META.get("REMOTE_ADDR", ""))
    grower = services.make_account(payload.name, payload.password, time_zone=payload.time_zone)
    services.enter(request, grower)
    return {"grower": grower}


@router.post("/sign-in", response={200: SessionOut, **OPEN}, auth=None)
def sign_in(request: HttpRequest, payload: SignIn) -> Session:
    """Open a session."""
    _same_site(request)
    grower = services.sign_in(request, payload.name, payload.password)
    return {"grower": grower}


@router.post("/sign-out", response={200: SessionOut, **PROBLEMS}, auth=django_auth)
def sign_out(request: HttpRequest) -> Session:
    """Close the session."""
    services.sign_out(request)
    return {"grower": None}


@router.post("/password", response={204: None, **PROBLEMS}, auth=django_auth)
def change_password(request: HttpRequest, payload: PasswordIn) -> Status[None]:
    """Change the password; sessions elsewhere are over."""
    services.change_password(request, grower_of(request), payload.present, payload.new)
    return Status(204, None)


@router.post("/sign-out-everywhere", response={200: SessionOut, **PROBLEMS}, auth=django_auth)
def sign_out_everywhere(request: HttpRequest) -> Session:
    """Close every session of this account, here too."""
    services.sign_out_everywhere(request, grower_of(request))
    return {"grower": None}


@router.post("/delete", response={200: SessionOut, **PROBLEMS}, auth=django_auth)
def delete_account(request: HttpRequest, payload: DeleteIn) -> Session:
    """Delete this account with everything of it."""
    services.delete_account(request, grower_of(request), payload.password)
    return {"grower": None}


@router.get("/doors", response={200: list[AddressOut], **PROBLEMS}, auth=django_auth)
def doors(request: HttpRequest) -> list[Door]:
    """Where a phone on the home network opens this; none where it is served to this machine."""
    return services.doors(request.is_secure(), request.get_host())


@router.put("/preferences", response={200: GrowerOut, **CHANGES}, auth=django_auth)
def preferences(request: HttpRequest, payload: Preferences, if_match: IfMatch = None) -> Grower:
    """Keep how lengths are shown, what money is in, and by which clock a day begins."""
    wanted = payload.model_dump(exclude_none=True)
    return services.change_preferences(grower_of(request), wanted, expected(if_match))


@router.get("/time-zones", response={200: list[str], **PROBLEMS}, auth=django_auth)
def time_zones(request: HttpRequest) -> list[str]:
    """The time zones to choose from."""
    return services.time_zones()
