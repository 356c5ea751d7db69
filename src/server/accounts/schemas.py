"""What accounts exchange."""

from typing import Literal

from ninja import Schema
from pydantic import Field

from server.common.schemas import Name, Strict


class SignUp(Strict):
    name: Name
    password: str = Field(min_length=8, max_length=200)


class SignIn(Strict):
    name: Name
    password: str = Field(min_length=1, max_length=200)


class Preferences(Strict):
    length_unit: Literal["cm", "in"]


class GrowerOut(Schema):
    name: str
    is_demo: bool
    length_unit: Literal["cm", "in"]


class SessionOut(Schema):
    """Who is signed in; nobody when ``grower`` is null."""

    grower: GrowerOut | None
