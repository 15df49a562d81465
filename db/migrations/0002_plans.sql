create table calendar (
  name text primary key,
  body jsonb not null
);

create table schedule (
  name text primary key,
  version integer not null default 1 check (version > 0),
  body jsonb not null
);

create table fleet (
  id integer generated always as identity primary key,
  name text not null unique,
  rank integer not null,
  -- counts every write, so that two people never overwrite each other unseen
  version integer not null default 1 check (version > 0),
  draft jsonb not null,
  -- the plan that rounds go by; null until it is put in force
  in_force jsonb
);
create index fleet_rank on fleet (rank, id);

create table plan_version (
  fleet_id integer not null references fleet (id),
  number integer not null check (number > 0),
  body jsonb not null,
  why text not null,
  person text not null,
  at timestamptz not null,
  primary key (fleet_id, number)
);
