-- Whom a host nearly names is looked for when somebody asks, of those that are shown; a look-up is all that samples wait for.
alter table metric_host drop column nearly;
create index metric_host_strangers on metric_host (source_id, first_at desc) where resource_id is null;
drop index metric_host_unmatched;
