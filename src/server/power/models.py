"""Steps of hanging a run's lamps, done or taken back."""

from django.db import models

from server.common.models import Known, known_within
from server.runs.models import Run


class InstallTick(Known):
    """A step done, or taken back (not ``done``), with what was read; never changed.

    Of several for a step the latest counts.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="install_ticks")
    step = models.CharField(max_length=12)
    done = models.BooleanField(default=True)
    readings = models.JSONField(default=dict)
    # the device that read it, where no person did
    by = models.CharField(max_length=80, blank=True, default="")
    # given by whoever sent it, so that sent twice it is kept once
    key = models.UUIDField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["run", "step"], name="ticks_of_a_step")]
        constraints = [
            known_within("run"),
            models.UniqueConstraint(fields=["run", "key"], name="one_tick_a_key"),
        ]
