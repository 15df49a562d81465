-- That a provider took an action on is a fact of its own; it was read from the words of its last answer.
alter table action add column is_accepted boolean not null default false;
update action set is_accepted = last_answer = 'accepted' where status = 'sent';
