-- A file of prices that was taken in, with what stood by hand in the places it wrote to: it can be taken back as one.
create table price_import (
  id integer generated always as identity primary key,
  at timestamptz not null,
  person text not null,
  -- lines as they were written, and as they stood by hand before; null where none did
  lines jsonb not null,
  undone_at timestamptz,
  undone_by text
);
