"""Lamps hang in arrangements: one a run, space and fixture, kept when another is chosen."""

from typing import Any

import django.db.models.deletion
from django.db import migrations, models


def arrange(apps: Any, schema_editor: Any) -> None:
    """Put every run's lamps into the arrangement of its present space and fixture."""
    lamps = apps.get_model("runs", "RunLamp").objects
    arrangements = apps.get_model("runs", "Arrangement").objects
    for run in apps.get_model("runs", "Run").objects.filter(lamps__isnull=False).distinct():
        made = arrangements.create(run=run, space_id=run.space_id, fixture_id=run.fixture_id)
        lamps.filter(run=run).update(arrangement=made)


def back(apps: Any, schema_editor: Any) -> None:
    """Give every lamp its run again; arrangements of other spaces and fixtures go."""
    for lamp in apps.get_model("runs", "RunLamp").objects.select_related("arrangement__run"):
        held, run = lamp.arrangement, lamp.arrangement.run
        if (held.space_id, held.fixture_id) == (run.space_id, run.fixture_id):
            lamp.run = run
            lamp.save()
        else:
            lamp.delete()


class Migration(migrations.Migration):

    dependencies = [
        ('fixtures', '0006_removed'),
        ('runs', '0003_season'),
        ('spaces', '0004_plots_daylight_tariff'),
    ]

    operations = [
        migrations.CreateModel(
            name='Arrangement',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('fixture', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='fixtures.fixture')),
                ('run', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='arrangements', to='runs.run')),
                ('space', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='spaces.space')),
            ],
        ),
        migrations.AddConstraint(
            model_name='arrangement',
            constraint=models.UniqueConstraint(fields=('run', 'space', 'fixture'), name='one_arrangement_a_space_and_lamp'),
        ),
        migrations.RemoveConstraint(model_name='runlamp', name='one_lamp_a_position'),
        migrations.AddField(
            model_name='runlamp',
            name='arrangement',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='lamps', to='runs.arrangement'),
        ),
        migrations.AlterField(
            model_name='runlamp',
            name='run',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='lamps', to='runs.run'),
        ),
        migrations.RunPython(arrange, back),
        migrations.RemoveField(model_name='runlamp', name='run'),
        migrations.AlterField(
            model_name='runlamp',
            name='arrangement',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='lamps', to='runs.arrangement'),
        ),
        migrations.AddConstraint(
            model_name='runlamp',
            constraint=models.UniqueConstraint(fields=('arrangement', 'position'), name='one_lamp_a_place'),
        ),
    ]
