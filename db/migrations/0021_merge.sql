-- Two clients, or two contacts, that turn out to be one: what was moved is kept, so that it can be undone.
create table merge (
	id uuid primary key,
	firm_id uuid not null references firm,
	kind text not null check (kind in ('client', 'contact')),
	keep_id uuid not null,
	gone_id uuid not null,
	gone_name text not null,
	-- ids of the rows that were moved, by table
	moved jsonb not null,
	-- what the kept one had before
	before jsonb not null,
	by uuid not null references staff,
	at timestamptz not null,
	undone_at timestamptz,
	undone_by text
);
create index merge_of_kept on merge (keep_id, at desc);
alter table merge enable row level security;
create policy same_firm on merge to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update on merge to lantern_app;

-- Takes a client or a contact out of sight and shows them again: row-level security hides them from an update.
create function hide_merged(what text, gone uuid, at timestamptz) returns void
language plpgsql security definer set search_path = public as $$
begin
	if what = 'client' then
		update client set removed_at = at where firm_id = current_firm() and id = gone;
		delete from client_position where firm_id = current_firm() and client_id = gone;
	else
		update contact set removed_at = at where firm_id = current_firm() and id = gone;
	end if;
end $$;
create function show_merged(what text, gone uuid) returns void
language plpgsql security definer set search_path = public as $$
begin
	if what = 'client' then
		update client set removed_at = null where firm_id = current_firm() and id = gone;
		insert into client_position (client_id, firm_id, name, responsible_id, state)
			select id, firm_id, name, responsible_id, state from client where id = gone and firm_id = current_firm() on conflict do nothing;
		perform recount_clients(array[gone]);
		update client_position set last_sign_of_life = (select max(at) from event where client_id = gone and actor_kind = 'contact') where client_id = gone;
	else
		update contact set removed_at = null where firm_id = current_firm() and id = gone;
	end if;
end $$;

-- A client's history goes on from those that were merged into it.
create function client_and_merged(wanted uuid) returns uuid[]
language sql stable security definer set search_path = public as $$
	select array[wanted] || coalesce(array_agg(m.gone_id), '{}') from merge m
	where m.keep_id = wanted and m.firm_id = current_firm() and m.kind = 'client' and m.undone_at is null
$$;

-- Clients that share a person, an address, a phone or a tax number with one, or a name like it: ids and why.
create function likely_doubles(wanted uuid) returns table (client_id uuid, why text)
language plpgsql stable security definer set search_path = public set pg_trgm.similarity_threshold = 0.4 as $$
declare
	firm uuid := current_firm();
begin
	return query
	select distinct on (f.id) f.id, f.why from (
		select o.client_id id, 1 place, 'has the same tax number' why from fact f join fact o on lower(o.value) = lower(f.value) and o.name = 'tax_number' and o.replaced_at is null
			where f.client_id = wanted and f.name = 'tax_number' and f.replaced_at is null and o.firm_id = firm
		union all
		select c.id, 2, 'has a name like it' from client w join client c on lower(c.name) % lower(w.name) where w.id = wanted and w.firm_id = firm and c.firm_id = firm
		union all
		select oc.client_id, 3, 'has a person with the same phone number' from client_contact cc join contact p on p.id = cc.contact_id
			join contact q on q.phone = p.phone and q.id <> p.id and q.removed_at is null join client_contact oc on oc.contact_id = q.id
			where cc.client_id = wanted and p.firm_id = firm and q.firm_id = firm
		union all
		select oc.client_id, 4, 'has the same person' from client_contact cc join client_contact oc on oc.contact_id = cc.contact_id
			where cc.client_id = wanted and oc.firm_id = firm
	) f where f.id <> wanted order by f.id, f.place;
end $$;
revoke execute on function hide_merged, show_merged, client_and_merged, likely_doubles from public;
grant execute on function hide_merged, show_merged, client_and_merged, likely_doubles to lantern_app;
grant delete on client_look to lantern_app;

-- An item may move from one client to another: both are counted anew.
create function item_updated() returns trigger language plpgsql security definer set search_path = public as $$
begin
	perform recount_clients(array(select client_id from changed union select client_id from was));
	return null;
end $$;
revoke execute on function item_updated from public;
drop trigger item_updated on item;
create trigger item_updated after update on item referencing old table as was new table as changed
	for each statement execute function item_updated();
