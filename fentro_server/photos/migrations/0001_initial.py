"""Photos, kept once by their hash."""

import uuid

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True
    dependencies = [
        ("accounts", "0001_initial"),
        ("visits", "0011_lines_behind"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.CreateModel(
            name="Photo",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("sha256", models.CharField(max_length=64)),
                ("media_type", models.CharField(max_length=20)),
                ("content", models.BinaryField()),
                ("received_at", models.DateTimeField(auto_now_add=True)),
                ("by", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL)),
                ("company", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="accounts.company")),
                (
                    "visit",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="photos", to="visits.visit"
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("company", "sha256"), name="photo_once_per_company")
                ]
            },
        )
    ]
