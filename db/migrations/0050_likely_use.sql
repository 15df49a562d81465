-- What is likely of the weeks to come, as it was learned each day from those before: of a pool, how many were in use by quarters of
-- local weeks; of a fleet with idle alarms, seconds on and off of one of its machines by UTC hours of the week.
create table likely_use (
  fleet_id integer not null references fleet on delete cascade,
  learned_at timestamptz not null,
  in_use jsonb,
  idle jsonb,
  primary key (fleet_id, learned_at)
);
