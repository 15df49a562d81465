-- Names that nothing came of for long are forgotten.
alter table metric_name add column last_at timestamptz not null default now();
