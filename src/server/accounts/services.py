"""What can be done with an account."""

from typing import Any
from zoneinfo import available_timezones

from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.dispatch import Signal
from django.http import HttpRequest

from server.accounts.models import Grower
from server.common.problems import CanopyError
from server.common.rows import Expected, held, keep

signed_up = Signal()
"""Sent with ``grower`` inside the transaction that makes an account."""

currency_changed = Signal()
"""Sent with ``grower`` and the currency ``before``, inside the transaction that changes it."""

BACKEND = "django.contrib.auth.backends.ModelBackend"


def time_zones() -> list[str]:
    """Return the time zones there are, those of no place left out."""
    return sorted(name for name in available_timezones() if "/" in name or name == "UTC")


def _check_zone(time_zone: str) -> None:
    if time_zone not in available_timezones():
        raise CanopyError("That time zone is not known; choose one from the list.", "time_zone")


def make_account(
    name: str, password: str | None, is_demo: bool = False, time_zone: str = "UTC"
) -> Grower:
    """Return a new grower with the starter rows of every area.

    Without a password nobody can sign in by hand. A clock that is not known here is taken for UTC.
    """
    known = time_zone if time_zone in available_timezones() else "UTC"
    grower = Grower(name=name, is_demo=is_demo, time_zone=known)
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


def change_preferences(grower: Grower, wanted: dict[str, Any], expected: Expected = None) -> Grower:
    """Keep how lengths are shown, what money is in, and by which clock a day begins.

    Rates are of the money they were given for: in another they are asked anew.
    """
    if "time_zone" in wanted:
        _check_zone(wanted["time_zone"])
    with held(grower, expected) as row:
        before = row.currency
        keep(row, **wanted)
        if row.currency != before:
            keep(row, rates={})
            currency_changed.send(Grower, grower=row, before=before)
    return row
