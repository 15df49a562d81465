-- What people set for the whole application, by name; checked when it is read.
create table setting (
  name text primary key,
  value jsonb not null
);

-- A stray that somebody says is meant to be, until a date.
create table meant (
  -- kind and what it is about, as strays are told apart
  stray text primary key,
  until_day date not null,
  reason text not null check (reason <> ''),
  person text not null,
  at timestamptz not null
);
