-- Somebody of a client asks another one of them for some of the answers: they are told, and say when they have answered.
create table answer_passed (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	item_id uuid not null references item,
	-- of the questions
	keys text[] not null check (cardinality(keys) between 1 and 300),
	to_contact_id uuid not null references contact,
	by_contact_id uuid not null references contact,
	words text not null check (length(words) <= 400),
	passed_at timestamptz not null,
	done_at timestamptz
);
comment on table answer_passed is 'Questions for which somebody of a client asked another one of them';
create index answer_passed_of_item on answer_passed (item_id, passed_at);
create index answer_passed_of_client on answer_passed (client_id);
create index answer_passed_to on answer_passed (to_contact_id);
create index answer_passed_by on answer_passed (by_contact_id);
alter table answer_passed enable row level security;
create policy same_firm on answer_passed to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on answer_passed as restrictive for insert to lantern_app
	with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on answer_passed as restrictive for update to lantern_app using (true)
	with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on answer_passed for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
create policy own_clients on answer_passed to lantern_contact
	using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[]));
grant select, insert, update, delete on answer_passed to lantern_app;
grant select, insert, update on answer_passed to lantern_contact;
insert into clearing (kind, place, table_name) values ('requests', 66, 'answer_passed');
insert into message_kind (name) values ('answer_passed');

-- The others of a client who have access to the portal, by name alone: whom somebody of them can ask. None for what each of them is asked for themselves.
create function people_beside(item uuid) returns table (id uuid, name text)
	language sql stable security definer set search_path = public as $$
	select c.id, c.name from item i join client_contact l on l.client_id = i.client_id join contact c on c.id = l.contact_id
	where i.id = people_beside.item and not i.own and i.firm_id = current_firm() and i.client_id = any (my_clients())
		and c.id <> current_contact() and c.removed_at is null and c.suspended_at is null and c.password_hash is not null and c.email is not null
	order by lower(c.name), c.id
$$;
revoke execute on function people_beside from public;
grant execute on function people_beside to lantern_contact;
-- How somebody of the same client is called, also once they have no access any more: they were asked, or asked.
create function name_beside(person uuid) returns text language sql stable security definer set search_path = public as $$
	select c.name from contact c where c.id = person and c.firm_id = current_firm()
		and exists (select from client_contact l where l.contact_id = c.id and l.client_id = any (my_clients()))
$$;
revoke execute on function name_beside from public;
grant execute on function name_beside to lantern_contact;
