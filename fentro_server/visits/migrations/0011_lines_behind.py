"""Visits whose lines are behind their entries are found at once, and the first page of the open ones without sorting all."""

from django.db import migrations, models
from django.db.models import F, Q


class Migration(migrations.Migration):
    dependencies = [("visits", "0010_judged_by")]
    operations = [
        migrations.AddIndex(
            "visit",
            models.Index(fields=["id"], condition=Q(line_number__lt=F("entries_number")), name="visit_line_behind"),
        ),
        migrations.AddIndex(
            "visit",
            models.Index(fields=["company", "-opened_at", "-id"], condition=Q(closed_at__isnull=True), name="visit_open"),
        ),
    ]
