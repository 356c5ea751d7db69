"""Runs: one crop under one lamp in one space; planned, then lived."""

from django.db import models

from server.accounts.models import Owned
from server.common.models import Known, Shelved, known_within, one_of
from server.crops.models import Crop, Stage
from server.fixtures.models import Fixture, OwnedLamp
from server.spaces.models import Space


class Run(Owned, Shelved, Known):
    """A crop under a lamp in a space: a plan until it begins, then a run with its own copy.

    A plan follows its space, crop and lamps as they are changed. From ``begun_on`` the run stands
    on the document of its latest :class:`Plan`, whatever becomes of them.
    """

    name = models.CharField(max_length=80, blank=True)
    copied_from = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="+")
    space = models.ForeignKey(Space, on_delete=models.RESTRICT, related_name="+")
    fixture = models.ForeignKey(Fixture, on_delete=models.RESTRICT, related_name="+")
    crop = models.ForeignKey(Crop, on_delete=models.RESTRICT, related_name="+")
    over_cap = models.BooleanField(default=False)
    aim = models.CharField(max_length=10, default="likely")
    started_on = models.DateField()
    on_wish = models.CharField(max_length=6, default="fixed")
    on_minute = models.PositiveSmallIntegerField(default=360)
    rise_pct = models.FloatField(default=15.0)
    shift_days = models.PositiveSmallIntegerField(default=1)
    # trips to the tent: how far a lamp goes at least, and how many days lie between
    lift_cm = models.FloatField(default=5.0)
    gap_days = models.PositiveSmallIntegerField(default=7)
    beyond_maker = models.BooleanField(default=False)
    # how many plants share what it costs; nobody said without
    plants = models.PositiveIntegerField(null=True)
    begun_on = models.DateField(null=True)
    ended_on = models.DateField(null=True)
    # how it ended, and what there was of it, in grams or pieces; nobody said without
    ended_how = models.CharField(max_length=10, blank=True, default="")
    harvest = models.FloatField(null=True)
    harvest_unit = models.CharField(max_length=6, blank=True, default="")

    class Meta:
        ordering = ["-changed_at"]
        constraints = [
            known_within("owner"),
            one_of("ended_how", ("", "harvested", "given_up")),
            one_of("harvest_unit", ("", "g", "pieces")),
            one_of("aim", ("likely", "middle", "energy", "even", "gentle", "moves")),
            one_of("on_wish", ("fixed", "cheap", "cool")),
            models.CheckConstraint(
                condition=models.Q(ended_on=None)
                | models.Q(begun_on__isnull=False, ended_on__gte=models.F("begun_on")),
                name="what_ends_has_begun",
            ),
        ]

    @property
    def stage_now(self) -> "RunStage | None":
        """The stage it is in: begun and not ended."""
        return next((s for s in self.lived.all() if s.began_on and not s.ended_on), None)

    @property
    def stage_id(self) -> int | None:
        """The stage to open at: the one it is in, else the one that asks for the most light."""
        now = self.stage_now
        if now is not None:
            return int(now.stage_id)
        stages = self.crop.stages
        most = max(stages, key=lambda stage: stage.dli_low + stage.dli_high, default=None)
        return None if most is None else int(most.pk)


class Plan(Known):
    """A numbered plan of a run; ``document`` is the run's own copy, null until it begins.

    The copy is a run file (docs/formats/run.md), and is only ever read through its reader.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="plans")
    number = models.PositiveSmallIntegerField()
    holds_from = models.DateField(null=True)
    document = models.JSONField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [
            known_within("run"),
            models.UniqueConstraint(fields=["run", "number"], name="one_plan_a_number"),
        ]


class RunStage(Known):
    """When a stage of a begun run really began and ended; null until it did.

    It is called as it was when the run began.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="lived")
    stage = models.ForeignKey(Stage, on_delete=models.RESTRICT, related_name="+")
    name = models.CharField(max_length=80)
    began_on = models.DateField(null=True)
    ended_on = models.DateField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            known_within("run"),
            models.UniqueConstraint(fields=["run", "stage"], name="one_life_a_stage"),
            models.CheckConstraint(
                condition=models.Q(ended_on=None)
                | models.Q(began_on__isnull=False, ended_on__gte=models.F("began_on")),
                name="a_stage_ends_after_it_began",
            ),
        ]


class Setting(Known):
    """Where height, dial and hours stood, or were to stand, from a moment on. Never changed.

    It is for one group of lamps on one timer channel and dial (``group``), on one tier of a rack
    (``level``), and for one ``channel`` of a lamp that has several (null: all). A planned one
    holds from a day of its stage on, counted from 0 (``from_day``). One that is ``freed`` leaves
    that time to the plan again, or to what holds before it. Of several the latest counts.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="settings")
    plan = models.ForeignKey(Plan, on_delete=models.RESTRICT, related_name="settings")
    stage = models.ForeignKey(Stage, on_delete=models.RESTRICT, related_name="+")
    level = models.PositiveSmallIntegerField(default=0)
    group = models.PositiveSmallIntegerField(default=0)
    channel = models.PositiveSmallIntegerField(null=True)
    kind = models.CharField(max_length=8)
    from_day = models.PositiveSmallIntegerField(default=0)
    holds_from = models.DateTimeField(null=True)
    # on-windows: the minute after midnight by the timer's clock, and how many hours from there
    windows = models.JSONField(default=list)
    height_cm = models.FloatField(null=True)
    dial_pct = models.FloatField(null=True)
    watts = models.FloatField(null=True)
    # levers that stay where they are when the plan is made anew
    locked = models.JSONField(default=list)
    freed = models.BooleanField(default=False)
    # given by whoever sent it, so that sent twice it is kept once
    key = models.UUIDField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["run", "stage"], name="settings_of_a_stage")]
        constraints = [
            known_within("run"),
            models.UniqueConstraint(fields=["run", "key"], name="one_setting_a_key"),
            one_of("kind", ("planned", "set", "measured")),
            models.CheckConstraint(
                condition=models.Q(kind="planned") | models.Q(holds_from__isnull=False),
                name="what_was_set_has_a_moment",
            ),
            models.CheckConstraint(
                condition=models.Q(kind="planned") | models.Q(from_day=0),
                name="what_was_set_was_set_at_its_moment",
            ),
            models.CheckConstraint(
                condition=models.Q(freed=True)
                | models.Q(dial_pct__isnull=False)
                | models.Q(watts__isnull=False),
                name="a_setting_says_how_strong",
            ),
        ]

    @property
    def plan_number(self) -> int:
        """The number of the plan it belongs to."""
        return self.plan.number


class Arrangement(Known):
    """Where a run's lamps hang with one fixture as its lamp in one space.

    Kept when another lamp or space is chosen, so that it is there again with the first. One
    without lamps has the fixture once, in the middle.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="arrangements")
    space = models.ForeignKey(Space, on_delete=models.RESTRICT, related_name="+")
    fixture = models.ForeignKey(Fixture, on_delete=models.RESTRICT, related_name="+")

    class Meta:
        constraints = [
            known_within("run"),
            models.UniqueConstraint(
                fields=["run", "space", "fixture"], name="one_arrangement_a_space_and_lamp"
            ),
        ]


class RunLamp(Known):
    """One lamp of a run where the grower hung it.

    ``own_dial_pct`` holds a lamp at its own dial; without it it follows the rail's. A ``group``
    other than 0 can be set by itself, stage by stage. ``piece`` says which of the grower's own
    lamps it is.
    """

    arrangement = models.ForeignKey(Arrangement, on_delete=models.CASCADE, related_name="lamps")
    fixture = models.ForeignKey(Fixture, on_delete=models.RESTRICT, related_name="+")
    piece = models.ForeignKey(OwnedLamp, null=True, on_delete=models.RESTRICT, related_name="+")
    position = models.PositiveSmallIntegerField()
    x_cm = models.FloatField()
    y_cm = models.FloatField()
    turn_deg = models.FloatField(default=0.0)
    tilt_deg = models.FloatField(default=0.0)
    raise_cm = models.FloatField(default=0.0)
    bars_off = models.JSONField(default=list)
    own_dial_pct = models.FloatField(null=True)
    group = models.PositiveSmallIntegerField(default=0)

    class Meta:
        ordering = ["position"]
        constraints = [
            known_within("arrangement"),
            models.UniqueConstraint(fields=["arrangement", "position"], name="one_lamp_a_place"),
        ]


class Fit(Owned, Known):
    """What a few readings made of a space and its lamps. Never changed.

    ``document`` is a kept fit (docs/formats/keptfit.md), and is only ever read through its reader:
    the scene as noted, the readings as they were read, and what is put right of them.
    """

    space = models.ForeignKey(Space, on_delete=models.RESTRICT, related_name="+")
    document = models.JSONField()
    note = models.CharField(max_length=200, blank=True)
    # given by whoever sent it, so that sent twice it is kept once
    key = models.UUIDField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            known_within("owner"),
            models.UniqueConstraint(fields=["owner", "key"], name="one_fit_a_key"),
        ]


class FitChoice(Owned, Known):
    """Which fit a space is planned by from a moment on; null: none. The latest counts."""

    space = models.ForeignKey(Space, on_delete=models.RESTRICT, related_name="+")
    fit = models.ForeignKey(Fit, null=True, on_delete=models.RESTRICT, related_name="+")
    key = models.UUIDField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            known_within("owner"),
            models.UniqueConstraint(fields=["owner", "key"], name="one_fit_choice_a_key"),
        ]
