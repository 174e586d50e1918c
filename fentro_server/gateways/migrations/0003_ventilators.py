"""Gateways of ventilators."""

from django.db import migrations, models

KINDS = [
    ("probes", "Live probes"),
    ("controllers", "Controllers"),
    ("zone_boards", "Zone boards"),
    ("ventilators", "Ventilators"),
]


class Migration(migrations.Migration):
    """One kind more. Back: only while no such gateway is registered; the constraint says so."""

    dependencies = [("gateways", "0002_zone_boards")]
    operations = [
        migrations.RemoveConstraint("gateway", "gateway_kind_known"),
        migrations.AlterField("gateway", "kind", models.CharField(choices=KINDS, max_length=20)),
        migrations.AddConstraint(
            "gateway",
            models.CheckConstraint(
                condition=models.Q(("kind__in", [key for key, _ in KINDS])),
                name="gateway_kind_known",
            ),
        ),
    ]
