create table account (
  name text primary key,
  provider text not null,
  base_url text not null,
  key text not null,
  capabilities jsonb,
  event_cursor integer not null default 0 check (event_cursor >= 0),
  read_at timestamptz,
  read_error text
);

create table resource (
  id text primary key,
  account text not null references account (name),
  name text not null,
  kind text not null check (kind in ('machine', 'group', 'service', 'disk', 'address')),
  region text not null,
  zone text not null,
  size text not null,
  os text not null,
  purchase text not null,
  -- effective: the account's, overlaid by the container's, overlaid by its own
  tags jsonb not null,
  state text not null check (state in ('running', 'stopped', 'halted', 'hibernated', 'starting', 'stopping', 'gone')),
  level integer not null check (level >= 0),
  target integer not null check (target >= 0),
  level_max integer not null check (level_max >= 0),
  since timestamptz not null,
  run_since timestamptz,
  cores integer not null,
  memory_gib integer not null,
  disk_gib integer not null,
  disk_class text not null,
  addresses integer not null,
  attached_to text,
  -- the decision that holds now; set by rounds
  decision_id integer
);
create index resource_running on resource (state) where state in ('running', 'starting', 'stopping', 'halted');

create table state_change (
  account text not null references account (name),
  n integer not null,
  resource_id text not null,
  at timestamptz not null,
  type text not null,
  state text not null,
  level integer not null check (level >= 0),
  note text not null,
  primary key (account, n)
);
create index state_change_of_resource on state_change (resource_id, at);

create table price (
  provider text not null,
  region text not null,
  item text not null,
  size text not null,
  os text not null,
  purchase text not null,
  class text not null,
  rate numeric(20, 9) not null check (rate >= 0),
  cores_min integer not null check (cores_min >= 0),
  read_at timestamptz not null,
  primary key (provider, region, item, size, os, purchase, class)
);

create table metric_day (
  resource_id text not null,
  metric text not null,
  day date not null,
  step_s integer not null check (step_s > 0),
  -- one sample for each step of the UTC day, oldest first; null where there is none
  samples real[] not null,
  primary key (resource_id, metric, day)
) partition by range (day);
