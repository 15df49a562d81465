-- What is known of a resource is known by its account and its provider's name for it: two providers may both have a "101".
create temporary table renamed on commit drop as select id as old, account || ':' || id as new from resource;
create unique index on renamed (old);

alter table hold drop constraint hold_resource_id_fkey;
update hold t set resource_id = r.new from renamed r where t.resource_id = r.old;
update resource t set attached_to = r.new from renamed r where t.attached_to = r.old;
update resource t set id = r.new from renamed r where t.id = r.old;
alter table hold add constraint hold_resource_id_fkey foreign key (resource_id) references resource (id);

update state_change set resource_id = account || ':' || resource_id;
update resource_version t set resource_id = r.new from renamed r where t.resource_id = r.old;
update metric_day t set resource_id = r.new from renamed r where t.resource_id = r.old;
update metric_month t set resource_id = r.new from renamed r where t.resource_id = r.old;
update decision t set resource_id = r.new from renamed r where t.resource_id = r.old;
update action set resource_id = account || ':' || resource_id;
update last_due t set resource_id = r.new from renamed r where t.resource_id = r.old;
update spend_day t set resource_id = r.new from renamed r where t.resource_id = r.old;
update spend_month t set resource_id = r.new from renamed r where t.resource_id = r.old;
update spend_correction_line t set resource_id = r.new from renamed r where t.resource_id = r.old;
-- A stray's key is its kind, what it is about and, for a tag, the tag.
update meant t
set stray = split_part(t.stray, ': ', 1) || ': ' || r.new || substr(t.stray, length(split_part(t.stray, ': ', 1)) + 3 + length(r.old))
from renamed r
where split_part(split_part(t.stray, ': ', 2), ' ', 1) = r.old;
