"""What can be done with an account."""

from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.dispatch import Signal
from django.http import HttpRequest

from server.accounts.models import Grower
from server.common.problems import CanopyError

signed_up = Signal()
"""Sent with ``grower`` inside the transaction that makes an account."""

BACKEND = "django.contrib.auth.backends.ModelBackend"


def make_account(name: str, password: str | None, is_demo: bool = False) -> Grower:
    """Return a new grower with the starter rows of every area.

    Without a password nobody can sign in by hand.
    """
    grower = Grower(name=name, is_demo=is_demo)
    if password is not None:
        _check_password(name, password)
    # hashing takes its time: others may write meanwhile
    grower.set_password(password)
    with transaction.atomic():
        try:
            with transaction.atomic():
                grower.save()
        except IntegrityError as error:
            raise CanopyError("That name is taken; choose another.", "name") from error
        signed_up.send(Grower, grower=grower)
    return grower


def _check_password(name: str, password: str) -> None:
    if password.strip().casefold() == name.strip().casefold():
        raise CanopyError("The password is the name; choose one nobody can guess.", "password")
    try:
        validate_password(password, Grower(name=name))
    except ValidationError as error:
        raise CanopyError(" ".join(error.messages), "password") from error


def enter(request: HttpRequest, grower: Grower) -> None:
    """Open a session."""
    login(request, grower, backend=BACKEND)


def sign_in(request: HttpRequest, name: str, password: str) -> Grower:
    """Open a session for a name and password."""
    found = authenticate(request, username=name, password=password)
    if not isinstance(found, Grower):
        raise CanopyError(
            "Name and password do not match. After eight wrong tries this waits a quarter hour.",
            "password",
        )
    enter(request, found)
    return found


def sign_out(request: HttpRequest) -> None:
    """Close the session; a demo does not sign in again by itself afterwards."""
    logout(request)
    request.session["stays_out"] = True


def change_preferences(grower: Grower, length_unit: str) -> Grower:
    """Keep how lengths are shown."""
    grower.length_unit = length_unit
    grower.save(update_fields=["length_unit"])
    return grower
