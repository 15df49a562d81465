-- A gap is closed once what was ordered for it is up, or it was called off; until then it says since when all of it is on its way.
alter table mix_gap add column ordered_at timestamptz;
update mix_gap set ordered_at = closed_at where filled_by is not null;
