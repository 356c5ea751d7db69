"""Logbook: what was done and seen at the tent, day by day."""

from django.db import models

from server.accounts.models import Owned
from server.common.models import one_of
from server.runs.models import Run

ENTRY_KINDS = (
    "tops",
    "setting",
    "watts",
    "temperature",
    "outage",
    "dead",
    "symptom",
    "cover",
    "cleaned",
    "water",
    "note",
    "answer",
    "photo",
    "try",
    "outcome",
)


class Entry(Owned):
    """One entry of a run's log. Never changed: an edit is a new one that ``replaces`` it.

    One that is ``gone`` takes what it replaces out of sight, which another can undo. ``values``
    are the figures of its kind (docs/formats/quick-line.md), ``text`` is how it was typed.
    """

    run = models.ForeignKey(Run, on_delete=models.RESTRICT, related_name="entries")
    # given by whoever sent it, so that sent twice it is kept once
    key = models.UUIDField()
    kind = models.CharField(max_length=12)
    at = models.DateTimeField()
    values = models.JSONField(default=dict)
    text = models.CharField(max_length=500, blank=True)
    replaces = models.OneToOneField(
        "self", null=True, on_delete=models.RESTRICT, related_name="replaced_by"
    )
    gone = models.BooleanField(default=False)

    class Meta:
        ordering = ["-at", "-id"]
        indexes = [
            models.Index(fields=["run", "-at"], name="entries_of_a_run"),
            models.Index(fields=["run", "kind", "-at"], name="entries_of_a_kind"),
        ]
        constraints = [
            models.UniqueConstraint(fields=["owner", "key"], name="one_log_entry_a_key"),
            one_of("kind", ENTRY_KINDS),
        ]

    @property
    def edited(self) -> bool:
        """Whether something else stood before."""
        return self.replaces_id is not None


class Photo(Owned):
    """A photograph of a run; its file lies beside the database, and an entry of the log shows it.

    ``key`` names the file, and was given by whoever sent it, so that sent twice it is kept once.
    """

    run = models.ForeignKey(Run, on_delete=models.RESTRICT, related_name="photos")
    key = models.UUIDField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_photo_a_key")]


class Feed(Owned):
    """The address a grower's calendar asks for what is due: whoever has it can read that.

    Its secret part is kept as a digest; without one nobody can.
    """

    token_hash = models.CharField(max_length=64, null=True, unique=True)
    token_made_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner"], name="one_feed_a_grower")]
