"""Spaces to grow in, and what power costs there."""

from datetime import date, datetime, timedelta

from django.db import models

from server.accounts.models import Owned
from server.common.models import Known, Shelved, Surroundings, known_within, lined


class Rack(Owned, Shelved, Known):
    """Shelves one above another. Each of its levels is a space."""

    name = models.CharField(max_length=80)

    class Meta:
        ordering = ["id"]
        constraints = [known_within("owner")]


class Circuit(Owned, Shelved, Known):
    """What a breaker guards: its limits, and what hangs on it besides lamps.

    Amps are what a part is made for, null where nobody knows; ``origins`` says for a limit where
    it was read, a preset's where left out.
    """

    name = models.CharField(max_length=80)
    volts = models.FloatField()
    breaker_a = models.FloatField()
    continuous_share = models.FloatField(default=0.8)
    plug_a = models.FloatField(null=True)
    strip_a = models.FloatField(null=True)
    timer_a = models.FloatField(null=True)
    cord_a = models.FloatField(null=True)
    lead_m = models.FloatField(null=True)
    lead_mm2 = models.FloatField(null=True)
    # lamps hang one on another's cord
    chained = models.BooleanField(default=False)
    # fan, heater, pump: name, watts, power factor, amps, count, duty, inrush, hours, timed
    loads = models.JSONField(default=list)
    origins = models.JSONField(default=dict)

    class Meta:
        ordering = ["id"]
        constraints = [known_within("owner")]


class Space(Owned, Shelved, Surroundings, Known):
    """A tent, cupboard, shelf or room corner, with the timer it has; or a level of a rack.

    ``tier`` counts a rack's levels from 0, the lowest.
    """

    rack = models.ForeignKey(Rack, null=True, on_delete=models.RESTRICT, related_name="levels")
    tier = models.PositiveSmallIntegerField(default=0)
    name = models.CharField(max_length=80)
    width_cm = models.FloatField()
    depth_cm = models.FloatField()
    height_cm = models.FloatField()
    # steps that lift plants: x, y, width, depth and raise in cm
    stands = models.JSONField(default=list)
    # what hangs above the lamps, a shelf board, sends back; null: as the lining does
    ceiling_reflectance = models.FloatField(null=True)
    # share of the light its own board lets through to a level below
    board_through = models.FloatField(default=0.0)
    # lamps are fixed under the board: their height is no lever
    lamps_fixed = models.BooleanField(default=False)
    # where plants stand: x, y, width and depth in cm; the whole floor without any
    plots = models.JSONField(default=list)
    pot_cm = models.FloatField()
    hangers_cm = models.FloatField()
    co2_enriched = models.BooleanField(default=False)
    timer_step_min = models.PositiveSmallIntegerField()
    # whether the timer's clock goes forward in summer; plain ones do not
    follows_summer_time = models.BooleanField(default=False)
    # sunrise and sunset of the lamp, each
    ramp_min = models.PositiveSmallIntegerField(default=0)
    # what daylight there is, and a controller that switches off in the heat; null without
    daylight = models.JSONField(null=True)
    heat = models.JSONField(null=True)

    # the circuit its lamps hang on; what carries them and where cords go; fans and the room's air
    circuit = models.ForeignKey(
        Circuit, null=True, on_delete=models.RESTRICT, related_name="spaces"
    )
    mount = models.JSONField(default=dict)
    air = models.JSONField(default=dict)

    class Meta:
        ordering = ["id"]
        constraints = [
            *lined(),
            known_within("owner"),
            models.UniqueConstraint(fields=["rack", "tier"], name="one_level_a_tier"),
        ]

    def tariff_on(self, day: date) -> "Tariff":
        """Return what power costs on a day: the last tariff that holds by then, else the first."""
        rows = sorted(self.tariffs.all(), key=lambda row: (row.holds_from, row.pk))
        return next((row for row in reversed(rows) if row.holds_from <= day), rows[0])

    def present_prices(self) -> "PriceFile | None":
        """Return the hourly prices it has by now, without them all."""
        files = PriceFile.objects.filter(space_id=self.pk)
        return files.defer("per_kwh").order_by("id").last()

    def present_tariff(self) -> "Tariff":
        """Return what power costs today."""
        return self.tariff_on(self.owner.today())


class Tariff(Known):
    """What a kWh costs in a space from a day on; a later row for the same day corrects it."""

    space = models.ForeignKey(Space, on_delete=models.CASCADE, related_name="tariffs")
    holds_from = models.DateField()
    currency = models.CharField(max_length=8)
    per_kwh = models.FloatField()
    # hours with a price of their own: from, to (minutes after midnight), price, and on which days
    bands = models.JSONField(default=list)
    # what each kWh of a month above so many costs more
    tiers = models.JSONField(default=list)
    standing_per_day = models.FloatField(default=0.0)
    # what the household draws besides, and the grid's carbon where it is known
    other_kwh_a_day = models.FloatField(default=0.0)
    grid_g_per_kwh = models.FloatField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["holds_from", "id"]
        constraints = [known_within("space")]


class PriceFile(Known):
    """Prices hour by hour that stand in for a space's tariff; the latest counts.

    ``per_kwh`` holds one price an hour without a gap, ``adds_per_kwh`` what comes on top of each.
    """

    space = models.ForeignKey(Space, on_delete=models.CASCADE, related_name="price_files")
    first = models.DateTimeField()
    per_kwh = models.JSONField()
    adds_per_kwh = models.FloatField(default=0.0)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [known_within("space")]

    @property
    def until(self) -> datetime:
        """When its last hour ends."""
        return self.first + timedelta(hours=len(self.per_kwh))
