-- What needs a person, while it does: told once when it comes.
create table alert (
  key text primary key,
  since timestamptz not null
);
alter table mail drop constraint mail_kind_check;
alter table mail add constraint mail_kind_check check (kind in ('report', 'confirm', 'alert'));

-- Where others are told of what rounds do.
create table webhook (
  id integer generated always as identity primary key,
  url text not null,
  secret text not null,
  is_on boolean not null default true,
  person text not null,
  at timestamptz not null
);
create unique index webhook_once on webhook (url);
create table webhook_delivery (
  id integer generated always as identity primary key,
  webhook_id integer not null references webhook (id) on delete cascade,
  -- the event's own id: the same for every attempt
  event_id text not null,
  type text not null,
  body text not null,
  status text not null check (status in ('waiting', 'delivered', 'failed')),
  attempts integer not null default 0,
  answer text not null default '',
  at timestamptz not null,
  delivered_at timestamptz
);
create index webhook_delivery_of on webhook_delivery (webhook_id, id desc);

-- Whether an action's end has been told to webhooks.
alter table action add column is_told boolean not null default false;
update action set is_told = true;
create index action_untold on action (id) where not is_told and status in ('done', 'refused', 'given up');
