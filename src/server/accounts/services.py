"""What can be done with an account."""

from typing import Any
from zoneinfo import available_timezones

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.contrib.auth.hashers import make_password
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.dispatch import Signal
from django.http import HttpRequest

from server.accounts.models import Grower
from server.accounts.names import compared_name, shown_name
from server.common.allowance import Allowance
from server.common.network import Door, door_of
from server.common.problems import CanopyError, TooOften
from server.common.rows import Expected, held, keep

signed_up = Signal()
"""Sent with ``grower`` inside the transaction that makes an account."""

deleted = Signal()
"""Sent with ``owner_id`` when an account's rows are gone: what lies in files goes with them."""

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
    name = shown_name(name)
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


def _check_password(name: str, password: str, field: str = "password") -> None:
    if compared_name(password) == compared_name(name):
        raise CanopyError("The password is the name; choose one nobody can guess.", field)
    try:
        validate_password(password, Grower(name=name))
    except ValidationError as error:
        raise CanopyError(" ".join(error.messages), field) from error


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


SIGN_UPS = Allowance(20 / 3600, 20)
"""New accounts an hour from one address: each costs a password's hash and many rows."""


def check_sign_up(address: str) -> None:
    """Refuse more new accounts from an address than a household makes.

    Raises
    ------
    TooOften
        With how long to wait.
    """
    wait = SIGN_UPS.wait_s(address)
    if wait:
        raise TooOften(wait)


def _check_present(grower: Grower, password: str, field: str) -> None:
    if grower.is_demo:
        raise CanopyError("The demo signs in by itself and has no password; make an account.")
    if not grower.check_password(password):
        raise CanopyError("That is not your present password.", field)


def change_password(request: HttpRequest, grower: Grower, present: str, new: str) -> None:
    """Give an account another password; its sessions elsewhere are over, this one goes on."""
    _check_present(grower, present, "present")
    _check_password(grower.name, new, "new")
    made = make_password(new)
    with held(grower) as row:
        keep(row, password=made)
    update_session_auth_hash(request, row)


def sign_out_everywhere(request: HttpRequest, grower: Grower) -> None:
    """End every session of an account, this one too; devices keep their tokens."""
    if grower.is_demo:
        raise CanopyError("The demo signs in by itself; there is nowhere to sign out.")
    with held(grower) as row:
        keep(row, session_round=row.session_round + 1)
    sign_out(request)


def delete_account(request: HttpRequest, grower: Grower, password: str) -> None:
    """Delete an account with everything of it: rows, then photographs. It cannot be taken back."""
    _check_present(grower, password, "password")
    pk = grower.pk
    logout(request)
    with transaction.atomic():
        Grower.objects.get(pk=pk).delete()
        deleted.send(Grower, owner_id=pk)
    AccessAttempt.objects.filter(username=compared_name(grower.name)).delete()


def doors(secure: bool, host: str) -> list[Door]:
    """Return where a phone opens this: behind TLS at its own name, else on the home network."""
    if secure:
        return [door_of(f"https://{host}/")]
    return list(settings.DOORS)


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
