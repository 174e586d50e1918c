"""A visit knows the number of its last entry, and keeps what lists show of it."""

from django.db import migrations, models

NUMBERS = """
update visits_visit set entries_number = counted.last
from (select visit_id, max(number) as last from visits_entry group by visit_id) as counted
where counted.visit_id = visits_visit.id
"""


class Migration(migrations.Migration):
    """Lines themselves are worked out when they are first asked for."""

    dependencies = [("visits", "0007_kinds_are_the_cores")]
    operations = [
        migrations.AddField("visit", "entries_number", models.PositiveIntegerField(default=0, editable=False)),
        migrations.AddField("visit", "line", models.JSONField(editable=False, null=True)),
        migrations.AddField("visit", "line_number", models.PositiveIntegerField(default=0, editable=False)),
        migrations.AddField("visit", "line_stands_on", models.CharField(default="", editable=False, max_length=16)),
        migrations.RunSQL(NUMBERS, migrations.RunSQL.noop),
    ]
