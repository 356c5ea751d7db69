"""What every schema shares: strict, finite, no unknown fields, no NUL in text."""

from typing import Annotated, Any, ClassVar, Protocol

from ninja import Schema
from pydantic import AfterValidator, ConfigDict, Field, StringConstraints, model_validator


class Strict(Schema):
    """Input: unknown fields and non-finite numbers are refused, text is trimmed."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, str_strip_whitespace=True)


class Echoed(Strict):
    """Input that may be an answer sent back changed: what only answers carry is passed over."""

    answers_only: ClassVar[frozenset[str]] = frozenset()

    @model_validator(mode="before")
    @classmethod
    def _pass_over(cls, given: Any) -> Any:
        if not isinstance(given, dict):
            return given
        return {name: value for name, value in given.items() if name not in cls.answers_only}


def _printable(text: str) -> str:
    if any(ord(letter) < 32 and letter not in "\n\t" for letter in text):
        raise ValueError("holds a character that cannot be shown; type it again")
    return text


Name = Annotated[str, StringConstraints(min_length=1, max_length=80), AfterValidator(_printable)]
Note = Annotated[str, StringConstraints(max_length=500), AfterValidator(_printable)]


Id = Annotated[int, Field(ge=0, le=2**63 - 1)]
"""A row's number as a database can hold it."""


Currency = Annotated[str, StringConstraints(min_length=1, max_length=8), AfterValidator(_printable)]


class Bounds(Protocol):
    """The lowest and the highest a figure can be, as the core has them."""

    @property
    def low(self) -> float: ...
    @property
    def high(self) -> float: ...


def within(limit: Bounds, default: Any = ..., above: bool = False) -> Any:
    """Return a field whose figure lies within the core's limits (above the lowest)."""
    if above:
        return Field(default, gt=limit.low, le=limit.high)
    return Field(default, ge=limit.low, le=limit.high)


class Surroundings(Echoed):
    """What stands round a floor; a wall's own lining is empty where it is that of the rest."""

    lining: str = Field(max_length=20)
    lining_left: str = Field("", max_length=20)
    lining_right: str = Field("", max_length=20)
    lining_front: str = Field("", max_length=20)
    lining_back: str = Field("", max_length=20)


class RemovedIn(Strict):
    """Whether a row is put away."""

    removed: bool


class SaidOut(Schema):
    """What is said, by its code in the catalogue, with figures in cm, kg, W and shares."""

    code: str
    figures: dict[str, float | str]


class FieldProblem(Schema):
    """One complaint: the field's dotted name and a sentence."""

    field: str
    sentence: str


class FileOut(Schema):
    """A text to keep as a file."""

    name: str
    text: str


class Problem(Schema):
    """A problem document (RFC 9457) with the fields concerned."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    said: SaidOut | None = None
    errors: list[FieldProblem] = []
    present: dict[str, Any] | None = Field(None, description="the row as it now stands, with 412")


PROBLEMS: dict[int, Any] = dict.fromkeys((400, 401, 404, 409, 413, 422, 503), Problem)
"""For ``response=``: what every guarded endpoint may answer beside its result."""

CHANGES: dict[int, Any] = PROBLEMS | {412: Problem}
"""Likewise, of one that changes a row which may have been changed elsewhere."""
