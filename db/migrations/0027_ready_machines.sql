-- Where a pool's machines are chosen otherwise than its hours by their places, that is kept as a hold, below all others and above hours.
alter table hold add column is_ready boolean not null default false;
create unique index hold_ready_once on hold (resource_id) where is_ready and released_at is null;
