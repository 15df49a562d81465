-- A person's start is kept for a while, as a hold that gives way to holds. It is kept once: one that was ended stays ended.
alter table hold add column is_start boolean not null default false;
create unique index hold_start_once on hold (resource_id, from_at) where is_start;
-- It is told once to whoever wants to know, with its owner.
alter table hold add column is_told boolean not null default true;
create index hold_untold on hold (id) where not is_told;
