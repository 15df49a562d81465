-- Who wrote the draft last, a page on somebody's screen, and that page's own count of its writes: a page is never refused its own.
alter table fleet add column draft_editor text;
alter table fleet add column draft_seq bigint;
alter table fleet add column draft_version integer;
