-- Samples of late, each at the end of its slot; those of days that are over are folded into metric_day.
create table metric_recent (
  resource_id text not null,
  metric text not null,
  at timestamptz not null,
  step_s integer not null check (step_s > 0),
  value double precision not null,
  primary key (resource_id, metric, at)
);
create index metric_recent_by_time on metric_recent (at);

-- Where each alarm stands: one row per resource and rule, the rule as its text.
create table alarm (
  resource_id text not null,
  rule text not null,
  fleet text not null,
  words text not null,
  state text not null check (state in ('blind', 'watching', 'warned', 'tripped', 'paused')),
  since timestamptz not null,
  why text not null,
  warned_at timestamptz,
  seen_until timestamptz,
  primary key (resource_id, rule)
);
create index alarm_by_fleet on alarm (fleet, state);

-- Every change of state, with the samples that led to a warning or a trip.
create table alarm_change (
  id bigint generated always as identity primary key,
  at timestamptz not null,
  resource_id text not null,
  fleet text not null,
  words text not null,
  state text not null,
  why text not null,
  samples jsonb,
  -- a warning, a trip and a press of "leave it on" are told once
  is_told boolean not null default true
);
create index alarm_change_by_resource on alarm_change (resource_id, at desc);
create index alarm_change_by_fleet on alarm_change (fleet, at desc);
create index alarm_change_untold on alarm_change (id) where not is_told;

-- Nothing is warned of or done while it stands: for one resource, or for a fleet.
create table alarm_pause (
  id integer generated always as identity primary key,
  resource_id text,
  fleet text,
  from_at timestamptz not null,
  to_at timestamptz not null check (to_at > from_at),
  reason text not null,
  person text not null,
  ended_at timestamptz,
  ended_by text,
  check ((resource_id is null) <> (fleet is null))
);
create index alarm_pause_standing on alarm_pause (to_at) where ended_at is null;

-- An idle trip is a hold at off that ends with the next rise of the hours or the next start; it says how it turns off.
alter table hold add column trip text check (trip in ('stop', 'hibernate'));
create unique index hold_trip_once on hold (resource_id, from_at) where trip is not null;
create index hold_trips on hold (from_at) where trip is not null;

alter table mail drop constraint mail_kind_check;
alter table mail add constraint mail_kind_check check (kind in ('report', 'confirm', 'alert', 'idle'));

-- The metrics that there are samples of, by name: what a condition can be about.
create table metric_name (name text primary key);
insert into metric_name (name) select distinct metric from metric_day;

-- A fleet's day is what all its levers were worth together.
alter table realised_day drop constraint realised_day_lever_check;
