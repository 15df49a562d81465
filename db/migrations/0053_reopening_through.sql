-- The last day that was closed when days were opened again: a reopening is over when all of them are closed anew, however many stretches
-- that takes, so that each corrected day knows its cause.
alter table spend_reopening add column through_day date;
