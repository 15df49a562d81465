-- Where metrics come from besides the providers: pushed to us by OTLP with a key, or pulled from a Prometheus.
create table metric_source (
  id integer generated always as identity primary key,
  name text not null,
  kind text not null check (kind in ('push', 'pull')),
  -- SHA-256 of the bearer key of a push
  key_hash bytea unique,
  -- the address of a Prometheus, and what it is asked: [{"metric", "query", "label"}]
  url text,
  queries jsonb not null default '[]',
  -- how a source names machines: by which attribute of theirs, and what of a machine that is
  attribute text not null,
  names text not null check (names in ('id', 'name', 'tag')),
  tag text check ((tag is null) = (names <> 'tag')),
  account text,
  step_s integer not null check (step_s > 0 and 86400 % step_s = 0),
  is_paused boolean not null default false,
  person text not null,
  at timestamptz not null,
  removed_at timestamptz,
  -- how it goes
  came_at timestamptz,
  sample_at timestamptz,
  taken bigint not null default 0,
  refused bigint not null default 0,
  -- samples a minute, over the last minute or more that is whole
  rate double precision,
  rate_from timestamptz,
  rate_taken bigint not null default 0,
  error text,
  error_at timestamptz,
  -- a pull's past, asked for once: days done of how many
  history_done integer,
  history_of integer,
  history_error text,
  check ((kind = 'push') = (url is null))
);
create unique index metric_source_name on metric_source (lower(name)) where removed_at is null;

-- What a source named: one row for each host, with its machine or why it has none.
create table metric_host (
  source_id integer not null references metric_source on delete cascade,
  identity text not null,
  attributes jsonb not null,
  resource_id text,
  why text,
  nearly text,
  first_at timestamptz not null,
  last_at timestamptz not null,
  primary key (source_id, identity),
  check ((resource_id is null) = (why is not null))
);
create index metric_host_unmatched on metric_host (source_id) where resource_id is null;

-- Which metrics of which machines a source tells: what it tells, the provider is not asked for.
create table metric_series (
  source_id integer not null references metric_source on delete cascade,
  resource_id text not null,
  metric text not null,
  first_at timestamptz not null,
  last_at timestamptz not null,
  primary key (source_id, resource_id, metric)
);
create index metric_series_by_resource on metric_series (resource_id, metric);

-- What a series that counts on had come to when it was last told of.
create table metric_counter (
  source_id integer not null references metric_source on delete cascade,
  series text not null,
  from_at double precision,
  at double precision not null,
  value double precision not null,
  count double precision not null,
  primary key (source_id, series)
);

-- Pushes bring many at once: keys are compared as bytes, and time is looked for by blocks.
alter table metric_recent
  alter column resource_id type text collate "C",
  alter column metric type text collate "C";
drop index metric_recent_by_time;
create index metric_recent_by_time on metric_recent using brin (at) with (pages_per_range = 32);
