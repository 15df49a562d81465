-- Since when a member has been called unhealthy, by its provider or by a metric; null while nobody does.
alter table mix_member add column ill_since timestamptz;
