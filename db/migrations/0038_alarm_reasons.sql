-- Why an alarm stands as it does is a fact with its data; what was stored as a sentence stays one.
alter table alarm add column reason jsonb;
update alarm set reason = jsonb_build_object('code', 'said', 'words', why);
alter table alarm alter column reason set not null, drop column why;

alter table alarm_change add column reason jsonb;
update alarm_change set reason = jsonb_build_object('code', 'said', 'words', why);
alter table alarm_change alter column reason set not null, drop column why;
