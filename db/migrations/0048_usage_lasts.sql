-- How many UTC days the longest charge of a file covers: so far back lines begin that a day has a part of.
alter table usage_import add column lasts_days integer not null default 1 check (lasts_days >= 1);
-- Of files from before this was kept it is not known what their charges cover: as long as one may last.
update usage_import set lasts_days = 1098;
