-- Counts the statements that changed resources, in their own transactions: whoever has read the
-- resources under a stamp may keep them in memory until it moves.
create table resource_stamp (
  is_only boolean primary key default true check (is_only),
  n bigint not null
);
insert into resource_stamp (n) values (0);

create function bump_resource_stamp() returns trigger language plpgsql as $$
begin
  update resource_stamp set n = n + 1;
  return null;
end
$$;

create trigger resource_changed
after insert or update or delete on resource
for each statement execute function bump_resource_stamp();
