from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("pieces", "0004_binned"),
    ]

    operations = [
        migrations.AddField(
            model_name="state",
            name="visit",
            field=models.CharField(blank=True, default="", max_length=60),
        ),
    ]
