"""Entries are append-only: the database refuses to change or delete one."""

from django.db import migrations

FORWARD = """
create function fentro_entries_stay() returns trigger language plpgsql as $$
begin
    raise exception 'Entries are never changed or deleted. Add a correcting entry.';
end $$;
create trigger entries_stay before update or delete on visits_entry
    for each row execute function fentro_entries_stay();
"""

BACKWARD = """
drop trigger entries_stay on visits_entry;
drop function fentro_entries_stay();
"""


class Migration(migrations.Migration):
    """Adds the trigger."""

    dependencies = [("visits", "0001_initial")]
    operations = [migrations.RunSQL(FORWARD, BACKWARD)]
