"""What was entered and signed on a practice visit can be deleted, by this one function; what is real can not."""

from django.db import migrations

FORWARD = """
create or replace function fentro_records_stay() returns trigger language plpgsql as $$
declare the_visit uuid;
begin
    if tg_op = 'DELETE' then
        if tg_table_name = 'records_edition' then the_visit := old.visit_id;
        else select visit_id into the_visit from records_edition where id = old.edition_id; end if;
        if exists (select from visits_visit where id = the_visit and practice) then return old; end if;
    end if;
    raise exception 'A signed report is never changed or deleted. Sign a new edition.';
end $$;
create function fentro_delete_practice(the_visit uuid) returns void
    language plpgsql security definer set search_path = public, pg_temp as $$
begin
    perform from visits_visit where id = the_visit and practice for update;
    if not found then raise exception 'Only practice is deleted.'; end if;
    delete from records_signature where edition_id in (select id from records_edition where visit_id = the_visit);
    delete from records_edition where visit_id = the_visit;
    delete from visits_entry where visit_id = the_visit;
end $$;
"""

BACKWARD = """
drop function fentro_delete_practice(uuid);
create or replace function fentro_records_stay() returns trigger language plpgsql as $$
begin
    raise exception 'A signed report is never changed or deleted. Sign a new edition.';
end $$;
"""


class Migration(migrations.Migration):
    """Adds the function."""

    dependencies = [("records", "0002_editions_stay"), ("visits", "0013_practice_can_be_deleted")]
    operations = [migrations.RunSQL(FORWARD, BACKWARD)]
