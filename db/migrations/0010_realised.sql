-- What a lever was really worth on a UTC day, beside what was projected for it; exact amounts as in spend_day.
create table realised_day (
  day date not null,
  fleet text not null,
  lever text not null check (lever in ('hours')),
  always_on numeric(40, 0) not null,
  -- as it ran on the same weekday in the four weeks before the plan; null without that history
  before numeric(40, 0),
  paid numeric(40, 0) not null,
  projected numeric(40, 0) not null,
  -- of the saving, what a commitment had paid for anyway
  swallowed numeric(40, 0) not null,
  -- cause to amount: what was paid more (or less, below 0) than projected
  gap jsonb not null,
  primary key (day, fleet, lever)
);
