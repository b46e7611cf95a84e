import json
import zlib

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def fill_sizes(apps, schema_editor):
    """The page of pieces reads rows, not documents."""
    for piece in apps.get_model("pieces", "Piece").objects.select_related("head").iterator():
        try:
            document = json.loads(zlib.decompress(piece.head.compressed))
            (piece.width, piece.height), piece.ppi = document["size_px"], document.get("ppi", 300)
        except (ValueError, KeyError, TypeError, AttributeError, zlib.error):
            continue  # a piece that cannot be read says so when it is opened
        piece.save(update_fields=["width", "height", "ppi"])


class Migration(migrations.Migration):
    dependencies = [
        ("pieces", "0001_initial"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.AddField("piece", "width", models.PositiveIntegerField(default=0)),
        migrations.AddField("piece", "height", models.PositiveIntegerField(default=0)),
        migrations.AddField("piece", "ppi", models.FloatField(default=300)),
        migrations.CreateModel(
            "Applied",
            [
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("token", models.CharField(max_length=60)),
                ("made", models.DateTimeField(auto_now_add=True)),
                (
                    "piece",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="applied",
                        to="pieces.piece",
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=["piece", "token"], name="applied_once")
                ]
            },
        ),
        migrations.CreateModel(
            "StrokeFile",
            [
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("hash", models.CharField(max_length=64)),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="stroke_files",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(
                        fields=["owner", "hash"], name="one_stroke_file_an_owner"
                    )
                ]
            },
        ),
        migrations.RunPython(fill_sizes, migrations.RunPython.noop),
    ]
