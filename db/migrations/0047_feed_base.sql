-- A feed that begins again counts from 1 once more: what it tells then is stored after all that it told before. The mark is the last
-- event that was read, by which it is seen whether it is still the same feed.
alter table account add column event_base bigint not null default 0 check (event_base >= 0);
alter table account add column event_mark text;
