-- Members of groups are machines of their own, asked for one by one.
alter table resource drop constraint resource_kind_check;
alter table resource add constraint resource_kind_check
  check (kind in ('machine', 'group', 'service', 'member', 'disk', 'address'));

-- What was asked for to keep a mix, recorded before it is sent; sending a key twice does the thing once.
create table mix_order (
  id bigint generated always as identity primary key,
  key text not null unique,
  round_id integer not null references round (id) on delete cascade,
  fleet text not null,
  group_id text not null,
  account text not null,
  kind text not null check (kind in ('order', 'restart', 'remove')),
  part text not null check (part in ('firm', 'spot', 'stand-in')),
  pool text,
  size text not null,
  zone text not null,
  units integer not null check (units > 0),
  keeps_disks boolean not null,
  -- The gaps that it is to fill.
  gaps bigint[] not null,
  -- Whom it is about; of an order whom it brought.
  member_id text,
  why text not null,
  recorded_at timestamptz not null,
  -- Null until it was answered.
  status text check (status in ('accepted', 'refused', 'failed')),
  last_answer text not null default ''
);
create index mix_order_open on mix_order (group_id) where status is null;
create index mix_order_by_round on mix_order (round_id);
create index mix_order_by_group on mix_order (group_id, recorded_at);

-- Machines that a mix was given, while and after they were there.
create table mix_member (
  resource_id text primary key,
  group_id text not null,
  fleet text not null,
  part text not null check (part in ('firm', 'spot', 'stand-in')),
  pool text,
  units integer not null check (units > 0),
  ordered_at timestamptz not null,
  ended_at timestamptz,
  end_why text not null default '',
  -- That it will be taken back was told of.
  noticed_at timestamptz,
  told boolean not null default false
);
create index mix_member_there on mix_member (group_id) where ended_at is null;

-- What the mix of a fleet was expected to save on a day: 5, 50 and 95 of 100 such days save less; null where it has none.
alter table realised_day add column mix_forecast jsonb;

-- Units that were missing, from when on, why, and what took their place: the story of an eviction.
create table mix_gap (
  id bigint generated always as identity primary key,
  group_id text not null,
  fleet text not null,
  cause text not null check (cause in ('evicted', 'gone', 'unhealthy', 'over its cap', 'wanted')),
  member_id text,
  pool text,
  noticed_at timestamptz,
  since timestamptz not null,
  units integer not null check (units >= 0),
  whole integer not null check (whole > 0),
  -- The member whose kept disks wait for it.
  disk_id text,
  closed_at timestamptz,
  filled_by text
);
create index mix_gap_open on mix_gap (group_id) where closed_at is null;
create index mix_gap_by_time on mix_gap (group_id, since);
