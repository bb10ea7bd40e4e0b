-- Papers that a client sent without being asked, until a person of the firm gives them their place.
alter table paper add column unasked boolean not null default false;
alter table paper add column note text not null default '';
alter table paper add column first_words text;
alter table paper add column put_away_at timestamptz;
alter table paper add column put_away_by_id uuid references staff;
alter table paper add constraint paper_put_away check ((put_away_at is null) = (put_away_by_id is null) and (put_away_at is null or item_id is null));
alter table paper add constraint paper_has_its_item check (item_id is not null or unasked);
comment on column paper.unasked is 'Sent without being asked; it has its place once it has an item';
comment on column paper.note is 'What whoever sent it says that it is';
comment on column paper.first_words is 'The words of its first pages; null where they were not read, or there are none';
comment on column paper.put_away_at is 'When a person of the firm said that it needs no place';
create index paper_waiting on paper (firm_id, uploaded_at, id) where item_id is null and removed_at is null and put_away_at is null;
create index paper_unasked on paper (firm_id, uploaded_at desc) where unasked;
