"""Gateways of zone boards."""

from django.db import migrations, models


class Migration(migrations.Migration):
    """One kind more. Back: only while no such gateway is registered; the constraint says so."""

    dependencies = [("gateways", "0001_initial")]
    operations = [
        migrations.RemoveConstraint("gateway", "gateway_kind_known"),
        migrations.AlterField(
            "gateway",
            "kind",
            models.CharField(
                choices=[("probes", "Live probes"), ("controllers", "Controllers"), ("zone_boards", "Zone boards")],
                max_length=20,
            ),
        ),
        migrations.AddConstraint(
            "gateway",
            models.CheckConstraint(
                condition=models.Q(("kind__in", ["probes", "controllers", "zone_boards"])), name="gateway_kind_known"
            ),
        ),
    ]
