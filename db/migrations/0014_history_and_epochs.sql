-- What hours were: a schedule or calendar as it was from an instant on; without a body it was taken away.
create table schedule_version (
  name text not null,
  number integer not null check (number > 0),
  body jsonb,
  person text not null,
  at timestamptz not null,
  primary key (name, number)
);
create table calendar_version (
  name text not null,
  number integer not null check (number > 0),
  body jsonb,
  person text not null,
  at timestamptz not null,
  primary key (name, number)
);
insert into schedule_version (name, number, body, person, at) select name, 1, body, '', to_timestamp(0) from schedule;
insert into calendar_version (name, number, body, person, at) select name, 1, body, '', to_timestamp(0) from calendar;

-- What the listing tells is history too: since when something is not listed, and that it is again.
alter table state_change add column source text not null default 'feed' check (source in ('feed', 'listing'));
alter table state_change drop constraint state_change_pkey;
alter table state_change add primary key (account, source, n);
-- The transaction that told it: whoever keeps lives in memory reads only what later ones told.
alter table state_change add column told_in xid8 not null default pg_current_xact_id();
create index state_change_told_in on state_change (told_in);

-- A run that goes on being billed while the machine is shut down from inside began before that.
with marked as (
  select c.account, c.source, c.n, c.resource_id, c.at, c.run_since, c.state,
    lag(c.run_since) over (partition by c.resource_id order by c.at, c.n) as before
  from state_change c
  join account a on a.name = c.account
  where (a.capabilities ->> 'billedWhenHalted')::boolean
)
update state_change c
set run_since = marked.before
from marked
where (marked.account, marked.source, marked.n) = (c.account, c.source, c.n) and marked.state = 'halted' and marked.before is not null;

-- Disks and addresses have no feed: that they are listed is their history.
insert into state_change (account, source, n, resource_id, at, type, state, level, note)
select account, 'listing', row_number() over (partition by account order by id), id, since, 'listed', 'stopped', 0, ''
from resource
where kind in ('disk', 'address') and state <> 'gone';

-- What a listing said of a resource besides its state, from an instant on: the past is told by the tags and sizes of then.
create table resource_version (
  resource_id text not null,
  number integer not null check (number > 0),
  at timestamptz not null,
  body jsonb not null,
  primary key (resource_id, number)
);

-- What on means for a group or a service, once a plan has it; null before that.
alter table resource add column own_size integer check (own_size > 0);

-- The days that a fleet is compared with, where a person chose others than the 28 before its first plan.
alter table fleet add column basis_from date;
alter table fleet add column basis_to date;
alter table fleet add constraint fleet_basis check ((basis_from is null) = (basis_to is null) and basis_to >= basis_from);

-- One counter for each kind of thing that what is kept in memory rests on; raised in the transaction that changes it.
create table stamp (
  name text primary key,
  n bigint not null default 0
);
insert into stamp (name) values ('resources'), ('prices'), ('changes'), ('plans'), ('holds'), ('spend'), ('versions');
create function bump_stamp() returns trigger language plpgsql as $$
begin
  update stamp set n = n + 1 where name = tg_argv[0];
  return null;
end
$$;
drop trigger resource_changed on resource;
drop trigger price_changed on price;
drop trigger commitment_changed on commitment;
drop trigger discount_changed on discount;
drop function bump_resource_stamp();
drop function bump_price_stamp();
drop table resource_stamp;
drop table price_stamp;
create trigger resource_changed after insert or update or delete on resource for each statement execute function bump_stamp('resources');
create trigger resource_version_changed after insert or update or delete on resource_version for each statement execute function bump_stamp('versions');
create trigger price_changed after insert or update or delete on price for each statement execute function bump_stamp('prices');
create trigger commitment_changed after insert or update or delete on commitment for each statement execute function bump_stamp('prices');
create trigger discount_changed after insert or update or delete on discount for each statement execute function bump_stamp('prices');
create trigger state_change_told after insert or update or delete on state_change for each statement execute function bump_stamp('changes');
create trigger fleet_changed after insert or update or delete on fleet for each statement execute function bump_stamp('plans');
create trigger plan_version_changed after insert or update or delete on plan_version for each statement execute function bump_stamp('plans');
create trigger schedule_changed after insert or update or delete on schedule for each statement execute function bump_stamp('plans');
create trigger calendar_changed after insert or update or delete on calendar for each statement execute function bump_stamp('plans');
create trigger hold_changed after insert or update or delete on hold for each statement execute function bump_stamp('holds');
create trigger spend_changed after update on spend_closed for each statement execute function bump_stamp('spend');

-- Raised by every reopening; what is reckoned under one epoch is not stored under another.
alter table spend_closed add column epoch bigint not null default 0;

-- Why days were opened again, until they are closed anew.
create table spend_reopening (
  id integer generated always as identity primary key,
  from_day date not null,
  cause text not null,
  person text not null,
  at timestamptz not null,
  is_open boolean not null default true
);
-- A closed day that was reckoned anew and came out differently.
create table spend_correction (
  id integer generated always as identity primary key,
  day date not null,
  at timestamptz not null,
  causes text not null,
  persons text not null,
  before numeric(40, 0) not null,
  after numeric(40, 0) not null,
  resources integer not null
);
create index spend_correction_of_day on spend_correction (day desc, id desc);
create table spend_correction_line (
  correction_id integer not null references spend_correction (id) on delete cascade,
  resource_id text not null,
  before numeric(40, 0) not null,
  after numeric(40, 0) not null,
  primary key (correction_id, resource_id)
);

-- Derived, and reckoned anew in their new shapes.
delete from spend_hour;
alter table spend_hour add column gross numeric(40, 0) not null;
drop table realised_day;
-- What a lever was really worth on a UTC day, at the prices of that day; exact amounts as in spend_day.
create table realised_day (
  day date not null,
  fleet text not null,
  lever text not null check (lever in ('hours')),
  always_on numeric(40, 0) not null,
  -- as it ran on the same weekday of the basis days; null without such a day
  before numeric(40, 0),
  -- the basis days of that weekday, `YYYY-MM-DD`
  basis text[] not null,
  paid numeric(40, 0) not null,
  projected numeric(40, 0) not null,
  -- what the day's prices made the projection dearer than it was at those of the plan
  price_effect numeric(40, 0) not null,
  -- of the saving, and of the projected one, what commitments had paid for anyway
  swallowed numeric(40, 0) not null,
  swallowed_projected numeric(40, 0) not null,
  -- cause to amount: what was paid more (or less, below 0) than projected
  gap jsonb not null,
  primary key (day, fleet, lever)
);
