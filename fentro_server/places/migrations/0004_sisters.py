"""Systems of the same maker and model are found at once."""

from django.db import migrations, models
from django.db.models import F
from django.db.models.fields.json import KeyTransform


class Migration(migrations.Migration):
    dependencies = [("places", "0003_climate_zones")]
    operations = [
        migrations.AddIndex(
            "system",
            models.Index(
                F("company"),
                F("kind"),
                KeyTransform("maker", "nameplate"),
                KeyTransform("model", "nameplate"),
                F("name"),
                name="system_sisters",
            ),
        ),
    ]
