-- The transaction that last changed a row: whoever keeps the list in memory reads only what later ones changed.
alter table resource add column changed_in xid8 not null default pg_current_xact_id();

create function note_resource_change() returns trigger language plpgsql as $$
begin
  new.changed_in = pg_current_xact_id();
  return new;
end
$$;

create trigger resource_noted
before update on resource
for each row execute function note_resource_change();
