-- What a doubted listing lacks is kept as counts; it was a sentence.
alter table doubt add column of_all integer, add column guards_lost integer;
update doubt d
set of_all = greatest(cardinality(missing), cardinality(untagged),
  (select count(*) from resource r where r.account = d.account and r.kind <> 'member'));
update doubt set guards_lost = case when needs_person and cardinality(missing) * 2 <= of_all then 1 else 0 end;
alter table doubt alter column of_all set not null, alter column guards_lost set not null, drop column reason;
