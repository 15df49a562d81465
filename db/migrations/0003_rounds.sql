create table round (
  id integer generated always as identity primary key,
  mode text not null check (mode in ('act', 'rehearse')),
  asked_by text not null,
  at timestamptz not null,
  status text not null check (status in ('running', 'done', 'failed')),
  resources integer not null default 0,
  sent integer not null default 0,
  waiting integer not null default 0,
  braked integer not null default 0,
  changed integer not null default 0,
  unread jsonb not null default '{}',
  took_ms integer,
  error text
);

-- A decision is written when it differs from the one before it, and holds until the next of its
-- resource; so a quiet round costs one row. A rehearsal writes all of its own.
create table decision (
  id integer generated always as identity primary key,
  round_id integer not null references round (id),
  is_rehearsal boolean not null,
  resource_id text not null,
  fleet text,
  due integer,
  actual integer not null,
  verdict text not null check (verdict in ('act', 'as due', 'left', 'waiting', 'braked')),
  why text not null,
  chain jsonb not null,
  verb text,
  wanted integer
);
create index decision_of_resource on decision (resource_id, round_id desc) where not is_rehearsal;
create index decision_of_round on decision (round_id);

create table action (
  id integer generated always as identity primary key,
  -- sending the same key twice does the thing once
  key text not null unique,
  round_id integer not null references round (id),
  resource_id text not null,
  account text not null references account (name),
  verb text not null check (verb in ('start', 'stop', 'hibernate', 'resize')),
  level integer not null check (level >= 0),
  status text not null check (status in ('recorded', 'sent', 'done', 'refused', 'failed', 'given up')),
  attempts integer not null default 0,
  recorded_at timestamptz not null,
  try_again_at timestamptz not null,
  deadline timestamptz not null,
  last_answer text not null default '',
  ended_at timestamptz
);
create unique index action_open on action (resource_id) where status in ('recorded', 'sent');

create table last_due (
  resource_id text primary key,
  level integer not null check (level >= 0)
);

-- Stops that a person allowed for the next round by confirming their number.
create table allowance (
  id integer generated always as identity primary key,
  stops integer not null check (stops > 0),
  person text not null,
  until timestamptz not null,
  used_by integer references round (id)
);
