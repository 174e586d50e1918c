"""Editions and signatures are never changed or removed: the database refuses."""

from django.db import migrations

FORWARD = """
create function fentro_records_stay() returns trigger language plpgsql as $$
begin
    raise exception 'A signed report is never changed or deleted. Sign a new edition.';
end $$;
create trigger editions_stay before update or delete on records_edition
    for each row execute function fentro_records_stay();
create trigger signatures_stay before update or delete on records_signature
    for each row execute function fentro_records_stay();
"""

BACKWARD = """
drop trigger editions_stay on records_edition;
drop trigger signatures_stay on records_signature;
drop function fentro_records_stay();
"""


class Migration(migrations.Migration):
    """Adds the triggers."""

    dependencies = [("records", "0001_initial")]
    operations = [migrations.RunSQL(FORWARD, BACKWARD)]
