"""Visits at a practice system are marked as such for good; no other visit, and no other entry, can be deleted."""

from django.db import migrations, models

FORWARD = """
update visits_visit set practice = true where system_id in (
    select system.id from places_system system join places_site site on site.id = system.site_id where site.practice
);
set constraints all immediate;
create function fentro_visits_stay() returns trigger language plpgsql as $$
begin
    if tg_op = 'DELETE' then
        if old.practice then return old; end if;
        raise exception 'Visits are never deleted, but for practice.';
    end if;
    if new.practice is distinct from old.practice or new.id is distinct from old.id then
        raise exception 'Whether a visit is practice is said when it is made, and never changed.';
    end if;
    return new;
end $$;
create trigger visits_stay before delete or update of id, practice on visits_visit
    for each row execute function fentro_visits_stay();
create or replace function fentro_entries_stay() returns trigger language plpgsql as $$
begin
    if tg_op = 'DELETE' and exists (select from visits_visit where id = old.visit_id and practice) then return old; end if;
    raise exception 'Entries are never changed or deleted. Add a correcting entry.';
end $$;
"""

BACKWARD = """
create or replace function fentro_entries_stay() returns trigger language plpgsql as $$
begin
    raise exception 'Entries are never changed or deleted. Add a correcting entry.';
end $$;
drop trigger visits_stay on visits_visit;
drop function fentro_visits_stay();
"""


class Migration(migrations.Migration):
    """Adds the mark and the trigger that keeps it."""

    dependencies = [("visits", "0012_words_and_latest"), ("places", "0007_practice")]
    operations = [
        migrations.AddField("visit", "practice", models.BooleanField(default=False, editable=False)),
        migrations.RunSQL(FORWARD, BACKWARD),
    ]
