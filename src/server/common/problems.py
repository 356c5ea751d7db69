"""One way to say no: problem documents (RFC 9457) with the field's name and a sentence."""

import errno
import math
import re
import sys
from collections.abc import Iterable
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.db import IntegrityError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, RawPostDataException
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from canopy.errors import CanopyError as CanopyError
from canopy.words import CM_PER_INCH, Unit, worded
from server.common.schemas import FieldProblem, Problem, SaidOut
from server.common.words import unit_of

UNITS = {
    "cm": "cm",
    "pct": "%",
    "kg": "kg",
    "umol_s": "umol/s",
    "per_kwh": "per kWh",
    "min": "min",
}


def _words(name: str, length: Unit) -> str:
    """Return a field's name as a person would say it: width_cm -> Width (cm), or Width (in)."""
    for tail, unit in (UNITS | {"cm": length}).items():
        if name.endswith(f"_{tail}"):
            stem = name[: -len(tail) - 1].replace("_", " ")
            return f"{stem[:1].upper()}{stem[1:]} ({unit})"
    label = name.replace("_", " ")
    return label[:1].upper() + label[1:]


def _sentence(kind: str, name: str, error: dict[str, Any], length: Unit = "cm") -> str:
    """Return what is wrong with a field and what to do, lengths in a grower's unit."""
    words = _words(name, length)
    inches = length == "in" and name.endswith("_cm")
    context = {
        key: f"{value / CM_PER_INCH:.2f}"
        if inches and isinstance(value, float | int)
        else f"{value:g}"
        if isinstance(value, float)
        else value
        for key, value in error.get("ctx", {}).items()
    }
    match kind:
        case "missing":
            return f"{words} is missing; fill it in."
        case "greater_than_equal":
            return f"{words} has to be at least {context['ge']}."
        case "greater_than":
            return f"{words} has to be more than {context['gt']}."
        case "less_than_equal":
            return f"{words} has to be at most {context['le']}."
        case "less_than":
            return f"{words} has to be less than {context['lt']}."
        case "finite_number" | "float_parsing" | "float_type" | "int_parsing" | "int_type":
            return f"{words} is not a number; type a plain number."
        case "int_from_float":
            return f"{words} should be a whole number."
        case "string_too_short":
            return f"{words} is empty; give at least {context['min_length']} characters."
        case "string_too_long":
            return f"{words} is too long; {context['max_length']} characters at most."
        case "date_from_datetime_parsing" | "date_parsing" | "date_type":
            return f"{words} is not a day; write it like 2026-06-21."
        case "timezone_aware" | "datetime_parsing" | "datetime_from_date_parsing" | "datetime_type":
            return f"{words} is no moment; write it like 2026-06-21T08:00:00+02:00."
        case "literal_error" | "enum":
            return f"{words} should be one of {context['expected']}."
        case "too_short":
            return f"{words} is empty; give at least {context['min_length']}."
        case "too_long":
            return f"{words} has too many rows; {context['max_length']} at most."
        case "extra_forbidden":
            return f"{words} is not a field of this form; leave it out."
        case "json_invalid":
            return "What was sent is not JSON."
        case "value_error":
            return f"{words} {context['error']}."
        case _:
            return f"{words} cannot be read; check it."


def problem(
    status: int,
    title: str,
    detail: str,
    errors: list[FieldProblem] | None = None,
    said: SaidOut | None = None,
    present: dict[str, Any] | None = None,
) -> HttpResponse:
    """Return a problem document as a response."""
    body = Problem(
        title=title, status=status, detail=detail, errors=errors or [], said=said, present=present
    )
    return HttpResponse(
        body.model_dump_json(), status=status, content_type="application/problem+json"
    )


KINDS_OF_DAYLIGHT = ("measured", "reckoned")
"""Where a field may be one of several kinds, its kind is no part of the name a form knows."""


def _field(location: tuple[str | int, ...]) -> str:
    """Return the dotted name a form knows, without where ninja found it (body, payload...)."""
    parts = [str(part) for part in location]
    if parts and parts[0] in ("body", "query", "path", "form"):
        parts = parts[1:]
    if parts and parts[0] == "payload":
        parts = parts[1:]
    return ".".join(part for part in parts if part not in KINDS_OF_DAYLIGHT)


def complaints(errors: Iterable[Any], length: Unit = "cm") -> list[FieldProblem]:
    """Return what schemas complain of, each field with a sentence."""
    found = []
    for item in errors:
        field = _field(tuple(item["loc"]))
        last = next((p for p in reversed(field.split(".")) if not p.isdigit()), "")
        sentence = _sentence(item["type"], last, item, length)
        found.append(FieldProblem(field=field, sentence=sentence))
    return found


class TooOften(Exception):  # noqa: N818 - it is no mistake of ours
    """More was asked than is let through; ``wait_s`` is how long to wait."""

    def __init__(self, wait_s: float) -> None:
        super().__init__("too often")
        self.wait_s = wait_s


def too_often(wait_s: float) -> HttpResponse:
    """Return the refusal of who asks too often."""
    response = problem(429, "Too often", "That is too much at once; send less often, or later.")
    response["Retry-After"] = str(math.ceil(wait_s))
    return response


def answer_with_problems(api: NinjaAPI) -> None:
    """Make every refusal of an API a problem document."""

    @api.exception_handler(CanopyError)
    def unusable(request: HttpRequest, error: CanopyError) -> HttpResponse:
        sentence = worded(error.said, unit_of(request.user))
        fields = [FieldProblem(field=error.field, sentence=sentence)] if error.field else []
        said = SaidOut(code=error.said.code, figures=error.said.figures)
        return problem(422, "That cannot be used", sentence, fields, said)

    @api.exception_handler(TooOften)
    def often(request: HttpRequest, error: TooOften) -> HttpResponse:
        return too_often(error.wait_s)

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
        fields = complaints(error.errors, unit_of(request.user))
        detail = fields[0].sentence if len(fields) == 1 else f"{len(fields)} fields need a look."
        return problem(422, "That cannot be used", detail, fields)

    @api.exception_handler(Http404)
    def missing(request: HttpRequest, error: Http404) -> HttpResponse:
        return problem(404, "Not found", "There is nothing of yours at this address.")

    @api.exception_handler(AuthenticationError)
    def stranger(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return problem(401, "Not signed in", "Sign in first; what you typed is still in the form.")

    @api.exception_handler(RequestDataTooBig)
    def too_big(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
        return problem(413, "Too large", "That is more than 3 MB; send less at once.")

    @api.exception_handler(RawPostDataException)
    @api.exception_handler(MultiPartParserError)
    def not_json(request: HttpRequest, error: Exception) -> HttpResponse:
        return problem(415, "Not JSON", NOT_JSON)

    @api.exception_handler(IntegrityError)
    def outrun(request: HttpRequest, error: IntegrityError) -> HttpResponse:
        sentence = "What this belongs to was changed or taken away meanwhile; reload the page."
        return problem(409, "Changed meanwhile", sentence)

    @api.exception_handler(HttpError)
    def other(request: HttpRequest, error: HttpError) -> HttpResponse:
        if isinstance(error.__cause__, CanopyError):
            return unusable(request, error.__cause__)
        sentence = str(error)
        if error.status_code == 400 and "parse" in sentence:
            sentence = NOT_JSON
        return problem(error.status_code, "That was refused", sentence)


NOT_JSON = "What was sent is not JSON."

WAIT_S = 2
"""How long a caller is asked to wait when others are writing; the interface then tries again."""


def _is_full(error: BaseException | None) -> bool:
    """Whether an error says that there is no room left on the disk."""
    full = isinstance(error, OperationalError) and "full" in str(error)
    return full or (isinstance(error, OSError) and error.errno == errno.ENOSPC)


def _is_busy(error: BaseException | None) -> bool:
    """Whether an error says that the database is held by another."""
    return isinstance(error, OperationalError) and bool(re.search(r"locked|busy", str(error)))


def failed(request: HttpRequest) -> HttpResponse:
    """Answer what nothing else has caught; a database held by others is asked for again."""
    if _is_busy(sys.exc_info()[1]):
        sentence = "Others are writing just now; what you sent was not kept. Try again in a moment."
        response = problem(503, "Busy", sentence)
        response["Retry-After"] = str(WAIT_S)
        return response
    if _is_full(sys.exc_info()[1]):
        sentence = "The disk is full: what you sent was not kept. Make room on the server."
        return problem(507, "No room", sentence)
    return problem(500, "Our mistake", "The server could not do that. What you typed is not lost.")


def refused(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Answer a request that could not be read at all."""
    return problem(400, "That was refused", "What was sent cannot be read; send it as JSON.")


def nowhere(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Answer at an address that is none."""
    return problem(404, "Not found", "There is nothing at this address.")


def locked_out(request: HttpRequest, *_: Any, **__: Any) -> HttpResponse:
    """Answer after too many wrong passwords."""
    sentence = "Too many wrong tries; wait a quarter of an hour, then try again."
    return problem(429, "Locked for a while", sentence)
