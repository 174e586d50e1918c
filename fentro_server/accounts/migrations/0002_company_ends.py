"""A company can be ended: its people come in no more, its records stay."""

from django.db import migrations, models


class Migration(migrations.Migration):
    """Every company there is goes on."""

    dependencies = [("accounts", "0001_initial")]
    operations = [
        migrations.AddField(
            "company", "is_active", models.BooleanField(default=True, verbose_name="still with us"), preserve_default=True
        )
    ]
