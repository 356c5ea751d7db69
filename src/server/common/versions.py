"""Which version of a row a request means, and which it was answered with.

An answer of one row carries its version as ETag. A change may name the version it was made on
(If-Match) and is refused with the present row when that has changed; what is appended may carry a
key (Idempotency-Key), so that sent twice it is kept once.
"""

import re
from collections.abc import Callable
from typing import Annotated, Any
from uuid import UUID

from django.db import models
from django.http import HttpRequest, HttpResponse
from ninja import Header, NinjaAPI
from ninja.schema import Schema

from server.common.problems import CanopyError, problem
from server.common.rows import Expected, Stale

IfMatch = Annotated[str | None, Header(alias="If-Match", max_length=200)]
IdempotencyKey = Annotated[str | None, Header(alias="Idempotency-Key", max_length=80)]

TAG = re.compile(r'(?:W/)?"(\d{1,18})"')


def expected(if_match: str | None) -> Expected:
    """Return the versions an If-Match header names; none without one, or for ``*``."""
    if if_match is None or if_match.strip() == "*":
        return None
    tags = [TAG.fullmatch(tag.strip()) for tag in if_match.split(",")]
    return frozenset(int(tag[1]) for tag in tags if tag)


def key_of(idempotency_key: str | None) -> UUID | None:
    """Return the key of what is appended.

    Raises
    ------
    CanopyError
        When it is no UUID.
    """
    if idempotency_key is None:
        return None
    try:
        return UUID(idempotency_key.strip().strip('"'))
    except ValueError as error:
        raise CanopyError("The Idempotency-Key should be a UUID; make a new one.") from error


_SHOWN: dict[type[models.Model], Callable[[Any], Schema]] = {}


def shown_by(model: type[models.Model], show: Callable[[Any], Schema]) -> None:
    """Say how a kind of row is answered where a change of it comes too late."""
    _SHOWN[model] = show


def shown(row: models.Model) -> dict[str, Any] | None:
    """Return a row as its area answers it."""
    show = _SHOWN.get(type(row))
    return None if show is None else show(row).model_dump(mode="json")


def answer_stale(api: NinjaAPI) -> None:
    """Let the API refuse a change that comes too late, with the row as it now stands."""

    @api.exception_handler(Stale)
    def stale(request: HttpRequest, error: Stale) -> HttpResponse:
        sentence = (
            "This was changed elsewhere meanwhile; what you typed is still here. Keep it again to "
            "put it in the other's place, or reload the page to see the other."
        )
        response = problem(412, "Changed elsewhere", sentence, present=shown(error.row))
        response["ETag"] = f'"{getattr(error.row, "version", 0)}"'
        return response


JSON, PROBLEM_JSON = "application/json", "application/problem+json"


class VersionedApi(NinjaAPI):
    """An API whose answers of one row carry its version as ETag."""

    def get_openapi_schema(self, *args: Any, **kwargs: Any) -> Any:
        """Return the API's document; refusals are problem documents (RFC 9457)."""
        document = super().get_openapi_schema(*args, **kwargs)
        for path in document["paths"].values():
            for operation in path.values():
                for status, answer in operation.get("responses", {}).items():
                    content = answer.get("content", {})
                    if int(status) >= 400 and JSON in content:
                        answer["content"] = {PROBLEM_JSON: content[JSON]}
        return document

    def create_response(
        self, request: HttpRequest, data: Any, *args: Any, **kwargs: Any
    ) -> HttpResponse:
        """Return the response, tagged."""
        response = super().create_response(request, data, *args, **kwargs)
        version = data.get("version") if isinstance(data, dict) else None
        if isinstance(version, int):
            response["ETag"] = f'"{version}"'
        return response
