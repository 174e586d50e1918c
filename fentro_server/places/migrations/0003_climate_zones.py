"""Zones 0A and 0B, the hottest."""

from django.db import migrations, models

ZONES = ("0A", "0B", "1A", "1B", "2A", "2B", "3A", "3B", "3C", "4A", "4B", "4C", "5A", "5B", "5C", "6A", "6B", "7", "8")


class Migration(migrations.Migration):
    dependencies = [("places", "0002_furnace_with_or_without_coil")]

    operations = [
        migrations.AlterField(
            model_name="site",
            name="climate_zone",
            field=models.CharField(blank=True, choices=[(zone, zone) for zone in ZONES], default="", max_length=2),
        ),
    ]
