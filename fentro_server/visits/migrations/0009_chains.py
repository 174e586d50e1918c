"""Each entry stands on the one before it, by a hash."""

from django.db import migrations, models

from fentro_server.visits.chain import link


def chain_all(apps, schema_editor):
    """Link what is there. The trigger that keeps entries as they are steps aside for this alone."""
    Visit, Entry = apps.get_model("visits", "Visit"), apps.get_model("visits", "Entry")
    schema_editor.execute("alter table visits_entry disable trigger entries_stay")
    for visit in Visit.objects.filter(entries_number__gt=0).iterator(chunk_size=500):
        last, rows = str(visit.pk), []
        for entry in Entry.objects.filter(visit=visit).order_by("number"):
            entry.chain = last = link(last, entry)
            rows.append(entry)
        Entry.objects.bulk_update(rows, ["chain"], batch_size=500)
        Visit.objects.filter(pk=visit.pk).update(chain=last)
    schema_editor.execute("alter table visits_entry enable trigger entries_stay")


class Migration(migrations.Migration):
    """Going back forgets the chains; the entries stay."""

    dependencies = [("visits", "0008_lines_are_kept")]
    operations = [
        migrations.AddField("visit", "chain", models.CharField(default="", editable=False, max_length=64)),
        migrations.AddField("entry", "chain", models.CharField(default="", editable=False, max_length=64)),
        migrations.RunPython(chain_all, migrations.RunPython.noop),
    ]
