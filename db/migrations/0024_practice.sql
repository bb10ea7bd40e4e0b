-- A practice workspace is a firm of its own beside the real one, with the same people. Nothing in it leaves the building.
alter table firm
	add column practice_of uuid unique references firm,
	add column practice_state text check (practice_state in ('empty', 'filling', 'ready')),
	add constraint firm_practice check ((practice_of is null) = (practice_state is null));

-- Everybody of the firm stands in its practice workspace once more; they come in through their real sign-in only.
alter table staff add column practice_of uuid unique references staff;
alter table staff drop constraint staff_email_key;
create unique index staff_by_email on staff (email) where practice_of is null;
alter table staff add constraint staff_practice_no_password check (practice_of is null or password_hash is null);
create or replace function find_staff_by_email(wanted text) returns table (firm_id uuid, staff_id uuid)
language sql stable security definer set search_path = public as
$$ select s.firm_id, s.id from staff s where s.email = wanted::citext and s.practice_of is null $$;

create function practice_of_firm(wanted uuid) returns uuid
language sql stable security definer set search_path = public as
$$ select id from firm where practice_of = wanted $$;
revoke execute on function practice_of_firm from public;
grant execute on function practice_of_firm to lantern_app;

drop function session_of_token;
create function session_of_token(token bytea) returns table (
	session_id uuid, firm_id uuid, slug text, is_current boolean, rotated_at timestamptz, last_used_at timestamptz, expires_at timestamptz,
	ended_at timestamptz, kind text, person_id uuid, name text, email text, role text, locale text, suspended_at timestamptz, must_set_up boolean, practice_of uuid
) language plpgsql stable security definer set search_path = public as $$
begin
	-- plpgsql, since it keeps its plan; two look-ups, since one with "or" cannot use both indexes cheaply
	return query select s.id, s.firm_id, f.slug, s.token_hash = token, s.rotated_at, s.last_used_at, s.expires_at, s.ended_at,
		case when s.staff_id is null then 'contact' else 'staff' end, coalesce(st.id, c.id), coalesce(st.name, c.name), coalesce(st.email, c.email)::text,
		st.role, coalesce(c.locale, f.locale), coalesce(st.suspended_at, c.suspended_at, c.removed_at), s.must_set_up, st.practice_of
	from session s join firm f on f.id = s.firm_id left join staff st on st.id = s.staff_id left join contact c on c.id = s.contact_id
	where s.id = coalesce((select c.id from session c where c.token_hash = token), (select p.id from session p where p.previous_token_hash = token));
end $$;
revoke execute on function session_of_token from public;
grant execute on function session_of_token to lantern_app;

-- What was cleared in a practice workspace, when and by whom: the one thing there that is kept.
create table practice_clearing (
	id uuid primary key,
	firm_id uuid not null references firm,
	cleared_at timestamptz not null,
	cleared_by text not null,
	counts jsonb not null
);
create index practice_clearing_by_time on practice_clearing (firm_id, cleared_at desc);
alter table practice_clearing enable row level security;
create policy same_firm on practice_clearing to lantern_app using (firm_id = (select current_firm()));
grant select, insert on practice_clearing to lantern_app;

-- Events are only ever added; in a practice workspace those of what is cleared go with it.
create or replace function refuse_change() returns trigger language plpgsql as $$
begin
	if tg_op = 'DELETE' and current_setting('app.clearing', true) = old.firm_id::text
		and exists (select from firm where id = old.firm_id and practice_of is not null) then
		return old;
	end if;
	raise exception 'events are only ever added';
end $$;

/*
 * Deletes chosen kinds of data of a practice workspace, everything that hangs on them included, and answers where their
 * papers lie. Refuses for a real firm, whoever asks.
 */
create function clear_practice(kinds text[]) returns setof text
language plpgsql security definer set search_path = public as $$
declare
	firm uuid := current_firm();
begin
	if not exists (select from firm f where f.id = firm and f.practice_of is not null) then
		raise exception 'only a practice workspace is cleared';
	end if;
	perform set_config('app.clearing', firm::text, true);
	if 'requests' = any (kinds) then
		return query select storage_key from paper where firm_id = firm
			union all select storage_key from letter where firm_id = firm
			union all select sealed_key from letter where firm_id = firm and sealed_key is not null;
		delete from event where firm_id = firm and (request_id is not null or item_id is not null or paper_id is not null);
		delete from message_item where firm_id = firm;
		update message set request_id = null where firm_id = firm and request_id is not null;
		delete from signature where firm_id = firm;
		delete from paper where firm_id = firm;
		delete from letter where firm_id = firm;
		delete from item where firm_id = firm;
		delete from request where firm_id = firm;
		perform recount_clients(array(select id from client where firm_id = firm));
	end if;
	if 'messages' = any (kinds) then
		delete from event where firm_id = firm and (message_id is not null or verb like 'invitation%' or verb like 'text%');
		delete from incoming_text where firm_id = firm;
		delete from invitation where firm_id = firm;
		delete from invitation_run where firm_id = firm;
		delete from message_item where firm_id = firm;
		delete from message where firm_id = firm;
	end if;
	if 'clients' = any (kinds) then
		delete from event where firm_id = firm and (client_id is not null or contact_id is not null);
		delete from client_import_trace where firm_id = firm;
		delete from client_import_row where firm_id = firm;
		delete from client_import where firm_id = firm;
		delete from merge where firm_id = firm;
		delete from portal_look where firm_id = firm;
		delete from session where firm_id = firm and contact_id is not null;
		delete from sign_in_step where firm_id = firm and contact_id is not null;
		delete from device where firm_id = firm and contact_id is not null;
		delete from authenticator where firm_id = firm and contact_id is not null;
		delete from text_factor where firm_id = firm and contact_id is not null;
		delete from recovery_code where firm_id = firm and contact_id is not null;
		delete from passkey where firm_id = firm and contact_id is not null;
		delete from password_reset where firm_id = firm and contact_id is not null;
		delete from client_look where firm_id = firm;
		delete from client_note where firm_id = firm;
		delete from fact where firm_id = firm;
		delete from engagement_service where firm_id = firm;
		delete from engagement where firm_id = firm;
		delete from client_contact where firm_id = firm;
		delete from client_position where firm_id = firm;
		delete from client where firm_id = firm;
		delete from contact where firm_id = firm;
	end if;
end $$;
revoke execute on function clear_practice from public;
grant execute on function clear_practice to lantern_app;
