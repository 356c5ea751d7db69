"""What all tests share."""

import pytest
from hypothesis import settings

from canopy.light.enclosure import Enclosure

settings.register_profile("steady", deadline=None, max_examples=40, derandomize=True)
settings.load_profile("steady")


@pytest.fixture
def tent() -> Enclosure:
    """A 120 x 90 cm tent with 130 cm above the canopy, silver lining."""
    return Enclosure(120, 90, 130, (0.8,) * 4, 0.8, 0.1)


@pytest.fixture
def black_room() -> Enclosure:
    """A room that sends nothing back."""
    return Enclosure(200, 200, 200, (0.0,) * 4, 0.0, 0.0)
