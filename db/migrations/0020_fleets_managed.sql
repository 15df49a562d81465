-- A fleet that is retired looks after nothing and stands in no list; it can be brought back.
alter table fleet add column retired_at timestamptz;

-- A plan that was taken out of force is a version without a plan.
alter table plan_version alter column body drop not null;

-- Holds follow a fleet that is renamed.
alter table hold drop constraint hold_fleet_fkey;
alter table hold add constraint hold_fleet_fkey foreign key (fleet) references fleet (name) on update cascade;

-- In which order the fleets claimed from an instant on. The first row is from before the first change.
create table fleet_order (
  id integer generated always as identity primary key,
  at timestamptz not null,
  person text not null,
  why text not null,
  fleet_ids integer[] not null
);
create trigger fleet_order_rules after insert or update or delete on fleet_order for each statement execute function bump_stamp('rules');
