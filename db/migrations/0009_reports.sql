create table report (
  id integer generated always as identity primary key,
  name text not null unique,
  zone text not null,
  -- the local minute of the day it is sent
  minute integer not null check (minute between 0 and 1439),
  days text[] not null,
  is_on boolean not null default true,
  version integer not null default 1 check (version > 0),
  -- the local date of the last issue
  last_day date
);

create table recipient (
  id integer generated always as identity primary key,
  report_id integer not null references report (id) on delete cascade,
  address text not null,
  -- a selector; empty: everything
  scope text not null,
  status text not null check (status in ('unconfirmed', 'confirmed', 'unsubscribed')),
  person text not null,
  at timestamptz not null,
  unique (report_id, address)
);

create table mail (
  id integer generated always as identity primary key,
  kind text not null check (kind in ('report', 'confirm')),
  report_id integer references report (id) on delete set null,
  recipient_id integer references recipient (id) on delete set null,
  address text not null,
  -- the local date of the issue; null for a mail that was asked for besides
  day date,
  subject text not null,
  html text not null,
  text text not null,
  headers jsonb not null default '{}',
  status text not null check (status in ('waiting', 'sent', 'failed')),
  attempts integer not null default 0,
  last_error text not null default '',
  at timestamptz not null,
  sent_at timestamptz
);
-- One issue a day for a recipient, however many workers look at the clock.
create unique index mail_once_a_day on mail (recipient_id, day) where day is not null;
create index mail_of_report on mail (report_id, id desc);
