"""What was changed last."""

from django.core.serializers.json import DjangoJSONEncoder
from django.db import models

from server.accounts.models import Owned


class Change(Owned):
    """One change of a row: what of it was so before, and after.

    ``kind`` and ``row`` name the row changed, ``what`` tells which of its sides; ``place`` says
    where on it. One that was taken back is ``undone`` until something else is changed there.
    """

    kind = models.CharField(max_length=10)
    row = models.PositiveBigIntegerField()
    what = models.CharField(max_length=10)
    place = models.JSONField(default=dict)
    before = models.JSONField(null=True, encoder=DjangoJSONEncoder)
    after = models.JSONField(null=True, encoder=DjangoJSONEncoder)
    undone = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["kind", "row"], name="changes_of_a_row")]
