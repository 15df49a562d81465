-- How many actions a round tried, accepted or not, and how many of them not for the first time.
alter table round add column tried integer not null default 0;
alter table round add column again integer not null default 0;
