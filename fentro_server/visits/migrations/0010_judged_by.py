"""Each entry says which core judged it; of those made before nobody knows."""

from django.db import migrations, models


class Migration(migrations.Migration):
    """Going back forgets it, and the chain of what was made since breaks: restore a backup instead."""

    dependencies = [("visits", "0009_chains")]
    operations = [
        migrations.AddField("entry", "core", models.CharField(blank=True, default="", editable=False, max_length=40)),
    ]
