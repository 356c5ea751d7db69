"""Devices and what they report.

Readings, summaries and message ids are kept by their keys alone, without row numbers: half the
bytes, and a stretch of a series stands together.
"""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

SUMMARY = (
    '"n" integer unsigned NOT NULL, "low" real NOT NULL, "high" real NOT NULL, '
    '"total" real NOT NULL'
)
KEPT_BY = {
    "Reading": ("series", "at", '"value" real NOT NULL'),
    "FiveMinutes": ("series", "at", SUMMARY),
    "Hour": ("series", "at", SUMMARY),
    "Unsummed": ("series", "at", ""),
    "MessageId": ("device", "key", '"at" bigint NOT NULL'),
}


def table(model: str, owner: str, key: str, columns: str) -> tuple[str, str]:
    """Return the SQL that makes a table without row numbers, and that which takes it away."""
    name = f"devices_{model.lower()}"
    more = f"{columns}, " if columns else ""
    return (
        f'CREATE TABLE "{name}" ("{owner}_id" bigint NOT NULL REFERENCES "devices_{owner}" ("id") '
        f'ON DELETE CASCADE, "{key}" bigint NOT NULL, {more}'
        f'PRIMARY KEY ("{owner}_id", "{key}")) WITHOUT ROWID',
        f'DROP TABLE "{name}"',
    )


tables = {model: table(model, *columns) for model, columns in KEPT_BY.items()}


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('fixtures', '0008_unmarked_dials'),
        ('spaces', '0007_power'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Device',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('version', models.PositiveIntegerField(default=1, editable=False)),
                ('removed', models.BooleanField(default=False)),
                ('created_at', models.DateTimeField(auto_now_add=True)),
                ('changed_at', models.DateTimeField(auto_now=True)),
                ('name', models.CharField(max_length=80)),
                ('kind', models.CharField(max_length=12)),
                ('off_above_c', models.FloatField(null=True)),
                ('paused', models.BooleanField(default=False)),
                ('simulated', models.BooleanField(default=False)),
                ('token_hash', models.CharField(max_length=64, null=True, unique=True)),
                ('token_made_at', models.DateTimeField(null=True)),
                ('topic', models.CharField(max_length=200, null=True, unique=True)),
                ('heard_at', models.DateTimeField(null=True)),
                ('taken', models.PositiveBigIntegerField(default=0)),
                ('doubled', models.PositiveBigIntegerField(default=0)),
                ('refused', models.PositiveBigIntegerField(default=0)),
                ('refusals', models.JSONField(default=list)),
                ('lags', models.JSONField(default=list)),
                ('schedule', models.JSONField(null=True)),
                ('schedule_at', models.DateTimeField(null=True)),
                ('circuit', models.ForeignKey(null=True, on_delete=django.db.models.deletion.RESTRICT, related_name='devices', to='spaces.circuit')),
                ('fixture', models.ForeignKey(null=True, on_delete=django.db.models.deletion.RESTRICT, related_name='devices', to='fixtures.fixture')),
                ('owner', models.ForeignKey(editable=False, on_delete=django.db.models.deletion.CASCADE, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('piece', models.ForeignKey(null=True, on_delete=django.db.models.deletion.RESTRICT, related_name='devices', to='fixtures.ownedlamp')),
                ('space', models.ForeignKey(null=True, on_delete=django.db.models.deletion.RESTRICT, related_name='devices', to='spaces.space')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Command',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('body', models.JSONField()),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('given_at', models.DateTimeField(null=True)),
                ('done_at', models.DateTimeField(null=True)),
                ('key', models.UUIDField(null=True)),
                ('device', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='commands', to='devices.device')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name='MessageId',
                    fields=[
                        ('pk', models.CompositePrimaryKey('device_id', 'key', blank=True, editable=False, primary_key=True, serialize=False)),
                        ('key', models.BigIntegerField()),
                        ('at', models.BigIntegerField()),
                        ('device', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='devices.device')),
                    ],
                ),
            ],
            database_operations=[migrations.RunSQL(*tables['MessageId'])],
        ),
        migrations.CreateModel(
            name='Series',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('quantity', models.CharField(max_length=12)),
                ('channel', models.PositiveSmallIntegerField(default=1)),
                ('last_at', models.BigIntegerField(null=True)),
                ('last_value', models.FloatField(null=True)),
                ('raw_from', models.BigIntegerField(default=0)),
                ('device', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='series', to='devices.device')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name='Reading',
                    fields=[
                        ('pk', models.CompositePrimaryKey('series_id', 'at', blank=True, editable=False, primary_key=True, serialize=False)),
                        ('at', models.BigIntegerField()),
                        ('value', models.FloatField()),
                        ('series', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.DO_NOTHING, to='devices.series')),
                    ],
                ),
            ],
            database_operations=[migrations.RunSQL(*tables['Reading'])],
        ),
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name='Hour',
                    fields=[
                        ('pk', models.CompositePrimaryKey('series_id', 'at', blank=True, editable=False, primary_key=True, serialize=False)),
                        ('at', models.BigIntegerField()),
                        ('n', models.PositiveIntegerField()),
                        ('low', models.FloatField()),
                        ('high', models.FloatField()),
                        ('total', models.FloatField()),
                        ('series', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='devices.series')),
                    ],
                    options={
                        'abstract': False,
                    },
                ),
            ],
            database_operations=[migrations.RunSQL(*tables['Hour'])],
        ),
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name='FiveMinutes',
                    fields=[
                        ('pk', models.CompositePrimaryKey('series_id', 'at', blank=True, editable=False, primary_key=True, serialize=False)),
                        ('at', models.BigIntegerField()),
                        ('n', models.PositiveIntegerField()),
                        ('low', models.FloatField()),
                        ('high', models.FloatField()),
                        ('total', models.FloatField()),
                        ('series', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='devices.series')),
                    ],
                    options={
                        'abstract': False,
                    },
                ),
            ],
            database_operations=[migrations.RunSQL(*tables['FiveMinutes'])],
        ),
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name='Unsummed',
                    fields=[
                        ('pk', models.CompositePrimaryKey('series_id', 'at', blank=True, editable=False, primary_key=True, serialize=False)),
                        ('at', models.BigIntegerField()),
                        ('series', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='devices.series')),
                    ],
                ),
            ],
            database_operations=[migrations.RunSQL(*tables['Unsummed'])],
        ),
        migrations.AddConstraint(
            model_name='device',
            constraint=models.CheckConstraint(condition=models.Q(('kind__in', ['meter', 'controller', 'thermometer', 'light', 'prices', 'other'])), name='devices_device_kind'),
        ),
        migrations.AddConstraint(
            model_name='device',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('circuit', None), ('fixture', None), ('space__isnull', False)), models.Q(('circuit', None), ('fixture__isnull', False), ('space', None)), models.Q(('circuit__isnull', False), ('fixture', None), ('space', None)), _connector='OR'), name='a_device_belongs_to_one_thing'),
        ),
        migrations.AddConstraint(
            model_name='command',
            constraint=models.UniqueConstraint(fields=('device', 'key'), name='one_command_a_key'),
        ),
        migrations.AddConstraint(
            model_name='series',
            constraint=models.UniqueConstraint(fields=('device', 'quantity', 'channel'), name='one_series_a_quantity'),
        ),
    ]
