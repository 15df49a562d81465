-- Years of hourly prices are kept in memory: when some change, only those that later transactions changed are read again.
alter function note_resource_change() rename to note_change;
alter table price add column changed_in xid8 not null default pg_current_xact_id();
create index price_changed_in on price (changed_in);
create trigger price_noted before update on price for each row execute function note_change();

-- What is gone is not among what changed: after that all of it is read again.
insert into stamp (name) values ('price removals');
create trigger price_removed after delete on price for each statement execute function bump_stamp('price removals');
