"""Names are compared as they are read; sessions have rounds."""

import unicodedata
from typing import Any

from django.db import migrations, models

INVISIBLE = ("Cc", "Cf", "Co", "Cn", "Cs", "Zl", "Zp")


def _compared(name: str) -> str:
    folded = unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", name).casefold())
    seen = "".join(c for c in folded if unicodedata.category(c) not in INVISIBLE)
    return " ".join(seen.split())


def _known_by(apps: Any, schema_editor: Any) -> None:
    """Give every account what its name is known by; one that is read like an older one a number."""
    growers = apps.get_model("accounts", "Grower").objects
    taken = set()
    for grower in growers.order_by("pk"):
        name, count = grower.name, 2
        while _compared(name) in taken or not _compared(name):
            name = f"{grower.name} ({count})"
            count += 1
        taken.add(_compared(name))
        growers.filter(pk=grower.pk).update(name=name[:80], name_key=_compared(name))


class Migration(migrations.Migration):
    """Add what names are compared by, and rounds of sessions."""

    dependencies = [("accounts", "0004_rates")]

    operations = [
        migrations.AddField(
            model_name="grower",
            name="name_key",
            field=models.CharField(default="", max_length=320),
            preserve_default=False,
        ),
        migrations.AddField(
            model_name="grower",
            name="session_round",
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.RunPython(_known_by, migrations.RunPython.noop),
        migrations.AlterField(
            model_name="grower", name="name", field=models.CharField(max_length=80)
        ),
        migrations.AlterField(
            model_name="grower",
            name="name_key",
            field=models.CharField(max_length=320, unique=True),
        ),
    ]
