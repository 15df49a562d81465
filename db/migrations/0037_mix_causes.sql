-- Why a machine of a mix was asked for or given back is a code; its words stay in the journal alone.
alter table mix_order add column cause text not null default '';
update mix_order set cause = 'unhealthy' where why = 'it has been unhealthy, and is replaced';
alter table mix_order alter column cause drop default;

alter table mix_member add column end_cause text;
update mix_member
set end_cause = case end_why when 'it has been unhealthy, and is replaced' then 'unhealthy' else end_why end
where ended_at is not null;
alter table mix_member drop column end_why;
