-- What each lever of a fleet saved on a day, beside what was foretold. A forecast stays as it was first made: a day that is
-- reckoned anew changes what was saved, and nothing of what was promised.
create table lever_day (
  day date not null,
  fleet text not null,
  lever text not null,
  -- before commitments; null while the day is open
  saved numeric(40, 0),
  p5 numeric(40, 0),
  p50 numeric(40, 0),
  p95 numeric(40, 0),
  primary key (day, fleet, lever),
  constraint lever_day_forecast check ((p5 is null) = (p50 is null) and (p50 is null) = (p95 is null))
);
create index lever_day_by_fleet on lever_day (fleet, day);

-- A day and fleet may have been measured under two texts of levers: the later one stands.
delete from realised_day r using realised_day other
where r.day = other.day and r.fleet = other.fleet and r.ctid < other.ctid;

insert into lever_day (day, fleet, lever, saved)
select day, fleet, 'idle', case when lever = 'idle alarms' then coalesce(before, always_on) - paid else -coalesce((gap ->> 'idle alarms')::numeric, 0) end
from realised_day
where lever like '%idle alarms%';
insert into lever_day (day, fleet, lever, saved, p5, p50, p95)
select day, fleet, 'mix', case when lever = 'mix' then coalesce(before, always_on) - paid else -coalesce((gap ->> 'the mix')::numeric, 0) end,
  round((mix_forecast ->> 'p5')::numeric * 2628000000000000), round((mix_forecast ->> 'p50')::numeric * 2628000000000000),
  round((mix_forecast ->> 'p95')::numeric * 2628000000000000)
from realised_day
where lever like '%mix%';
insert into lever_day (day, fleet, lever, saved)
select r.day, r.fleet, 'hours', coalesce(r.before, r.always_on) - r.paid
  - coalesce((select sum(d.saved) from lever_day d where d.day = r.day and d.fleet = r.fleet), 0)
from realised_day r
where r.lever like '%hours%';

alter table realised_day drop constraint realised_day_pkey;
alter table realised_day drop column lever, drop column mix_forecast;
alter table realised_day add primary key (day, fleet);
