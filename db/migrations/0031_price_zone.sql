-- Spot may cost something else in each zone; empty where a price is the same in all of a region.
alter table price add column zone text not null default '';
alter table price drop constraint price_pkey;
alter table price add primary key (provider, region, item, size, os, purchase, class, zone, source, valid_from);

-- A file that was taken in can be taken back, by the keys that it wrote.
update price_import
set lines = (
  select jsonb_agg(jsonb_set(line, '{point,zone}', '""') order by i)
  from jsonb_array_elements(lines) with ordinality as l (line, i)
)
where jsonb_array_length(lines) > 0;
