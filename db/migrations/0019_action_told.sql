-- What an action is searched by stands in its own row, as it was when it was recorded: a journal of millions is
-- searched by indexes alone.
alter table action
  add column fleet text,
  add column asked_by text not null default '',
  add column why text not null default '';

update action a
set asked_by = ro.asked_by,
  fleet = (
    select d.fleet from decision d
    where d.resource_id = a.resource_id and d.round_id <= a.round_id and not d.is_rehearsal
    order by d.round_id desc limit 1
  ),
  why = coalesce((
    select d.why from decision d
    where d.resource_id = a.resource_id and d.round_id <= a.round_id and not d.is_rehearsal
    order by d.round_id desc limit 1
  ), '')
from round ro
where ro.id = a.round_id;

create index action_by_outcome on action (status, recorded_at desc, id desc);
create index action_by_fleet on action (fleet, status, recorded_at desc, id desc);
create index action_by_person on action (lower(asked_by), status, recorded_at desc, id desc);

-- When a rehearsal of another instant was asked for; null: at its own.
alter table round add column asked_at timestamptz;
