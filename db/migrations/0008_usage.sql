-- Metered lines, as given: the providers' own (import 0) and those of imported files.
create table usage_line (
  import_id integer not null,
  day date not null,
  line text not null,
  account text not null,
  resource_id text not null,
  resource_type text not null,
  region text not null,
  service_category text not null,
  charge_category text not null,
  description text not null,
  from_at timestamptz not null,
  to_at timestamptz not null,
  quantity numeric,
  unit text not null,
  rate numeric,
  billed numeric not null,
  effective numeric,
  list numeric,
  currency text not null,
  tags text not null,
  -- the other columns of a file, as they stood, as a JSON object; empty where there are none
  rest text not null
) partition by range (day);
create index usage_line_of_import on usage_line (import_id, day);

-- The days of an account whose lines are stored whole.
create table usage_read (
  account text not null references account (name),
  day date not null,
  lines integer not null check (lines >= 0),
  primary key (account, day)
);

create table usage_import (
  id integer generated always as identity primary key,
  file_name text not null,
  digest text not null,
  size_bytes bigint not null check (size_bytes >= 0),
  status text not null check (status in ('arriving', 'waiting', 'running', 'done', 'refused', 'cancelled', 'taking back', 'taken back')),
  -- up to where lines are stored: the file is gone on with from here
  bytes_done bigint not null default 0 check (bytes_done >= 0),
  lines_done bigint not null default 0,
  lines_taken bigint not null default 0,
  lines_refused bigint not null default 0,
  billed numeric not null default 0,
  first_day date,
  last_day date,
  currency text not null default '',
  header jsonb,
  error text not null default '',
  person text not null,
  at timestamptz not null
);
-- The same file counts once.
create unique index usage_import_once on usage_import (digest)
where status in ('waiting', 'running', 'done', 'taking back');

-- The file while it is needed, so that a worker on any machine can go on with it.
create table usage_chunk (
  import_id integer not null references usage_import (id) on delete cascade,
  n integer not null check (n >= 0),
  bytes bytea not null,
  primary key (import_id, n)
);
alter table usage_chunk alter column bytes set storage external;

create table usage_refusal (
  import_id integer not null references usage_import (id),
  line bigint not null,
  reason text not null,
  text text not null,
  primary key (import_id, line)
);

-- Detail that is older than is kept, added up by month; the detail's partition is dropped then.
create table usage_month (
  import_id integer not null,
  month date not null,
  account text not null,
  resource_id text not null,
  service_category text not null,
  currency text not null,
  billed numeric not null,
  lines bigint not null,
  primary key (import_id, month, account, resource_id, service_category, currency)
);
