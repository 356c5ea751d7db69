"""One change seen by readings before, after and before again."""

from canopy.measure.change import Changed as Changed
from canopy.measure.change import Gain as Gain
from canopy.measure.change import changed as changed
