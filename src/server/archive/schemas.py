"""What archives exchange."""

from ninja import Schema
from pydantic import Field


class ArrivedOut(Schema):
    """How many bytes of an archive have arrived."""

    bytes: int


class BroughtOut(Schema):
    """What an archive's rows became, or would, by kind.

    New ones; later states of rows that are here; those that stay as they are here.
    """

    new: dict[str, int]
    later: dict[str, int]
    kept: dict[str, int]
    ignored: list[str] = Field(description="what is in it that nobody knows here")
    done: bool = Field(description="false where it was only tried")
