"""The demo's own scenario: chrysanthemums for an autumn show, and herbs on a shelf in winter."""

from typing import Any

from django.db import transaction

from server.accounts.demo import DEMO_NAME
from server.accounts.models import Grower
from server.accounts.services import make_account
from server.crops.models import Crop
from server.fixtures.models import Fixture
from server.runs.services import start_run
from server.spaces.services import add_space
from server.spaces.services.power import add_circuit, keep_power

BOX_ROOM: dict[str, Any] = {
    "name": "Box room tent",
    "width_cm": 120.0,
    "depth_cm": 90.0,
    "height_cm": 180.0,
    "lining": "silver",
    "pot_cm": 16.0,
    "hangers_cm": 12.0,
    "timer_step_min": 15,
    "currency": "€",
    "tariff_per_kwh": 0.31,
}
HERB_SHELF: dict[str, Any] = {
    "name": "Herb shelf",
    "width_cm": 80.0,
    "depth_cm": 36.0,
    "height_cm": 48.0,
    "lining": "white-film",
    "pot_cm": 9.0,
    "hangers_cm": 2.0,
    "timer_step_min": 30,
    "currency": "€",
    "tariff_per_kwh": 0.31,
}

CIRCUIT: dict[str, Any] = {
    "name": "Box room",
    "volts": 230.0,
    "breaker_a": 16.0,
    "continuous_share": 0.8,
    "plug_a": 13.0,
    "strip_a": 10.0,
    "timer_a": 8.0,
    "cord_a": None,
    "lead_m": 3.0,
    "lead_mm2": 1.5,
    "chained": False,
    "loads": [
        {"name": "Fan", "watts": 34.0, "power_factor": 0.7},
        {"name": "Heating mat", "watts": 60.0, "power_factor": 1.0, "duty": 0.4},
    ],
    "origins": {"breaker_a": "label", "strip_a": "label", "timer_a": "label", "plug_a": "usual"},
}
MOUNT: dict[str, Any] = {"rating_kg": 20.0, "besides_kg": 3.2, "corner": "back-left"}
MOUNT |= {"socket_cm": 60.0, "away_cm": 20.0, "sheet_price": 18.0}
AIR: dict[str, Any] = {"fan_m3_h": 180.0, "wanted_rise_k": 3.0, "other_watts": 34.0}


@transaction.atomic
def make_demo() -> Grower:
    """Return the demo grower with spaces, lamps, crops and two runs; made once."""
    kept = Grower.objects.filter(is_demo=True).first()
    if kept is not None:
        return kept
    grower = make_account(DEMO_NAME, None, is_demo=True)
    tent, shelf = add_space(grower, BOX_ROOM), add_space(grower, HERB_SHELF)
    keep_power(tent, add_circuit(grower, CIRCUIT), {"mount": MOUNT, "air": AIR})
    lamps = {lamp.name: lamp for lamp in Fixture.objects.of(grower)}
    crops = {crop.name: crop for crop in Crop.objects.of(grower)}
    start_run(grower, shelf, lamps["Hearth Pair"], crops["Winter herbs"])
    start_run(grower, tent, lamps["Wickerlight Six"], crops["Potted chrysanthemums"])
    return grower
