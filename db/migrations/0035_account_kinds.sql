-- An account is of a kind, and made of parts: what of them could not be read is kept apart, by part.
alter table account add column kind text not null default 'http';
alter table account add column part_errors jsonb not null default '{}';
