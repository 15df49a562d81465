-- Samples of late are many: a series has a number, so that a sample is a third as long, and each UTC day has a partition of its
-- own, which is dropped as one when the day is folded.
create table recent_series (
  id integer generated always as identity primary key,
  resource_id text collate "C" not null,
  metric text collate "C" not null,
  unique (resource_id, metric)
);
insert into recent_series (resource_id, metric) select distinct resource_id, metric from metric_recent;

alter table metric_recent rename to metric_recent_before;
alter table metric_recent_before rename constraint metric_recent_pkey to metric_recent_before_pkey;
create table metric_recent (
  at timestamptz not null,
  value double precision not null,
  series integer not null,
  step_s integer not null check (step_s > 0),
  primary key (series, at)
) partition by range (at);

-- A sample stands at the end of its slot, so that a day ends with its midnight.
do $$
declare
  d date;
begin
  for d in select distinct (at at time zone 'utc' - interval '1 microsecond')::date from metric_recent_before loop
    execute format('create table %I partition of metric_recent for values from (%L) to (%L)',
      'metric_recent_' || to_char(d, 'YYYY_MM_DD'),
      d::text || ' 00:00:00.000001+00', (d + 1)::text || ' 00:00:00.000001+00');
  end loop;
end $$;
insert into metric_recent (at, value, series, step_s)
select m.at, m.value, s.id, m.step_s
from metric_recent_before m
join recent_series s using (resource_id, metric);
drop table metric_recent_before;
