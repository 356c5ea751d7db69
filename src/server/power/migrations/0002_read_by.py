from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('power', '0001_initial'),
    ]

    operations = [
        migrations.AddField(
            model_name='installtick',
            name='by',
            field=models.CharField(blank=True, default='', max_length=80),
        ),
    ]
