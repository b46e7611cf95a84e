from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("pieces", "0002_bounds_and_tokens")]

    operations = [
        migrations.AddField(
            model_name="artwork",
            name="kind",
            field=models.CharField(default="vector", max_length=20),
        ),
        migrations.AddField(
            model_name="artwork", name="facts", field=models.JSONField(default=dict)
        ),
    ]
