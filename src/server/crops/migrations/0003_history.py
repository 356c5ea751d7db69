import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('crops', '0002_night'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='stage',
            options={'ordering': ['position', 'id']},
        ),
        migrations.RemoveConstraint(
            model_name='stage',
            name='one_stage_a_position',
        ),
        migrations.AddField(
            model_name='crop',
            name='removed',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='crop',
            name='version',
            field=models.PositiveIntegerField(default=1, editable=False),
        ),
        migrations.AddField(
            model_name='stage',
            name='removed',
            field=models.BooleanField(default=False),
        ),
        migrations.AlterField(
            model_name='stage',
            name='crop',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='every_stage', to='crops.crop'),
        ),
        migrations.AddConstraint(
            model_name='crop',
            constraint=models.CheckConstraint(condition=models.Q(('habit__in', ['carpet', 'pots'])), name='crops_crop_habit'),
        ),
        migrations.AddConstraint(
            model_name='stage',
            constraint=models.UniqueConstraint(condition=models.Q(('removed', False)), fields=('crop', 'position'), name='one_stage_a_position'),
        ),
        migrations.AddConstraint(
            model_name='stage',
            constraint=models.CheckConstraint(condition=models.Q(('response__in', ['short-day', 'long-day', 'neutral'])), name='crops_stage_response'),
        ),
    ]
