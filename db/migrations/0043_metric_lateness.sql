-- How late samples come: of each metric of an account and, where one of our sources tells it, of that source, how many came so
-- many minutes after the end of their slot. By hour of coming; a day of it says what is usual.
create table metric_lateness (
  account text not null,
  source_id integer references metric_source on delete cascade,
  metric text not null,
  hour timestamptz not null,
  minutes smallint not null check (minutes between 0 and 60),
  samples bigint not null,
  unique nulls not distinct (account, source_id, metric, hour, minutes)
);
