-- What a decision says, as one short text: a round that decides the same again is told by it, without reading the whole.
alter table decision add column sum text;
