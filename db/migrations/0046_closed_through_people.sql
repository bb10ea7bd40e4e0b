-- A client that is closed to somebody of the firm is closed to them through its people as well: people who belong to closed clients
-- only do not exist for them, nor do messages, texts and looks of those people.
drop policy same_firm on contact;
create policy same_firm on contact to lantern_app
	using (firm_id = (select current_firm()) and removed_at is null and id <> all ((select unseen_people())::uuid[]));
drop policy same_firm on incoming_text;
create policy same_firm on incoming_text to lantern_app
	using (firm_id = (select current_firm()) and contact_id <> all ((select unseen_people())::uuid[]));
drop policy same_firm on portal_look;
create policy same_firm on portal_look to lantern_app
	using (firm_id = (select current_firm()) and contact_id <> all ((select unseen_people())::uuid[]));
drop policy same_firm_read on event;
create policy same_firm_read on event for select to lantern_app using (firm_id = (select current_firm())
	and (client_id is null or client_id <> all ((select unseen_clients())::uuid[]))
	and (contact_id is null or contact_id <> all ((select unseen_people())::uuid[])));

-- A message of no single client is judged by what it names.
create function names_unseen(message uuid) returns boolean language sql stable security definer set search_path = public as $$
	select exists (select from message_item mi join item i on i.id = mi.item_id where mi.message_id = message and i.client_id = any (unseen_clients()))
$$;
drop policy same_firm on message;
create policy same_firm on message to lantern_app using (firm_id = (select current_firm()) and ((select cardinality(unseen_clients())) = 0 or (
	(client_id is null or client_id <> all ((select unseen_clients())::uuid[]))
	and (contact_id is null or contact_id <> all ((select unseen_people())::uuid[]))
	and not names_unseen(id))));

-- What is a person's own holds for all of their clients: their name and address, the way they sign in. Whoever may not work on one of
-- them does not change it, or they could come to it in the person's place.
create function belongs_to_not_worked(person uuid) returns boolean language sql stable security definer set search_path = public as $$
	select exists (select from client_contact where contact_id = person and client_id = any (not_worked_clients()))
$$;
create function keep_people_of_closed_clients() returns trigger language plpgsql as $$
begin
	if belongs_to_not_worked(old.id) then
		raise insufficient_privilege using message = 'client_rights: a person of a client that is closed';
	end if;
	return new;
end $$;
create trigger client_rights before update of name, email, phone, channels, locale, suspended_at, password_hash, removed_at on contact
	for each row when ((old.name, old.email::text, old.phone, old.channels, old.locale, old.suspended_at, old.password_hash, old.removed_at)
		is distinct from (new.name, new.email::text, new.phone, new.channels, new.locale, new.suspended_at, new.password_hash, new.removed_at))
	execute function keep_people_of_closed_clients();

-- Whether an address is known, also of somebody who may not be seen: it cannot be given twice.
create function address_is_taken(address citext) returns boolean language sql stable security definer set search_path = public
	as $$ select exists (select from contact where firm_id = current_firm() and email = address and removed_at is null) $$;

-- Whoever looks at the portal as a contact sees no more of it than they may: these two are set for a look as they are at the desk.
create or replace function my_clients() returns uuid[] language sql stable security definer set search_path = public as $$
	select coalesce(array_agg(client_id), '{}') from client_contact where contact_id = current_contact() and client_id <> all (unseen_clients())
$$;
-- A look is part of the session it was begun in, and ends with it.
alter table portal_look add column session_id uuid references session;
drop function look_of_token;
create function look_of_token(token bytea) returns table (
	look_id uuid, firm_id uuid, slug text, contact_id uuid, contact_name text, email text, locale text, staff_id uuid, staff_name text, expires_at timestamptz
) language sql stable security definer set search_path = public as $$
	select l.id, l.firm_id, f.slug, c.id, c.name, c.email::text, c.locale, s.id, s.name, l.expires_at
	from portal_look l join firm f on f.id = l.firm_id join staff s on s.id = l.staff_id and s.suspended_at is null
		join contact c on c.id = l.contact_id and c.removed_at is null
		join session x on x.id = l.session_id and x.ended_at is null
	where l.token_hash = token and l.ended_at is null
$$;
revoke execute on function names_unseen, belongs_to_not_worked, address_is_taken, look_of_token from public;
grant execute on function names_unseen, address_is_taken, look_of_token to lantern_app;
grant execute on function belongs_to_not_worked to lantern_app, lantern_contact;
grant execute on function unseen_clients, not_worked_clients to lantern_contact;

-- A contact's transactions read who of the firm it is, and nothing of how they sign in.
revoke select on staff from lantern_contact;
grant select (id, firm_id, name, email, role, suspended_at, practice_of) on staff to lantern_contact;
