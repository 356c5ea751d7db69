"""Sign up, sign in, sign out, preferences."""

from typing import cast

from django.http import HttpRequest
from ninja import Router
from ninja.errors import HttpError
from ninja.security import django_auth
from ninja.utils import check_csrf

from server.accounts import services
from server.accounts.models import Grower
from server.accounts.schemas import GrowerOut, Preferences, SessionOut, SignIn, SignUp
from server.common.schemas import PROBLEMS, Problem

router = Router()

OPEN = {403: Problem, 422: Problem}


def grower_of(request: HttpRequest) -> Grower:
    """Return who is signed in, on a guarded endpoint."""
    return cast(Grower, request.user)


def _same_site(request: HttpRequest) -> None:
    """Refuse a forged form: ninja only checks endpoints that need a session."""
    if check_csrf(request, lambda *_: None) is not None:
        raise HttpError(403, "This page is out of date; reload it and try again.")


@router.get("/session", response=SessionOut, auth=None)
def session(request: HttpRequest) -> SessionOut:
    """Who is signed in."""
    if isinstance(request.user, Grower):
        return SessionOut(grower=GrowerOut.from_orm(request.user))
    return SessionOut(grower=None)


@router.post("/sign-up", response={200: SessionOut, **OPEN}, auth=None)
def sign_up(request: HttpRequest, payload: SignUp) -> SessionOut:
    """Make an account with the starter lamps and crops, and open a session."""
    _same_site(request)
    grower = services.make_account(payload.name, payload.password)
    services.enter(request, grower)
    return SessionOut(grower=GrowerOut.from_orm(grower))


@router.post("/sign-in", response={200: SessionOut, **OPEN}, auth=None)
def sign_in(request: HttpRequest, payload: SignIn) -> SessionOut:
    """Open a session."""
    _same_site(request)
    grower = services.sign_in(request, payload.name, payload.password)
    return SessionOut(grower=GrowerOut.from_orm(grower))


@router.post("/sign-out", response={200: SessionOut, **PROBLEMS}, auth=django_auth)
def sign_out(request: HttpRequest) -> SessionOut:
    """Close the session."""
    services.sign_out(request)
    return SessionOut(grower=None)


@router.put("/preferences", response={200: GrowerOut, **PROBLEMS}, auth=django_auth)
def preferences(request: HttpRequest, payload: Preferences) -> Grower:
    """Keep how lengths are shown."""
    return services.change_preferences(grower_of(request), payload.length_unit)
