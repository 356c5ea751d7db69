from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('accounts', '0001_initial'),
    ]

    operations = [
        migrations.AddField(
            model_name='grower',
            name='currency',
            field=models.CharField(default='€', max_length=8),
        ),
        migrations.AddField(
            model_name='grower',
            name='time_zone',
            field=models.CharField(default='UTC', max_length=64),
        ),
        migrations.AddField(
            model_name='grower',
            name='version',
            field=models.PositiveIntegerField(default=1, editable=False),
        ),
        migrations.AddConstraint(
            model_name='grower',
            constraint=models.CheckConstraint(condition=models.Q(('length_unit__in', ['cm', 'in'])), name='accounts_grower_length_unit'),
        ),
    ]
