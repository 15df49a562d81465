-- Detail that is older than is kept, added up by month; the detail's partition is dropped in the same transaction.
create table metric_month (
  resource_id text not null,
  metric text not null,
  month date not null,
  mean real,
  highest real,
  samples bigint not null,
  primary key (resource_id, metric, month)
);

create table spend_month (
  resource_id text not null,
  month date not null,
  compute numeric(40, 0) not null,
  licence numeric(40, 0) not null,
  disk numeric(40, 0) not null,
  address numeric(40, 0) not null,
  image numeric(40, 0) not null,
  covered numeric(40, 0) not null,
  seconds_on bigint not null,
  primary key (resource_id, month)
);
