-- A source may name machines with a domain behind: what is cut before names are compared; null where nothing is.
alter table metric_source add column domain text;
