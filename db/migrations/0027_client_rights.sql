-- Most clients are open to everybody of the firm, by their roles. Some are only for named people and groups, who may see,
-- work or administer; whoever looks after the client and the firm's administrators always may.
alter table client add column restricted boolean not null default false;
create index client_restricted on client (firm_id) where restricted;
create table client_right (
	firm_id uuid not null references firm,
	client_id uuid not null references client on delete cascade,
	staff_id uuid references staff,
	group_id uuid references staff_group on delete cascade,
	level text not null check (level in ('see', 'work', 'administer')),
	check ((staff_id is null) <> (group_id is null))
);
create unique index client_right_once on client_right (client_id, coalesce(staff_id, group_id));
create index client_right_by_staff on client_right (staff_id) where staff_id is not null;
create index client_right_by_group on client_right (group_id) where group_id is not null;

-- The restricted clients of the transaction's firm on which somebody may do less than something: 1 see, 2 work, 3 administer.
create function clients_below(person uuid, wanted int) returns uuid[]
language sql stable security definer set search_path = public as $$
	select coalesce(array_agg(c.id), '{}') from client c
	where c.firm_id = current_firm() and c.restricted and c.responsible_id <> person
		and not exists (select from staff s where s.id = person and s.role = 'administrator')
		and coalesce((
			select max(case r.level when 'see' then 1 when 'work' then 2 else 3 end) from client_right r
			where r.client_id = c.id and (r.staff_id = person or r.group_id in (select m.group_id from staff_group_member m where m.staff_id = person))
		), 0) < wanted
$$;

-- Reckoned once a transaction: what somebody of the firm may not see, not work on, not administer.
create function set_client_rights(person uuid) returns void
language plpgsql security definer set search_path = public as $$
begin
	if not exists (select from client where firm_id = current_firm() and restricted) then
		return;
	end if;
	perform set_config('app.unseen', clients_below(person, 1)::text, true),
		set_config('app.not_worked', clients_below(person, 2)::text, true),
		set_config('app.not_administered', clients_below(person, 3)::text, true);
end $$;
create function unseen_clients() returns uuid[] language sql stable
	as $$ select coalesce(nullif(current_setting('app.unseen', true), ''), '{}')::uuid[] $$;
create function not_worked_clients() returns uuid[] language sql stable
	as $$ select coalesce(nullif(current_setting('app.not_worked', true), ''), '{}')::uuid[] $$;
create function not_administered_clients() returns uuid[] language sql stable
	as $$ select coalesce(nullif(current_setting('app.not_administered', true), ''), '{}')::uuid[] $$;
-- People who belong to closed clients only: without this they would look as if they belonged to none.
create function unseen_people() returns uuid[] language sql stable security definer set search_path = public as $$
	select coalesce(array_agg(distinct cc.contact_id), '{}') from client_contact cc
	where cc.client_id = any (unseen_clients())
		and not exists (select from client_contact o where o.contact_id = cc.contact_id and o.client_id <> all (unseen_clients()))
$$;
revoke execute on function unseen_people, clients_below, set_client_rights, unseen_clients, not_worked_clients, not_administered_clients from public;
grant execute on function unseen_people, set_client_rights, unseen_clients, not_worked_clients, not_administered_clients to lantern_app;

do $$
declare
	t text;
begin
	foreach t in array array['client_contact', 'request', 'item', 'paper', 'letter', 'signature', 'client_position', 'fact', 'engagement', 'engagement_service',
		'client_note', 'client_look', 'invitation'] loop
		execute format('drop policy same_firm on %I', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]))', t);
	end loop;
end $$;
drop policy same_firm on message;
create policy same_firm on message to lantern_app using (firm_id = (select current_firm())
	and (client_id is null or client_id <> all ((select unseen_clients())::uuid[])));
drop policy same_firm on client;
create policy same_firm on client to lantern_app using (firm_id = (select current_firm()) and removed_at is null and id <> all ((select unseen_clients())::uuid[]));
drop policy same_firm_read on event;
create policy same_firm_read on event for select to lantern_app using (firm_id = (select current_firm())
	and (client_id is null or client_id <> all ((select unseen_clients())::uuid[])));

-- Whatever changes a client writes an event in the same transaction: so one rule here holds for every use case.
drop policy same_firm_add on event;
create policy client_rights on event for insert to lantern_app with check (firm_id = (select current_firm()) and (client_id is null or case
	when verb in ('looked_as', 'paper_opened', 'paper_downloaded') then true
	when verb in ('client_locked', 'client_unlocked', 'client_ended', 'client_reopened', 'clients_merged', 'merge_undone', 'client_handed_over', 'client_rights_changed')
		then client_id <> all ((select not_administered_clients())::uuid[])
	else client_id <> all ((select not_worked_clients())::uuid[]) end));

alter table client_right enable row level security;
create policy same_firm on client_right to lantern_app using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
grant select, insert, update, delete on client_right to lantern_app;

-- What is searched past row-level security leaves out what somebody may not see.
alter function search_clients rename to search_all_clients;
create function search_clients(pattern text, digits text, most int) returns table (client_id uuid, reason int, found text)
language sql stable security definer set search_path = public as
$$ select f.client_id, f.reason, f.found from search_all_clients(pattern, digits, most) f where f.client_id <> all (unseen_clients()) $$;
alter function similar_clients rename to similar_to_all_clients;
create function similar_clients(wanted text, most int) returns table (client_id uuid, likeness real)
language sql stable security definer set search_path = public as
$$ select f.client_id, f.likeness from similar_to_all_clients(wanted, most) f where f.client_id <> all (unseen_clients()) $$;
alter function likely_doubles rename to all_likely_doubles;
create function likely_doubles(wanted uuid) returns table (client_id uuid, why text)
language sql stable security definer set search_path = public as
$$ select f.client_id, f.why from all_likely_doubles(wanted) f where f.client_id <> all (unseen_clients()) $$;
revoke execute on function search_clients, similar_clients, likely_doubles, search_all_clients, similar_to_all_clients, all_likely_doubles from public;
revoke execute on function search_all_clients, similar_to_all_clients, all_likely_doubles from lantern_app;
grant execute on function search_clients, similar_clients, likely_doubles to lantern_app;
