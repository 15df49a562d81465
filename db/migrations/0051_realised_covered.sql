-- What commitments carried of what a fleet's machines cost on the day; 0 of days that were measured before it was kept.
alter table realised_day add column covered numeric not null default 0;
