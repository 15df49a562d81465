-- How far an account's clock goes ahead of ours, in seconds (below zero: behind), now and the most that was ever measured.
alter table account add column clock_ahead_s integer not null default 0, add column clock_ahead_most_s integer not null default 0;
