-- A note of the firm may stand in what was written about an item, or with one person; whoever is named in it is told.
alter table client_note add column item_id uuid references item on delete cascade;
alter table client_note add column with_contact_id uuid references contact;
alter table client_note add column number bigint generated always as identity;
alter table client_note add constraint client_note_about check (num_nonnulls(item_id, with_contact_id) <= 1);
comment on column client_note.item_id is 'The item beside whose words it stands; null for a note about the client, or in a talk with one person';
comment on column client_note.with_contact_id is 'In the talk with whom it stands, where it is about no item; they never see it';
create index client_note_by_item on client_note (item_id, number) where item_id is not null;
create index client_note_with on client_note (with_contact_id, client_id, number) where with_contact_id is not null;

create table note_told (
	note_id uuid not null references client_note on delete cascade,
	staff_id uuid not null references staff,
	firm_id uuid not null references firm,
	told_at timestamptz not null,
	seen_at timestamptz,
	primary key (note_id, staff_id)
);
comment on table note_told is 'Who of the firm was named in a note, and whether they have seen it';
create index note_told_waiting on note_told (staff_id, told_at) where seen_at is null;
alter table note_told enable row level security;
create policy same_firm on note_told to lantern_app
	using (firm_id = (select current_firm()) and exists (select from client_note n where n.id = note_id));
grant select, insert, update, delete on note_told to lantern_app;
insert into clearing (kind, place, table_name) values ('clients', 150, 'note_told');

-- Whom somebody of the firm can name in a note about a client: those who may see it.
create function colleagues_who_see(client uuid) returns table (id uuid, name text, email text) language sql stable security definer set search_path = public as $$
	select s.id, s.name, s.email::text from staff s
	where s.firm_id = current_firm() and s.suspended_at is null and client <> all (clients_below(s.id, 1))
	order by lower(s.name), s.id
$$;
revoke execute on function colleagues_who_see from public;
grant execute on function colleagues_who_see to lantern_app;
insert into message_kind (name) values ('named_in_note');
