-- Tables and columns go by the names that the code has for them.
alter table stamp rename to data_version;
create or replace function bump_stamp() returns trigger language plpgsql as $$
begin
  update data_version set n = n + 1 where name = tg_argv[0];
  return null;
end
$$;
alter function bump_stamp() rename to bump_data_version;
alter table meant rename to acknowledged;
alter table realised_day rename column swallowed to covered_anyway;
alter table realised_day rename column swallowed_projected to covered_anyway_projected;
