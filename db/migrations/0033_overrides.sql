-- What stands above the hours for a while is of a kind, and says which rule made it (docs/architecture.md, Overrides).
alter table hold rename to override;
alter table override add column kind text;
alter table override add column rule_key text;
alter table override add column off_action text check (off_action in ('stop', 'hibernate', 'drop'));
update override
set kind = case when is_start then 'start' when trip is not null then 'trip' when is_ready then 'ready' else 'hold' end,
  off_action = trip;
update override o set rule_key = a.rule
from alarm a
where o.kind = 'trip' and a.resource_id = o.resource_id and a.words = o.reason and a.state = 'tripped';
update override set rule_key = reason where kind = 'trip' and rule_key is null;
update override set rule_key = reason where kind = 'hold' and person = 'its owner';
alter table override alter column kind set not null;
-- A rule is found again by its key: two of one fleet may read the same.
alter table alarm_change add column rule_key text not null default '';
alter table override add constraint override_kind check (kind in ('hold', 'trip', 'start', 'ready'));

drop index hold_start_once;
drop index hold_trip_once;
drop index hold_trips;
drop index hold_ready_once;
alter table override drop column is_start, drop column trip, drop column is_ready;
create unique index override_start_once on override (resource_id, from_at) where kind = 'start';
create unique index override_trip_once on override (resource_id, from_at, rule_key) where kind = 'trip';
create index override_trips on override (from_at) where kind = 'trip';
create unique index override_ready_once on override (resource_id) where kind = 'ready' and released_at is null;

alter index hold_in_effect rename to override_in_effect;
alter index hold_untold rename to override_untold;
alter table override rename constraint hold_of_one to override_of_one;
alter table override rename constraint hold_has_length to override_has_length;
alter table override rename constraint hold_release to override_release;
alter trigger hold_changed on override rename to override_changed;
alter trigger hold_rules on override rename to override_rules;
