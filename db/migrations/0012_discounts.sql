-- A share off what a provider asks, on the UTC days from one to another; an empty field stands for any.
create table discount (
  id integer generated always as identity primary key,
  provider text not null,
  item text not null,
  size text not null,
  purchase text not null,
  percent numeric(9, 6) not null check (percent > 0 and percent <= 100),
  from_day date not null,
  to_day date not null,
  person text not null,
  constraint discount_has_length check (to_day >= from_day)
);
create trigger discount_changed
after insert or update or delete on discount
for each statement execute function bump_price_stamp();
