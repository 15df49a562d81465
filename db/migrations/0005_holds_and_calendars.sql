-- A manual exception with an end, bound to one resource or to one fleet. Kept for good: what was
-- held, by whom and why belongs to the journal.
create table hold (
  id integer generated always as identity primary key,
  resource_id text references resource (id),
  fleet text references fleet (name),
  level integer not null check (level >= 0),
  from_at timestamptz not null,
  to_at timestamptz not null,
  reason text not null check (reason <> ''),
  person text not null,
  -- released before its end
  released_at timestamptz,
  released_by text,
  constraint hold_of_one check ((resource_id is null) <> (fleet is null)),
  constraint hold_has_length check (to_at > from_at),
  constraint hold_release check ((released_at is null) = (released_by is null))
);
create index hold_in_effect on hold (to_at) where released_at is null;

-- Two people may edit a calendar: neither overwrites the other unseen. Names of days are for reading only.
alter table calendar add column version integer not null default 1 check (version > 0);
alter table calendar add column day_names jsonb not null default '{}';
