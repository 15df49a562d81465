-- Who runs rounds: a lease, with a number that grows each time it is taken. What a former holder does is refused by it.
create table lead (
  name text primary key,
  -- the connection of whoever holds it: where that is gone, so is the holder
  pid integer,
  backend_start timestamptz,
  fence bigint not null default 0,
  -- by the clock of this server; null while nobody holds it
  until timestamptz
);
insert into lead (name) values ('rounds');

-- A provider's numbers are its own, however large.
alter table account alter column event_cursor type bigint;
alter table state_change alter column n type bigint;
-- What a listing had that cannot be understood, by resource, with the reason.
alter table account add column set_aside jsonb not null default '[]';

-- A guard that was seen holds for a day after its tag is gone; null while the tag is there, or that day is over.
alter table resource add column guarded_until timestamptz;

-- What hours said at the last finished round, and since when a fall of theirs that could be foreseen waits to be done.
create table hours_seen (
  resource_id text primary key,
  fleet text not null,
  since timestamptz not null,
  level integer check (level >= 0),
  foreseen_since timestamptz
);

-- Stops that a person said yes to, each by itself: on putting a plan in force, or on letting a held round go.
drop table allowance;
create table let_go (
  id integer generated always as identity primary key,
  resource_id text not null,
  -- the round that was held; null where a plan was confirmed
  round_id integer references round (id) on delete cascade,
  person text not null,
  at timestamptz not null,
  until timestamptz not null
);
create index let_go_until on let_go (until);

alter table action add column due integer check (due >= 0);
alter table action add column is_unforeseen boolean not null default false;
-- when it was first sent; null before that
alter table action add column sent_at timestamptz;
create index action_unforeseen on action (recorded_at) where is_unforeseen;
update action set sent_at = recorded_at where attempts > 0;

-- A round that a person asked for one fleet alone.
alter table round add column fleet text;

-- Rounds do nothing while this stands: everywhere, or in one account.
create table pause (
  id integer generated always as identity primary key,
  account text references account (name),
  reason text not null,
  person text not null,
  at timestamptz not null,
  ended_by text,
  ended_at timestamptz
);
create unique index pause_open on pause (coalesce(account, '')) where ended_at is null;

-- A listing that lacks too much to be believed at once.
create table doubt (
  account text primary key references account (name),
  since timestamptz not null,
  reason text not null,
  missing text[] not null,
  untagged text[] not null,
  needs_person boolean not null,
  -- who said that it is true
  person text
);

-- Raised by whatever may speak against an action between deciding and sending it.
insert into stamp (name) values ('rules');
create trigger plan_version_rules after insert or update or delete on plan_version for each statement execute function bump_stamp('rules');
create trigger schedule_version_rules after insert or update or delete on schedule_version for each statement execute function bump_stamp('rules');
create trigger calendar_version_rules after insert or update or delete on calendar_version for each statement execute function bump_stamp('rules');
create trigger hold_rules after insert or update or delete on hold for each statement execute function bump_stamp('rules');
create trigger pause_rules after insert or update or delete on pause for each statement execute function bump_stamp('rules');

-- Signs of life of the queue's workers: the jobs of one that shows none are taken up by another.
create table worker_life (
  worker_id text primary key,
  seen_at timestamptz not null
);

-- Searching the journal by machine.
create index action_of_resource on action (resource_id, id desc);
create index action_of_round on action (round_id);
