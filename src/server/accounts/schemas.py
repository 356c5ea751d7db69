"""What accounts exchange."""

from datetime import date
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from server.accounts.models import Grower
from server.common.schemas import Currency, Name, Strict

Rate = Annotated[float, Field(gt=1e-6, lt=1e6)]


class SignUp(Strict):
    name: Name
    password: str = Field(min_length=8, max_length=200)
    time_zone: str = Field("UTC", max_length=64, description="as the browser has it")


class SignIn(Strict):
    name: Name
    password: str = Field(min_length=1, max_length=200)


class PasswordIn(Strict):
    """The present password, and the one to come."""

    present: str = Field(min_length=1, max_length=200)
    new: str = Field(min_length=8, max_length=200)


class DeleteIn(Strict):
    """The present password: an account goes with everything of it, and does not come back."""

    password: str = Field(min_length=1, max_length=200)


class AddressOut(Schema):
    """An address on the home network, and its QR code as an image."""

    url: str
    qr: str


class Preferences(Strict):
    """What is to change; the rest stays."""

    length_unit: Literal["cm", "in"] | None = None
    temperature_unit: Literal["", "C", "F"] | None = None
    time_zone: str | None = Field(None, max_length=64)
    currency: Currency | None = None
    rates: dict[Currency, Rate] | None = Field(
        None, max_length=20, description="what one of another money is in the grower's own"
    )


class GrowerOut(Schema):
    name: str
    version: int
    is_demo: bool
    length_unit: Literal["cm", "in"]
    temperature_unit: Literal["", "C", "F"]
    time_zone: str
    currency: str
    rates: dict[str, float]
    today: date = Field(description="the day it is by the grower's clock")

    @staticmethod
    def resolve_today(grower: Grower) -> date:
        return grower.today()


class SessionOut(Schema):
    """Who is signed in; nobody when ``grower`` is null."""

    grower: GrowerOut | None
