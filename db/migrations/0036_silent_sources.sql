-- That a source does not answer at all is a fact of its own; it was read from the error's words.
alter table metric_source add column is_silent boolean not null default false;
update metric_source set is_silent = error like 'no answer%' where error is not null;
