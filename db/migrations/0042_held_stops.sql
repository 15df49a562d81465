-- Stops that are held back until a person has said yes or no; what counts as usual knows nothing of trips that were held.
create table held_stop (
  resource_id text primary key,
  since timestamptz not null,
  reason text not null check (reason in ('unforeseen', 'limit')),
  stop_limit integer check ((reason = 'limit') = (stop_limit is not null))
);

alter table alarm_change add column is_held boolean not null default false;
