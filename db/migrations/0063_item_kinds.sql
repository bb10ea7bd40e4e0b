-- The kinds of items are a list, to which a migration adds a line.
create table item_kind (name text primary key);
comment on table item_kind is 'Every kind of thing that can be asked; the application has a definition for each';
insert into item_kind (name) values ('paper'), ('question'), ('questionnaire'), ('letter'), ('read'), ('approve'), ('book'), ('do'), ('access'), ('transactions');
revoke all on item_kind from public;
alter table item drop constraint item_kind_check;
alter table item add constraint item_kind_known foreign key (kind) references item_kind (name);
