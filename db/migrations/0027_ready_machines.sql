-- Where a pool's machines are chosen otherwise than its hours by their places, that is kept as a hold, below all others and above hours.
alter table hold add column is_ready boolean not null default false;
create unique index hold_ready_once on hold (resource_id) where is_ready and released_at is null;

-- Who signs in and off where, as providers tell it; it changes no state. Kept for two days.
create table session_event (
  account text not null,
  n bigint not null,
  resource_id text not null,
  at timestamptz not null,
  type text not null check (type in ('sign-in', 'sign-off')),
  note text not null,
  primary key (account, n)
);
create index session_event_by_resource on session_event (resource_id, at desc);
