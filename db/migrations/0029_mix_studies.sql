-- Long simulations that several workers share: every point of a frontier in stretches of trials.
create table mix_study (
  id bigint generated always as identity primary key,
  fleet text not null,
  mix jsonb not null,
  -- The choices that are tried, in their order.
  choices jsonb not null,
  days integer not null check (days > 0),
  trials integer not null check (trials > 0),
  seed integer not null,
  asked_by text not null,
  asked_at timestamptz not null,
  cancelled_at timestamptz,
  done_at timestamptz,
  -- The points, once all parts are done.
  points jsonb
);
create index mix_study_by_fleet on mix_study (fleet, id);

create table mix_study_part (
  study_id bigint not null references mix_study (id) on delete cascade,
  n integer not null,
  choice integer not null,
  first integer not null,
  count integer not null,
  -- A worker has it since then; one that died gives it up after two minutes.
  claimed_at timestamptz,
  -- Cost, missing unit-hours and the share of time with the floor, each added up over its trials.
  sums double precision[],
  primary key (study_id, n)
);
