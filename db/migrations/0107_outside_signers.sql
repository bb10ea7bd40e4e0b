-- Somebody can sign a client's letters without being of the client: a guarantor, another firm's accountant, a lawyer.
create table outside_signer (
	id uuid primary key,
	firm_id uuid not null references firm (id),
	client_id uuid not null references client (id),
	contact_id uuid not null references contact (id),
	named_at timestamptz not null
);
comment on table outside_signer is 'Who signs letters of a client without being of it: they come in by a link of their own, to those letters alone';
create index outside_signer_of_client on outside_signer (client_id, contact_id);
create index outside_signer_by_contact on outside_signer (contact_id, client_id);
alter table outside_signer enable row level security;
create policy same_firm on outside_signer to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on outside_signer as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on outside_signer as restrictive for update to lantern_app
	using (true) with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on outside_signer for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on outside_signer to lantern_app;
insert into clearing (kind, place, table_name) values ('clients', 215, 'outside_signer');

/*
 * Whom the firm knows through which client, as one of its people or as somebody outside who signs for it. Read by functions that ask the
 * right themselves.
 */
create view tied_person with (security_invoker = true) as
	select contact_id, client_id from client_contact union all select contact_id, client_id from outside_signer;
grant select on tied_person to lantern_app;
comment on view tied_person is 'Whom the firm knows through which client, of it or signing for it from outside; read by functions that ask the right';

-- whoever signs only for clients that are closed to somebody is closed to them too
create or replace function unseen_people() returns uuid[]
language sql stable security definer set search_path = public as $$
	select coalesce(array_agg(distinct t.contact_id), '{}') from tied_person t
	where t.client_id = any (unseen_clients())
		and not exists (select from tied_person o where o.contact_id = t.contact_id and o.client_id <> all (unseen_clients()))
$$;

create or replace function belongs_to_not_worked(person uuid) returns boolean
language sql stable security definer set search_path = public as $$
	select exists (select from tied_person where contact_id = person and client_id = any (not_worked_clients()))
$$;

alter table letter_signer add column outside boolean not null default false;
comment on column letter_signer.outside is 'They are not of the client: they see this letter alone, and sign for nobody but themselves';

-- the client's people read the name of whoever signs beside them
create or replace function name_beside(person uuid) returns text
language sql stable security definer set search_path = public as $$
	select c.name from contact c where c.id = person and c.firm_id = current_firm()
		and exists (select from tied_person t where t.contact_id = c.id and t.client_id = any (my_clients()))
$$;

-- nor does a browser stay in that was let in by another way than is asked now; the same person's link goes on leading to the door
create or replace function close_links_of_replaced() returns trigger
language plpgsql security definer set search_path = public as $$
begin
	delete from letter_visit where signer_id = old.id;
	if old.contact_id is distinct from new.contact_id or new.signs_by = 'portal' then
		new.link_hash := null;
	end if;
	return new;
end $$;
drop trigger close_links_of_replaced on letter_signer;
create trigger close_links_of_replaced before update of contact_id, signs_by on letter_signer for each row
	when (old.contact_id is distinct from new.contact_id or old.signs_by <> new.signs_by) execute function close_links_of_replaced();
