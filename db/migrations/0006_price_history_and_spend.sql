-- A price counts from its instant until the next line of the same key and source; without a rate the
-- line ends an override. What a person set goes before what the provider says.
alter table price drop constraint price_pkey;
alter table price alter column rate drop not null;
alter table price rename column read_at to valid_from;
alter table price
  add column source text not null default 'provider' check (source in ('provider', 'hand')),
  add column person text not null default '',
  add primary key (provider, region, item, size, os, purchase, class, source, valid_from);

-- Counts the statements that changed prices or commitments: a book that was read under a stamp may be kept.
create table price_stamp (
  is_only boolean primary key default true check (is_only),
  n bigint not null
);
insert into price_stamp (n) values (0);

create function bump_price_stamp() returns trigger language plpgsql as $$
begin
  update price_stamp set n = n + 1;
  return null;
end
$$;

create trigger price_changed
after insert or update or delete on price
for each statement execute function bump_price_stamp();

-- Capacity that is paid for whatever happens: `units` machines of a size in a region, for a fee.
create table commitment (
  id integer generated always as identity primary key,
  provider text not null,
  -- empty: of any account
  account text not null,
  region text not null,
  size text not null,
  units integer not null check (units > 0),
  fee_per_hour numeric(20, 9) not null check (fee_per_hour >= 0),
  from_day date not null,
  -- the last day it counts
  to_day date not null,
  source text not null check (source in ('provider', 'hand')),
  person text not null default '',
  constraint commitment_has_length check (to_day >= from_day),
  unique (provider, account, region, size, from_day, to_day, source)
);
create trigger commitment_changed
after insert or update or delete on commitment
for each statement execute function bump_price_stamp();

-- When the present billed run began, as of each change: so that any instant can be asked what ran and since when.
alter table state_change add column run_since timestamptz;
with marked as (
  select account, n, at, state in ('running', 'starting', 'stopping') as is_on,
    count(*) filter (where state not in ('running', 'starting', 'stopping')) over (partition by resource_id order by at, n) as stretch,
    resource_id
  from state_change
), begun as (
  select account, n, min(at) filter (where is_on) over (partition by resource_id, stretch) as since
  from marked
  where is_on
)
update state_change c
set run_since = begun.since
from begun
where begun.account = c.account and begun.n = c.n;

drop index state_change_of_resource;
create index state_change_of_resource on state_change (resource_id, at, n);
create index state_change_at on state_change (at);

-- What one resource cost on one UTC day, in exact amounts: billionths of the currency / (3600 x 730).
create table spend_day (
  day date not null,
  resource_id text not null,
  compute numeric(40, 0) not null,
  licence numeric(40, 0) not null,
  disk numeric(40, 0) not null,
  address numeric(40, 0) not null,
  image numeric(40, 0) not null,
  -- the part of compute that a commitment has paid for; its fee is a line of its own, `commitment:ID`
  covered numeric(40, 0) not null check (covered >= 0),
  total numeric(40, 0) not null generated always as (compute + licence + disk + address + image - covered) stored,
  seconds_on integer not null check (seconds_on >= 0),
  primary key (resource_id, day)
) partition by range (day);

-- The last UTC day that is reckoned for good; null before the first.
create table spend_closed (
  is_only boolean primary key default true check (is_only),
  day date
);
insert into spend_closed (day) values (null);

-- Whole hours of everything that is billed, for the time strip.
create table spend_hour (
  hour timestamptz primary key,
  amount numeric(40, 0) not null
);

-- An exact amount in millionths of the currency, rounded half to even; the same as the core's.
create function micros_of(amount numeric) returns numeric language sql immutable strict parallel safe as $$
  select case
    when 2 * abs(amount - div(amount, 2628000000) * 2628000000) > 2628000000
      or (2 * abs(amount - div(amount, 2628000000) * 2628000000) = 2628000000 and mod(div(amount, 2628000000), 2) <> 0)
    then div(amount, 2628000000) + sign(amount)
    else div(amount, 2628000000)
  end
$$;
