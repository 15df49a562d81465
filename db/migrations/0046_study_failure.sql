-- A study may end because its computing takes too long or too much memory: that is said, and it does not begin again.
alter table mix_study add column failure text;
