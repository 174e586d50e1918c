"""Gateways of probes and controllers, each of a company."""

import uuid

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    """An installation's own gateways (by environment) are registered anew, by a lead of each company."""

    initial = True
    dependencies = [("accounts", "0002_company_ends"), ("places", "0003_climate_zones")]
    operations = [
        migrations.CreateModel(
            name="Gateway",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                (
                    "kind",
                    models.CharField(
                        choices=[("probes", "Live probes"), ("controllers", "Controllers")], max_length=20
                    ),
                ),
                ("name", models.CharField(max_length=80)),
                ("address", models.CharField(max_length=200)),
                ("token", models.CharField(blank=True, default="", max_length=200)),
                ("answered", models.BooleanField(editable=False, null=True)),
                ("words", models.CharField(blank=True, default="", editable=False, max_length=300)),
                ("checked_at", models.DateTimeField(editable=False, null=True)),
                ("company", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="accounts.company")),
                (
                    "site",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.PROTECT, to="places.site"
                    ),
                ),
            ],
            options={"ordering": ["name"]},
        ),
        migrations.AddConstraint(
            "gateway",
            models.UniqueConstraint(fields=("company", "name"), name="gateway_name_once_per_company"),
        ),
        migrations.AddConstraint(
            "gateway",
            models.CheckConstraint(
                condition=models.Q(("kind__in", ["probes", "controllers"])), name="gateway_kind_known"
            ),
        ),
    ]
