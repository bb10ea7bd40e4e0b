-- A letter may be any document, signed by several people in an order; one of them is asked when those before have signed.
create table letter_signer (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	letter_id uuid not null references letter on delete cascade,
	key text not null,
	position int not null,
	rank int not null,
	side text not null check (side in ('client', 'firm')),
	copy boolean not null default false,
	contact_id uuid references contact,
	staff_id uuid references staff,
	name text not null,
	item_id uuid unique references item,
	state text not null check (state in ('waits', 'asked', 'signed', 'declined', 'stopped')),
	asked_at timestamptz,
	shown_whole_at timestamptz,
	unique (letter_id, key),
	unique (letter_id, position),
	check (case side when 'client' then contact_id is not null and staff_id is null else contact_id is null end)
);
comment on table letter_signer is 'Who signs a letter, or gets a copy of it: in which order, and how far they are';
comment on column letter_signer.key is 'By which the places on its pages name who fills them';
comment on column letter_signer.position is 'Place among all of them, from 1: that of their signature';
comment on column letter_signer.rank is 'Those of one rank are asked together, when all of the rank before have signed';
comment on column letter_signer.copy is 'Signs nothing, and gets a copy when all have signed';
comment on column letter_signer.staff_id is 'Who of the firm; null where anyone may who countersigns letters';
comment on column letter_signer.name is 'As they were called when it was sent';
comment on column letter_signer.item_id is 'By which a contact is asked; null until it is their turn';
comment on column letter_signer.shown_whole_at is 'When the whole letter was before their eyes: without it they cannot sign';
create index letter_signer_of_client on letter_signer (client_id);
create index letter_signer_of_contact on letter_signer (contact_id);
create index letter_signer_of_staff on letter_signer (staff_id);

insert into letter_signer (id, firm_id, client_id, letter_id, key, position, rank, side, contact_id, name, item_id, state, asked_at, shown_whole_at)
	select gen_random_uuid(), l.firm_id, l.client_id, l.id, 'a', 1, 1, 'client', i.contact_id, c.name, i.id,
		case when l.state in ('signed', 'sealed') then 'signed' when l.state = 'declined' then 'declined'
			when l.state = 'withdrawn' then case when exists (select from signature s where s.letter_id = l.id) then 'signed' else 'stopped' end else 'asked' end,
		r.sent_at, case when l.shown_to_contact_id = i.contact_id then l.shown_whole_at end
	from letter l join item i on i.id = l.item_id join contact c on c.id = i.contact_id join request r on r.id = i.request_id;
insert into letter_signer (id, firm_id, client_id, letter_id, key, position, rank, side, name, state, asked_at)
	select gen_random_uuid(), l.firm_id, l.client_id, l.id, 'b', 2, 2, 'firm', f.name,
		case l.state when 'signed' then 'asked' when 'sealed' then 'signed' when 'withdrawn' then 'stopped' else 'waits' end,
		(select signed_at from signature s where s.letter_id = l.id and s.rank = 1)
	from letter l join firm f on f.id = l.firm_id;

alter table letter_signer enable row level security;
create policy same_firm on letter_signer to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on letter_signer as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on letter_signer as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on letter_signer for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
-- they see how far the others of their letter are, and change nothing but their own part
create policy own_clients on letter_signer for select to lantern_contact
	using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[]));
create policy own_part on letter_signer for update to lantern_contact
	using (firm_id = (select current_firm()) and contact_id = (select current_contact()) and client_id = any ((select my_clients())::uuid[]));
grant select, insert, update, delete on letter_signer to lantern_app;
grant select, update (state, shown_whole_at) on letter_signer to lantern_contact;
insert into clearing (kind, place, table_name) values ('requests', 52, 'letter_signer');

alter table letter
	drop column shown_whole_at,
	drop column shown_to_contact_id,
	alter column signature_page drop not null,
	alter column signature_top drop not null,
	add column documents jsonb not null default '[]',
	add column places jsonb not null default '[]',
	drop constraint letter_state_check,
	add constraint letter_state_check check (state in ('sent', 'signed', 'complete', 'sealed', 'declined', 'withdrawn'));
comment on column letter.documents is 'The files it was made of, with the hash of each; none where its words were written here';
comment on column letter.places is 'What is filled in where on its pages, and by whom';
comment on column letter.signature_page is 'Page on which the places for all signatures are; null where they have places of their own';

alter table signature add column filled jsonb not null default '{}';
comment on column signature.filled is 'What they wrote into their places, by label';

insert into message_kind (name) values ('letter_stopped');
