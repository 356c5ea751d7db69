"""Reading JSON by the field: every complaint names the field, nothing unknown is dropped unsaid."""

import json
import re
from collections.abc import Callable
from math import isfinite
from typing import Any

from canopy.errors import CanopyError


def load_json(text: str, what: str) -> Any:
    """Return parsed JSON.

    Raises
    ------
    CanopyError
        When it is not JSON, holds NaN or Infinity, gives a field twice, or a text in it cannot be
        kept (:func:`check_texts`).
    """

    def once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        found: dict[str, Any] = {}
        for name, value in pairs:
            if name in found:
                raise CanopyError(f'"{name}" is given twice in one place; keep one.', name)
            found[name] = value
        return found

    def no_constant(word: str) -> float:
        raise CanopyError(f"{what} holds {word}, which is not a number; give a plain number.")

    try:
        found = json.loads(text, object_pairs_hook=once, parse_constant=no_constant)
        check_texts(found, what)
        return found
    except CanopyError:
        raise
    except RecursionError as error:
        raise CanopyError(f"{what} is nested too deeply to read.") from error
    except ValueError as error:
        line = ""
        if isinstance(error, json.JSONDecodeError):
            line = f" Line {error.lineno}: {error.msg}."
        raise CanopyError(
            f"{what} is not JSON.{line} Check that it is the file you meant."
        ) from error


UNKEPT = re.compile("[\0\ud800-\udfff]")
"""NUL, and halves of a surrogate pair: no UTF-8 file or database column can hold them."""


def check_texts(value: Any, what: str) -> None:
    """Check that every text in a parsed JSON value, names of fields included, can be kept.

    Raises
    ------
    CanopyError
        With the dotted name of the field that holds a character which cannot.
    """
    waiting = [("", value)]
    while waiting:
        path, item = waiting.pop()
        if isinstance(item, str):
            if UNKEPT.search(item):
                raise CanopyError(
                    f"{path or what} holds a character that cannot be kept; type it again.", path
                )
        elif isinstance(item, dict):
            for name, inner in item.items():
                if UNKEPT.search(name):
                    raise CanopyError(
                        f"A field's name in {path or what} holds a character that cannot be kept; "
                        "correct it.",
                        path,
                    )
                waiting.append((f"{path}.{name}" if path else name, inner))
        elif isinstance(item, list):
            waiting += [
                (f"{path}.{i}" if path else str(i), inner)
                for i, inner in enumerate(item)
                if isinstance(inner, str | dict | list)
            ]


class Fields:
    """One JSON object being read.

    Parameters
    ----------
    value : object
        What stands there.
    path : str
        Its dotted name.
    ignored : list of str
        Receives the names of fields nobody asked for.
    """

    def __init__(self, value: Any, path: str, ignored: list[str]) -> None:
        if not isinstance(value, dict):
            raise CanopyError(f"{path or 'The file'} should be an object in braces.", path)
        self.value: dict[str, Any] = value
        self.path = path
        self.ignored = ignored
        self.asked: set[str] = set()

    def __contains__(self, name: str) -> bool:
        return name in self.value

    def name_of(self, name: str) -> str:
        """Return the dotted name of a field."""
        return f"{self.path}.{name}" if self.path else name

    def raw(self, name: str, default: Any = ...) -> Any:
        """Return a field as it stands."""
        self.asked.add(name)
        if name not in self.value:
            if default is ...:
                raise CanopyError(f"{self.name_of(name)} is missing.", self.name_of(name))
            return default
        return self.value[name]

    def number(
        self, name: str, low: float, high: float, default: Any = ..., above: bool = False
    ) -> float:
        """Return a finite number from low to high (above low when ``above``)."""
        return number(self.raw(name, default), self.name_of(name), low, high, above)

    def whole(self, name: str, low: int, high: int, default: Any = ...) -> int:
        """Return a whole number from low to high."""
        value = self.number(name, low, high, default)
        if value != int(value):
            raise CanopyError(
                f"{self.name_of(name)} is {value:g}; give a whole number.", self.name_of(name)
            )
        return int(value)

    def numbers(self, name: str, low: float, high: float, most: int) -> tuple[float, ...]:
        """Return a list of at least one number."""
        where = self.name_of(name)
        return tuple(
            number(v, f"{where}[{i}]", low, high) for i, v in enumerate(self.items(name, most))
        )

    def items(self, name: str, most: int) -> list[Any]:
        """Return a list of 1 to ``most`` items."""
        value, where = self.raw(name), self.name_of(name)
        if not isinstance(value, list) or not value:
            raise CanopyError(f"{where} should be a list with something in it.", where)
        if len(value) > most:
            raise CanopyError(f"{where} has {len(value)} items; {most} at most.", where)
        return value

    def word(self, name: str, words: tuple[str, ...], default: Any = ...) -> str:
        """Return one of the given words."""
        value, where = self.raw(name, default), self.name_of(name)
        if value not in words or not isinstance(value, str):
            choices = " or ".join(f'"{w}"' for w in words)
            raise CanopyError(f"{where} should be {choices}.", where)
        return value

    def flag(self, name: str) -> bool:
        """Return whether a field is true; false where it is missing."""
        value, where = self.raw(name, False), self.name_of(name)
        if not isinstance(value, bool):
            raise CanopyError(f"{where} should be true or false.", where)
        return value

    def object(self, name: str) -> "Fields":
        """Return a nested object."""
        return Fields(self.raw(name), self.name_of(name), self.ignored)

    def done(self) -> None:
        """Name the fields nobody asked for."""
        self.ignored += [self.name_of(n) for n in self.value if n not in self.asked]


def number(value: Any, where: str, low: float, high: float, above: bool = False) -> float:
    """Return a finite number within limits, or say what is wrong with it."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise CanopyError(f"{where} should be a number.", where)
    inside = (low < value if above else low <= value) and value <= high
    # an int too large for a float fails `inside` before isfinite could overflow
    if not inside or not isfinite(value):
        span = f"above {low:g} and up to {high:g}" if above else f"from {low:g} to {high:g}"
        raise CanopyError(f"{where} is {_short(value)}; give a number {span}.", where)
    return float(value)


def _short(value: float) -> str:
    try:
        return f"{value:g}"
    except OverflowError:
        return "too large"


def checked(build: Callable[[], Any], where: str) -> Any:
    """Run a constructor and put the field's place before what it complains about."""
    try:
        return build()
    except CanopyError as error:
        raise error.at(f"{where}.{error.field}".rstrip(".")) from error
