from typing import Any

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def begin_histories(apps: Any, schema_editor: Any) -> None:
    """Give every run its first plan, and what was set for a stage its place in the history."""
    plans = apps.get_model('runs', 'Plan').objects
    settings = apps.get_model('runs', 'Setting').objects
    for run in apps.get_model('runs', 'Run').objects.order_by('pk'):
        plan = plans.create(run=run, number=1)
        plans.filter(pk=plan.pk).update(made_at=run.created_at)
        for old in apps.get_model('runs', 'StageSetting').objects.filter(run=run).order_by('pk'):
            made = settings.create(
                run=run,
                plan=plan,
                stage_id=old.stage_id,
                kind='planned',
                windows=[{'on_minute': old.on_minute, 'hours': old.hours}],
                height_cm=old.height_cm,
                dial_pct=old.dial_pct,
                locked=old.locked,
            )
            settings.filter(pk=made.pk).update(made_at=run.changed_at)


class Migration(migrations.Migration):

    dependencies = [
        ('crops', '0003_history'),
        ('fixtures', '0007_history'),
        ('runs', '0004_arrangements'),
        ('spaces', '0005_history'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Plan',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveSmallIntegerField()),
                ('holds_from', models.DateField(null=True)),
                ('document', models.JSONField(null=True)),
                ('made_at', models.DateTimeField(auto_now_add=True)),
            ],
            options={
                'ordering': ['number'],
            },
        ),
        migrations.CreateModel(
            name='RunStage',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80)),
                ('began_on', models.DateField(null=True)),
                ('ended_on', models.DateField(null=True)),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Setting',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('level', models.PositiveSmallIntegerField(default=0)),
                ('group', models.PositiveSmallIntegerField(default=0)),
                ('channel', models.PositiveSmallIntegerField(null=True)),
                ('kind', models.CharField(max_length=8)),
                ('holds_from', models.DateTimeField(null=True)),
                ('windows', models.JSONField(default=list)),
                ('height_cm', models.FloatField(null=True)),
                ('dial_pct', models.FloatField(null=True)),
                ('watts', models.FloatField(null=True)),
                ('locked', models.JSONField(default=list)),
                ('freed', models.BooleanField(default=False)),
                ('key', models.UUIDField(null=True)),
                ('made_at', models.DateTimeField(auto_now_add=True)),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.AddField(
            model_name='run',
            name='begun_on',
            field=models.DateField(null=True),
        ),
        migrations.AddField(
            model_name='run',
            name='copied_from',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='runs.run'),
        ),
        migrations.AddField(
            model_name='run',
            name='ended_on',
            field=models.DateField(null=True),
        ),
        migrations.AddField(
            model_name='run',
            name='name',
            field=models.CharField(blank=True, max_length=80),
        ),
        migrations.AddField(
            model_name='run',
            name='removed',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='run',
            name='version',
            field=models.PositiveIntegerField(default=1, editable=False),
        ),
        migrations.AddField(
            model_name='runlamp',
            name='piece',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.RESTRICT, related_name='+', to='fixtures.ownedlamp'),
        ),
        migrations.AlterField(
            model_name='arrangement',
            name='fixture',
            field=models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='+', to='fixtures.fixture'),
        ),
        migrations.AlterField(
            model_name='arrangement',
            name='space',
            field=models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='+', to='spaces.space'),
        ),
        migrations.AlterField(
            model_name='run',
            name='crop',
            field=models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='+', to='crops.crop'),
        ),
        migrations.AlterField(
            model_name='run',
            name='fixture',
            field=models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='+', to='fixtures.fixture'),
        ),
        migrations.AlterField(
            model_name='run',
            name='space',
            field=models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='+', to='spaces.space'),
        ),
        migrations.AlterField(
            model_name='run',
            name='started_on',
            field=models.DateField(),
        ),
        migrations.AlterField(
            model_name='runlamp',
            name='fixture',
            field=models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='+', to='fixtures.fixture'),
        ),
        migrations.AddField(
            model_name='plan',
            name='run',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='plans', to='runs.run'),
        ),
        migrations.AddField(
            model_name='runstage',
            name='run',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='lived', to='runs.run'),
        ),
        migrations.AddField(
            model_name='runstage',
            name='stage',
            field=models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='+', to='crops.stage'),
        ),
        migrations.AddField(
            model_name='setting',
            name='plan',
            field=models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='settings', to='runs.plan'),
        ),
        migrations.AddField(
            model_name='setting',
            name='run',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='settings', to='runs.run'),
        ),
        migrations.AddField(
            model_name='setting',
            name='stage',
            field=models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='+', to='crops.stage'),
        ),
        migrations.RunPython(begin_histories, migrations.RunPython.noop),
        migrations.RemoveField(
            model_name='run',
            name='stage',
        ),
        migrations.DeleteModel(
            name='StageSetting',
        ),
        migrations.AddConstraint(
            model_name='run',
            constraint=models.CheckConstraint(condition=models.Q(('aim__in', ['middle', 'energy', 'even', 'gentle', 'moves'])), name='runs_run_aim'),
        ),
        migrations.AddConstraint(
            model_name='run',
            constraint=models.CheckConstraint(condition=models.Q(('on_wish__in', ['fixed', 'cheap', 'cool'])), name='runs_run_on_wish'),
        ),
        migrations.AddConstraint(
            model_name='run',
            constraint=models.CheckConstraint(condition=models.Q(('ended_on', None), models.Q(('begun_on__isnull', False), ('ended_on__gte', models.F('begun_on'))), _connector='OR'), name='what_ends_has_begun'),
        ),
        migrations.AddConstraint(
            model_name='plan',
            constraint=models.UniqueConstraint(fields=('run', 'number'), name='one_plan_a_number'),
        ),
        migrations.AddConstraint(
            model_name='runstage',
            constraint=models.UniqueConstraint(fields=('run', 'stage'), name='one_life_a_stage'),
        ),
        migrations.AddConstraint(
            model_name='runstage',
            constraint=models.CheckConstraint(condition=models.Q(('ended_on', None), models.Q(('began_on__isnull', False), ('ended_on__gte', models.F('began_on'))), _connector='OR'), name='a_stage_ends_after_it_began'),
        ),
        migrations.AddIndex(
            model_name='setting',
            index=models.Index(fields=['run', 'stage'], name='settings_of_a_stage'),
        ),
        migrations.AddConstraint(
            model_name='setting',
            constraint=models.UniqueConstraint(fields=('run', 'key'), name='one_setting_a_key'),
        ),
        migrations.AddConstraint(
            model_name='setting',
            constraint=models.CheckConstraint(condition=models.Q(('kind__in', ['planned', 'set', 'measured'])), name='runs_setting_kind'),
        ),
        migrations.AddConstraint(
            model_name='setting',
            constraint=models.CheckConstraint(condition=models.Q(('kind', 'planned'), ('holds_from__isnull', False), _connector='OR'), name='what_was_set_has_a_moment'),
        ),
        migrations.AddConstraint(
            model_name='setting',
            constraint=models.CheckConstraint(condition=models.Q(('freed', True), ('dial_pct__isnull', False), ('watts__isnull', False), _connector='OR'), name='a_setting_says_how_strong'),
        ),
    ]
