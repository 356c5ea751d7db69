from typing import Any

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def date_the_prices(apps: Any, schema_editor: Any) -> None:
    """Give every space its price as a tariff that holds from the day it was made."""
    tariffs = apps.get_model('spaces', 'Tariff').objects
    growers = apps.get_model('accounts', 'Grower').objects
    for space in apps.get_model('spaces', 'Space').objects.order_by('pk'):
        tariffs.create(
            space=space,
            holds_from=space.created_at.date(),
            currency=space.currency,
            per_kwh=space.tariff_per_kwh,
            bands=space.tariff_bands,
        )
        # the last space a grower measured says what money they think in
        growers.filter(pk=space.owner_id).update(currency=space.currency)


def put_the_prices_back(apps: Any, schema_editor: Any) -> None:
    """Give every space its last tariff."""
    for tariff in apps.get_model('spaces', 'Tariff').objects.order_by('holds_from', 'pk'):
        apps.get_model('spaces', 'Space').objects.filter(pk=tariff.space_id).update(
            currency=tariff.currency, tariff_per_kwh=tariff.per_kwh, tariff_bands=tariff.bands
        )


class Migration(migrations.Migration):

    dependencies = [
        ('accounts', '0002_history'),
        ('spaces', '0004_plots_daylight_tariff'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Tariff',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('holds_from', models.DateField()),
                ('currency', models.CharField(max_length=8)),
                ('per_kwh', models.FloatField()),
                ('bands', models.JSONField(default=list)),
                ('created_at', models.DateTimeField(auto_now_add=True)),
            ],
            options={
                'ordering': ['holds_from', 'id'],
            },
        ),
        migrations.AddField(
            model_name='tariff',
            name='space',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='tariffs', to='spaces.space'),
        ),
        migrations.RunPython(date_the_prices, put_the_prices_back),
        migrations.AlterField(
            model_name='space',
            name='currency',
            field=models.CharField(default='', max_length=8),
        ),
        migrations.AlterField(
            model_name='space',
            name='tariff_per_kwh',
            field=models.FloatField(default=0.0),
        ),
        migrations.RemoveField(
            model_name='space',
            name='currency',
        ),
        migrations.RemoveField(
            model_name='space',
            name='tariff_bands',
        ),
        migrations.RemoveField(
            model_name='space',
            name='tariff_per_kwh',
        ),
        migrations.AddField(
            model_name='space',
            name='follows_summer_time',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='space',
            name='removed',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='space',
            name='version',
            field=models.PositiveIntegerField(default=1, editable=False),
        ),
        migrations.AddConstraint(
            model_name='space',
            constraint=models.CheckConstraint(condition=models.Q(('lining__in', ['silver', 'white-paint', 'white-film', 'white-board', 'bare-room', 'black', 'open'])), name='spaces_space_lining'),
        ),
        migrations.AddConstraint(
            model_name='space',
            constraint=models.CheckConstraint(condition=models.Q(('lining_left__in', ['', 'silver', 'white-paint', 'white-film', 'white-board', 'bare-room', 'black', 'open'])), name='spaces_space_lining_left'),
        ),
        migrations.AddConstraint(
            model_name='space',
            constraint=models.CheckConstraint(condition=models.Q(('lining_right__in', ['', 'silver', 'white-paint', 'white-film', 'white-board', 'bare-room', 'black', 'open'])), name='spaces_space_lining_right'),
        ),
        migrations.AddConstraint(
            model_name='space',
            constraint=models.CheckConstraint(condition=models.Q(('lining_front__in', ['', 'silver', 'white-paint', 'white-film', 'white-board', 'bare-room', 'black', 'open'])), name='spaces_space_lining_front'),
        ),
        migrations.AddConstraint(
            model_name='space',
            constraint=models.CheckConstraint(condition=models.Q(('lining_back__in', ['', 'silver', 'white-paint', 'white-film', 'white-board', 'bare-room', 'black', 'open'])), name='spaces_space_lining_back'),
        ),
    ]
