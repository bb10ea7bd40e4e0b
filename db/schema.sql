-- The schema as all migrations leave it, written by `npm run database -- schema` with PostgreSQL 15. Not to be run.

CREATE FUNCTION add_ready_made_facts(firm uuid) RETURNS void
    LANGUAGE sql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	insert into fact_definition (firm_id, name, label, hint, heading, kind, position, ready_made)
	select firm, f.name, f.label, f.hint, f.heading, f.kind::jsonb, f.position, true from (values
		(1, 'legal_form', 'Legal form', '', 'The business', '{"kind":"choice","choices":[{"key":"sole_trader","words":"sole trader"},{"key":"partnership","words":"partnership"},{"key":"company","words":"company"},{"key":"cooperative","words":"co-operative"},{"key":"non_profit","words":"non-profit"}]}'),
		(2, 'tax_number', 'Tax number', '', 'The business', '{"kind":"tax_number","check":""}'),
		(3, 'address', 'Address', '', 'The business', '{"kind":"address"}'),
		(4, 'year_end', 'Year end', 'the last day of the fiscal year', 'The books', '{"kind":"day_of_year"}'),
		(5, 'method', 'Method', '', 'The books', '{"kind":"choice","choices":[{"key":"accrual","words":"accrual"},{"key":"cash","words":"cash"}]}'),
		(6, 'sales_tax', 'Registered for sales tax', '', 'Tax and payroll', '{"kind":"yes_no"}'),
		(7, 'sales_tax_period', 'Files sales tax', '', 'Tax and payroll', '{"kind":"choice","choices":[{"key":"monthly","words":"monthly"},{"key":"quarterly","words":"quarterly"},{"key":"yearly","words":"yearly"}]}'),
		(8, 'payroll', 'Runs payroll', '', 'Tax and payroll', '{"kind":"yes_no"}'),
		(9, 'employees', 'Employees', '', 'Tax and payroll', '{"kind":"number","unit":"","whole":true}'),
		(10, 'bank_accounts', 'Bank and card accounts', '', 'The books', '{"kind":"number","unit":"","whole":true}'),
		(11, 'software', 'Connected software', '', 'The books', '{"kind":"words","max":120}'),
		(12, 'books_from', 'We keep the books from', '', 'The books', '{"kind":"date"}')
	) f (position, name, label, hint, heading, kind)
$$;

CREATE TABLE event (
    id bigint NOT NULL,
    firm_id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    actor_kind text NOT NULL,
    actor_id uuid,
    actor_name text NOT NULL,
    verb text NOT NULL,
    client_id uuid,
    contact_id uuid,
    request_id uuid,
    item_id uuid,
    paper_id uuid,
    message_id uuid,
    details jsonb DEFAULT '{}'::jsonb NOT NULL,
    ip text,
    user_agent text,
    CONSTRAINT event_actor_kind_check CHECK ((actor_kind = ANY (ARRAY['staff'::text, 'contact'::text, 'machine'::text, 'nobody'::text])))
);

COMMENT ON TABLE event IS 'The history: who did what, when and from where. Rows are only added';

COMMENT ON COLUMN event.details IS 'What the sentence of the event needs; its shape depends on the verb';

COMMENT ON COLUMN event.user_agent IS 'What the browser said of itself; kept for what happens to letters alone';

CREATE FUNCTION add_to_letter_trails(new event) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
declare
	one record;
	last record;
	said text;
begin
	for one in
		select l.id, encode(l.sha256, 'hex') document from letter l
		where l.firm_id = new.firm_id and l.id in (
			select s.letter_id from letter_signer s where s.item_id = new.item_id
			union select o.id from letter o where o.item_id = new.item_id
			union select s.letter_id from letter_signer s join message_item m on m.item_id = s.item_id where m.message_id = new.message_id
			union select s.letter_id from letter_signer s join item i on i.id = s.item_id
				where i.request_id = new.request_id and new.item_id is null and new.verb in ('request_sent', 'request_put_up', 'request_withdrawn'))
		order by l.id
	loop
		perform pg_advisory_xact_lock(hashtextextended(one.id::text, 98));
		select t.number, t.hash into last from letter_trail t where t.letter_id = one.id order by t.number desc limit 1;
		-- RFC 8785 for an object of texts: keys in order, the shortest escapes, no space
		select '{' || string_agg(to_json(key)::text || ':' || to_json(value)::text, ',' order by key collate "C") || '}' into said
		from (
			select key, value from (values
				('at', to_iso(new.at)), ('by', new.actor_kind), ('who', new.actor_name), ('what', new.verb), ('ip', new.ip), ('device', new.user_agent),
				('address', case new.actor_kind
					when 'contact' then (select email::text from contact where id = new.actor_id)
					when 'staff' then (select email::text from staff where id = new.actor_id) end),
				('to', (select to_address::text from message where id = new.message_id))
			) as own (key, value) where value is not null
			union all
			select 'detail.' || d.key, d.value #>> '{}' from jsonb_each(new.details) d where jsonb_typeof(d.value) in ('string', 'number', 'boolean')
		) as texts;
		insert into letter_trail (firm_id, letter_id, number, said, hash) values (
			new.firm_id, one.id, coalesce(last.number, 0) + 1, said,
			encode(sha256(convert_to(coalesce(last.hash, one.document) || E'\n' || said, 'UTF8')), 'hex'));
	end loop;
end $$;

CREATE FUNCTION address_is_taken(address citext) RETURNS boolean
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select exists (select from contact where firm_id = current_firm() and email = address and removed_at is null) $$;

CREATE FUNCTION all_firms() RETURNS SETOF uuid
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select id from firm order by id $$;

CREATE FUNCTION all_likely_doubles(wanted uuid) RETURNS TABLE(client_id uuid, why text)
    LANGUAGE plpgsql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    SET "pg_trgm.similarity_threshold" TO '0.4'
    AS $$
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

CREATE FUNCTION announce_clock() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
	perform pg_notify('lantern_clock', '');
	return null;
end $$;

CREATE FUNCTION announce_event() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
	perform pg_notify('lantern_events', new.firm_id || ' ' || new.id || ' ' || coalesce(new.contact_id::text, ''));
	return null;
end $$;

CREATE FUNCTION announce_session_end() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
	perform pg_notify('lantern_sessions', new.id::text);
	return null;
end $$;

CREATE FUNCTION asks_by_link(request uuid, person uuid) RETURNS boolean
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select exists (select from item i join letter_signer s on s.item_id = i.id
		where i.request_id = request and s.contact_id = person and s.signs_by <> 'portal' and s.state = 'asked' and i.firm_id = current_firm())
$$;

CREATE FUNCTION awaited_letters(letters uuid[]) RETURNS jsonb
    LANGUAGE sql STABLE
    SET search_path TO 'public'
    AS $$
	select coalesce(jsonb_agg(jsonb_build_object('id', l.id, 'itemId', i.id, 'title', i.title, 'state', l.state) order by i.title, l.id), '[]')
	from letter l join item i on i.id = l.item_id where l.id = any (letters)
$$;

CREATE FUNCTION belongs_to_not_worked(person uuid) RETURNS boolean
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select exists (select from tied_person where contact_id = person and client_id = any (not_worked_clients()))
$$;

CREATE FUNCTION chase_plan_for(of_list uuid, of_client uuid, of_contact uuid) RETURNS TABLE(key text, came_from text, named text)
    LANGUAGE sql STABLE
    AS $$
	with theirs as (
		select s.name, s.chase_plan from service s where s.chase_plan is not null and exists (
			select from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null where es.service_id = s.id and es.client_id = of_client)
	)
	select p.key, p.came_from, p.named from (
		select 1 rank, l.chase_plan, 'list', l.name from request_list l where l.id = of_list
		union all select 2, t.chase_plan, 'service', t.name from theirs t join request_list l on l.id = of_list
			where exists (select from unnest(l.services) named where lower(named) = lower(t.name))
		union all select 3, c.chase_plan, 'contact', c.name from contact c where c.id = of_contact
		union all select 4, c.chase_plan, 'client', c.name from client c where c.id = of_client
		union all select 5, t.chase_plan, 'service', t.name from theirs t
	) p (rank, key, came_from, named) where p.key is not null order by p.rank, lower(p.named) limit 1
$$;

COMMENT ON FUNCTION chase_plan_for(of_list uuid, of_client uuid, of_contact uuid) IS 'By which plan what is asked is chased, and because of what';

CREATE FUNCTION clear_practice(kinds text[]) RETURNS SETOF text
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $_$
declare
	firm uuid := current_firm();
	step clearing;
begin
	if not exists (select from firm f where f.id = firm and f.practice_of_id is not null) then
		raise exception 'only a practice workspace is cleared';
	end if;
	perform set_config('app.clearing', firm::text, true);
	-- messages outlive what was asked in them
	if 'requests' = any (kinds) then
		update message set request_id = null where firm_id = firm and request_id is not null;
	end if;
	for step in
		select * from clearing c where c.kind = any (kinds) and c.kind <> 'kept'
		order by array_position(array['requests', 'messages', 'clients'], c.kind), c.place
	loop
		if step.files <> '{}' then
			return query execute format('select file from %I t, unnest(array[%s]) file where t.firm_id = $1 and (%s) and file is not null',
				step.table_name, (select string_agg(format('t.%I::text', name), ', ') from unnest(step.files) name), step.only_where) using firm;
		end if;
		execute format('delete from %I where firm_id = $1 and (%s)', step.table_name, step.only_where) using firm;
	end loop;
	if 'requests' = any (kinds) and not 'clients' = any (kinds) then
		perform recount_clients(array(select id from client where firm_id = firm));
	end if;
end $_$;

CREATE FUNCTION client_added() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	insert into client_summary (client_id, firm_id, name, responsible_id)
		select id, firm_id, name, responsible_id from added;
	return null;
end $$;

CREATE FUNCTION client_and_merged(wanted uuid) RETURNS uuid[]
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select array[wanted] || coalesce(array_agg(m.gone_id), '{}') from merge m
	where m.keep_id = wanted and m.firm_id = current_firm() and m.kind = 'client' and m.undone_at is null
$$;

CREATE FUNCTION client_changed() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	update client_summary p set name = c.name, responsible_id = c.responsible_id, state = c.state
		from changed c where c.id = p.client_id and (p.name, p.responsible_id, p.state) is distinct from (c.name, c.responsible_id, c.state);
	return null;
end $$;

CREATE FUNCTION client_with_mail_key(key text) RETURNS TABLE(firm_id uuid, client_id uuid)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select c.firm_id, c.id from client c where c.mail_key = key $$;

CREATE FUNCTION clients_below(person uuid, wanted integer) RETURNS uuid[]
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select coalesce(array_agg(c.id), '{}') from client c
	where c.firm_id = current_firm() and c.restricted and c.responsible_id <> person
		and not exists (select from staff s where s.id = person and s.role = 'administrator')
		and coalesce((
			select max(case r.level when 'see' then 1 when 'work' then 2 else 3 end) from client_right r
			where r.client_id = c.id and (r.staff_id = person or r.group_id in (select m.group_id from staff_group_member m where m.staff_id = person))
		), 0) < wanted
$$;

CREATE FUNCTION close_letter_links() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	delete from letter_visit v using letter_signer s where s.id = v.signer_id and s.contact_id = new.id;
	update letter_signer set link_hash = null where contact_id = new.id and link_hash is not null;
	return null;
end $$;

CREATE FUNCTION close_links_of_replaced() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	delete from letter_visit where signer_id = old.id;
	new.checks_left := identity_check_tries();
	new.check_stopped_at := null;
	if old.contact_id is distinct from new.contact_id then
		new.on_paper_at := null;
	end if;
	if old.contact_id is distinct from new.contact_id or new.signs_by = 'portal' then
		new.link_hash := null;
	end if;
	return new;
end $$;

CREATE FUNCTION colleagues_who_see(client uuid) RETURNS TABLE(id uuid, name text, email text)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select s.id, s.name, s.email::text from staff s
	where s.firm_id = current_firm() and s.suspended_at is null and client <> all (clients_below(s.id, 1))
	order by lower(s.name), s.id
$$;

CREATE FUNCTION compare_facts(from_name text, into_name text, OUT only_from integer, OUT alike integer, OUT differ integer) RETURNS record
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select count(*) filter (where k.id is null)::int, count(*) filter (where k.value = f.value)::int, count(*) filter (where k.value <> f.value)::int
	from fact f left join fact k on k.client_id = f.client_id and k.name = into_name and k.replaced_at is null
	where f.firm_id = current_firm() and f.name = from_name and f.replaced_at is null
$$;

CREATE FUNCTION contacts_with_phone(number text) RETURNS TABLE(firm_id uuid, contact_id uuid)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select c.firm_id, c.id from contact c where c.phone = number and c.removed_at is null $$;

CREATE FUNCTION count_fact(of_name text) RETURNS integer
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select count(*)::int from fact f join client c on c.id = f.client_id and c.removed_at is null
	where f.firm_id = current_firm() and f.name = of_name and f.replaced_at is null
$$;

CREATE FUNCTION current_contact() RETURNS uuid
    LANGUAGE sql STABLE
    RETURN (NULLIF(current_setting('app.contact_id'::text, true), ''::text))::uuid;

CREATE FUNCTION current_firm() RETURNS uuid
    LANGUAGE sql STABLE
    RETURN (NULLIF(current_setting('app.firm_id'::text, true), ''::text))::uuid;

CREATE FUNCTION enqueue_job(task text, payload jsonb, key text DEFAULT NULL::text, at timestamp with time zone DEFAULT NULL::timestamp with time zone) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	perform graphile_worker.add_job(task, payload::json, run_at => at, job_key => key, max_attempts => 12);
end $$;

CREATE FUNCTION enqueue_sending(firm uuid, messages uuid[], per_second integer, wait_seconds integer DEFAULT 0) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	perform graphile_worker.add_jobs(array(
		select json_populate_record(null::graphile_worker.job_spec, json_build_object(
			'identifier', 'send_message',
			'payload', json_build_object('firmId', firm, 'messageId', m.id),
			'run_at', case when per_second > 0 or wait_seconds > 0
				then clock_timestamp() + make_interval(secs => wait_seconds + case when per_second > 0 then (m.n - 1) / per_second::float8 else 0 end) end,
			'max_attempts', 12))
		from unnest(messages) with ordinality m (id, n)));
end $$;

CREATE FUNCTION find_feed(token bytea) RETURNS TABLE(firm_id uuid, staff_id uuid)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select f.firm_id, f.staff_id from staff_feed f join staff s on s.id = f.staff_id and s.suspended_at is null where f.token_hash = token
$$;

CREATE FUNCTION find_firm_of_invitation(token bytea) RETURNS uuid
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select i.firm_id from invitation i where i.token_hash = token $$;

CREATE FUNCTION find_firm_of_message(wanted uuid) RETURNS uuid
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select m.firm_id from message m where m.id = wanted $$;

CREATE FUNCTION find_firm_of_passkey(wanted text) RETURNS uuid
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select p.firm_id from passkey p where p.credential_id = wanted $$;

CREATE FUNCTION find_firm_of_reset(token bytea) RETURNS uuid
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select r.firm_id from password_reset r where r.token_hash = token $$;

CREATE FUNCTION find_firm_of_step(token bytea) RETURNS uuid
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select s.firm_id from sign_in_step s where s.token_hash = token $$;

CREATE FUNCTION find_short_name(wanted text) RETURNS TABLE(firm_id uuid, slug text)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select f.id, f.slug from firm f where f.slug = wanted
	union all
	select f.id, f.slug from former_short_name o join firm f on f.id = o.firm_id where o.slug = wanted
	limit 1
$$;

CREATE FUNCTION find_staff_by_email(wanted text) RETURNS TABLE(firm_id uuid, staff_id uuid)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select s.firm_id, s.id from staff s where s.email = wanted::citext and s.practice_of_id is null $$;

CREATE FUNCTION firms_with_stuck_messages(before timestamp with time zone) RETURNS SETOF uuid
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select distinct firm_id from message where state = 'sending' and sending_since < before $$;

CREATE FUNCTION forget_accounts_of_letter() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	delete from payment_authorisation where letter_id = new.id;
	return null;
end;
$$;

CREATE FUNCTION give_ready_made_facts() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	perform add_ready_made_facts(new.id);
	return new;
end $$;

CREATE FUNCTION held_by(of_item uuid, of_request uuid, of_contact uuid, of_client uuid) RETURNS TABLE(until date, why text, ends_with text, ends_item_id uuid)
    LANGUAGE sql STABLE
    AS $$
	select h.until, h.why, case when h.happened_at is null then h.ends_with end, h.ends_item_id from chase_hold h
	where h.ended_at is null and (h.contact_id = of_contact or h.client_id = of_client or h.item_id = of_item or h.request_id = of_request)
		and (h.ends_item_id is null or h.happened_at is not null or not is_awaited(h.ends_item_id, of_item))
	order by h.until desc, h.why limit 1
$$;

COMMENT ON FUNCTION held_by(of_item uuid, of_request uuid, of_contact uuid, of_client uuid) IS 'Until when nobody is reminded of an item, why, and what would end it sooner: the longest of what holds it, its request, its person and its client';

CREATE FUNCTION hide_merged(what text, gone uuid, at timestamp with time zone) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	if what = 'client' then
		update client set removed_at = at where firm_id = current_firm() and id = gone;
		delete from client_summary where firm_id = current_firm() and client_id = gone;
	else
		update contact set removed_at = at where firm_id = current_firm() and id = gone;
	end if;
end $$;

CREATE FUNCTION identity_check_tries() RETURNS integer
    LANGUAGE sql IMMUTABLE
    AS $$ select 2 $$;

COMMENT ON FUNCTION identity_check_tries() IS 'How often somebody may be asked who they are before the firm has to let them try again';

CREATE FUNCTION is_awaited(awaited uuid, of_item uuid) RETURNS boolean
    LANGUAGE sql STABLE
    AS $$
	select awaited = of_item
		or exists (select from letter_signer a join letter_signer b on b.letter_id = a.letter_id where a.item_id = awaited and b.item_id = of_item)
$$;

COMMENT ON FUNCTION is_awaited(awaited uuid, of_item uuid) IS 'Whether what a pause waits for is an item itself, or a letter on which the item is another place to sign';

CREATE FUNCTION is_fact_searched(secret boolean, kind jsonb) RETURNS boolean
    LANGUAGE sql IMMUTABLE
    AS $$
	select not secret and kind ->> 'kind' in ('words', 'address', 'email', 'phone', 'web', 'tax_number')
$$;

CREATE FUNCTION is_time_taken(wanted uuid, instant text) RETURNS boolean
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select exists (select from item i join item mine on mine.id = wanted and mine.firm_id = i.firm_id
		where i.kind = 'book' and i.id <> wanted and i.answer_data ->> 'time' = instant and i.state in ('handed_in', 'accepted')
			and i.firm_id = current_firm())
$$;

CREATE FUNCTION item_changed() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	perform recount_clients(array(select distinct client_id from changed));
	return null;
end $$;

CREATE FUNCTION item_updated() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	perform recount_clients(array(select client_id from changed union select client_id from was));
	return null;
end $$;

CREATE FUNCTION keep_letter_trail() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	perform add_to_letter_trails(new);
	return null;
end $$;

CREATE FUNCTION keep_people_of_closed_clients() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
	if belongs_to_not_worked(old.id) then
		raise insufficient_privilege using message = 'client_rights: a person of a client that is closed';
	end if;
	return new;
end $$;

CREATE FUNCTION keep_rows_not_worked() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
	if old.client_id = any (not_worked_clients()) then
		raise insufficient_privilege using message = 'may_work: a client that may only be seen';
	end if;
	return old;
end $$;

CREATE FUNCTION last_text_to(number text) RETURNS TABLE(firm_id uuid, contact_id uuid)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select m.firm_id, m.contact_id from message m where m.channel = 'text' and m.to_address = number and m.contact_id is not null
	order by m.planned_at desc limit 1 $$;

CREATE FUNCTION letters_say(letters uuid[]) RETURNS text
    LANGUAGE sql STABLE
    SET search_path TO 'public'
    AS $$
	select case
		when count(l.id) < cardinality(letters) or bool_or(l.state in ('declined', 'withdrawn', 'lapsed')) then 'stopped'
		when bool_and(l.state in ('complete', 'sealed')) then 'signed'
		else 'open' end
	from unnest(letters) wanted left join letter l on l.id = wanted
$$;

CREATE FUNCTION likely_doubles(wanted uuid) RETURNS TABLE(client_id uuid, why text)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select f.client_id, f.why from all_likely_doubles(wanted) f where f.client_id <> all (unseen_clients()) $$;

CREATE FUNCTION look_of_token(token bytea) RETURNS TABLE(look_id uuid, firm_id uuid, slug text, contact_id uuid, contact_name text, email text, locale text, staff_id uuid, staff_name text, expires_at timestamp with time zone)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select l.id, l.firm_id, f.slug, c.id, c.name, c.email::text, c.locale, s.id, s.name, l.expires_at
	from portal_look l join firm f on f.id = l.firm_id join staff s on s.id = l.staff_id and s.suspended_at is null
		join contact c on c.id = l.contact_id and c.removed_at is null
		join session x on x.id = l.session_id and x.ended_at is null
	where l.token_hash = token and l.ended_at is null
$$;

CREATE FUNCTION mark_searched_fact() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
	select is_fact_searched(d.secret or d.seen_by <> 'all', d.kind) into new.searched from fact_definition d where d.firm_id = new.firm_id and d.name = new.name;
	return new;
end $$;

CREATE FUNCTION merge_facts(from_name text, into_name text, at timestamp with time zone) RETURNS void
    LANGUAGE sql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	update fact f set replaced_at = at where f.firm_id = current_firm() and f.name = from_name and f.replaced_at is null
		and exists (select from fact k where k.client_id = f.client_id and k.name = into_name and k.replaced_at is null);
	update fact set name = into_name where firm_id = current_firm() and name = from_name;
$$;

CREATE FUNCTION message_to_answer(message uuid) RETURNS TABLE(firm_id uuid, client_id uuid, contact_id uuid, item_id uuid)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	with answered as (
		select m.firm_id, m.client_id, m.contact_id, coalesce((m.content ->> 'itemId')::uuid,
			(select (array_agg(mi.item_id))[1] from message_item mi where mi.message_id = m.id having count(*) = 1)) item_id
		from message m where m.id = message and m.channel = 'email' and m.contact_id is not null
	)
	select a.firm_id, coalesce(i.client_id, a.client_id,
			(select o.client_id from message_item mi join item o on o.id = mi.item_id where mi.message_id = message order by o.due_on nulls last, o.id limit 1),
			(select t.client_id from tied_person t where t.contact_id = a.contact_id order by t.client_id limit 1)),
		a.contact_id, i.id
	from answered a left join item i on i.id = a.item_id
$$;

CREATE FUNCTION my_clients() RETURNS uuid[]
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select coalesce(array_agg(client_id), '{}') from client_contact where contact_id = current_contact() and client_id <> all (unseen_clients())
$$;

CREATE FUNCTION name_beside(person uuid) RETURNS text
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select c.name from contact c where c.id = person and c.firm_id = current_firm()
		and exists (select from tied_person t where t.contact_id = c.id and t.client_id = any (my_clients()))
$$;

CREATE FUNCTION names_unseen(message uuid) RETURNS boolean
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select exists (select from message_item mi join item i on i.id = mi.item_id where mi.message_id = message and i.client_id = any (unseen_clients()))
$$;

CREATE FUNCTION not_administered_clients() RETURNS uuid[]
    LANGUAGE sql STABLE
    AS $$ select coalesce(nullif(current_setting('app.not_administered', true), ''), '{}')::uuid[] $$;

CREATE FUNCTION not_worked_clients() RETURNS uuid[]
    LANGUAGE sql STABLE
    AS $$ select coalesce(nullif(current_setting('app.not_worked', true), ''), '{}')::uuid[] $$;

CREATE FUNCTION note_search_of_paper() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
declare
	head text := concat_ws(' ', new.name, new.note,
		(select c.name from contact c where c.id = new.uploaded_by_contact_id), (select s.name from staff s where s.id = new.given_by_id),
		(select concat_ws(' ', m.from_name, m.from_address) from incoming_mail m where m.id = new.mail_id),
		(select i.title from item i where i.id = new.item_id), (select f.name from folder f where f.id = new.folder_id));
	words text := search_words(concat_ws(' ', head, new.first_words));
begin
	-- as they stand without their marks, and in the forms of their language, which go by the marks
	new.search := to_tsvector('simple', plain(words)) || to_tsvector(stemming(new.language), words);
	return new;
end $$;

CREATE FUNCTION note_search_of_papers() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $_$
begin
	execute format('update paper set search = null where %I = $1', tg_argv[0]) using new.id;
	return null;
end $_$;

CREATE FUNCTION note_told(contacts uuid[], at timestamp with time zone) RETURNS void
    LANGUAGE sql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	update contact c set last_told_on = (at at time zone f.time_zone)::date from firm f
	where f.id = c.firm_id and c.firm_id = current_firm() and c.id = any (contacts)
		and c.last_told_on is distinct from (at at time zone f.time_zone)::date;
$$;

CREATE FUNCTION paper_query(typed text) RETURNS tsquery
    LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE
    SET search_path TO 'public'
    AS $$
	select string_agg('(' || concat_ws(' | ', quote_literal(plain(w)) || ':*', nullif(to_tsquery('english', quote_literal(w))::text, ''),
		nullif(to_tsquery('french', quote_literal(w))::text, ''), nullif(to_tsquery('german', quote_literal(w))::text, '')) || ')', ' & ')::tsquery
	from (select w from regexp_split_to_table(search_words(typed), ' ') with ordinality t (w, n) where w <> '' order by n limit 8) t
$$;

CREATE FUNCTION papers_found(typed text) RETURNS SETOF uuid
    LANGUAGE sql STABLE SECURITY DEFINER ROWS 300
    SET search_path TO 'public'
    AS $$
	select p.id from paper p where p.firm_id = current_firm() and p.removed_at is null and p.search @@ paper_query(typed)
		and p.client_id <> all (unseen_clients())
$$;

CREATE FUNCTION partners_for(client uuid) RETURNS TABLE(id uuid, name text, email text)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	with able as (
		select s.id, s.name, s.email::text, s.role from staff s
		where s.firm_id = current_firm() and s.suspended_at is null and s.role in ('partner', 'administrator') and client <> all (clients_below(s.id, 2))
	)
	select id, name, email from able where role = 'partner' or not exists (select from able where role = 'partner') order by lower(name), id
$$;

CREATE FUNCTION people_beside(item uuid) RETURNS TABLE(id uuid, name text)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select c.id, c.name from item i join client_contact l on l.client_id = i.client_id join contact c on c.id = l.contact_id
	where i.id = people_beside.item and not i.own and i.firm_id = current_firm() and i.client_id = any (my_clients())
		and c.id <> current_contact() and c.removed_at is null and c.suspended_at is null and c.password_hash is not null and c.email is not null
	order by lower(c.name), c.id
$$;

CREATE FUNCTION plain(words text) RETURNS text
    LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE
    AS $$ select lower(unaccent('unaccent'::regdictionary, words)) $$;

CREATE FUNCTION practice_of_firm(wanted uuid) RETURNS uuid
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select id from firm where practice_of_id = wanted $$;

CREATE FUNCTION recount_clients(touched uuid[]) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	perform 1 from client_summary where client_id = any (touched) order by client_id for update;
	update client_summary p set
		items = c.items, open = c.open, to_look_at = c.to_look_at, settled = c.settled,
		earliest_open_due = c.earliest_open_due,
		wait_key = coalesce(c.earliest_open_due, case when c.to_look_at > 0 then '9999-12-28' when c.open > 0 then '9999-12-29'
			when c.items = 0 then '9999-12-30' else '9999-12-31' end::date),
		next_chase_on = c.next_chase_on,
		tick_letters = coalesce(c.tick_letters, ''), tick_dues = coalesce(c.tick_dues, '{}')
	from (
		select t.client_id,
			count(i.id) items,
			count(i.id) filter (where i.phase = 'open') open,
			count(i.id) filter (where i.phase = 'to_look_at') to_look_at,
			count(i.id) filter (where i.phase = 'settled') settled,
			min(i.due_on) filter (where i.phase = 'open') earliest_open_due,
			min(i.next_chase_on) next_chase_on,
			string_agg(case i.state when 'asked' then 'a' when 'seen' then 'e' when 'started' then 't' when 'handed_in' then 'h'
				when 'accepted' then 'c' when 'sent_back' then 'b' when 'waived' then 'w' when 'answered_no' then 'n' when 'declined' then 'd' else '-' end,
				'' order by i.due_on, i.position, i.id) tick_letters,
			array_agg(i.due_on order by i.due_on, i.position, i.id) filter (where i.id is not null) tick_dues
		from unnest(touched) t (client_id) left join item i on i.client_id = t.client_id
		group by t.client_id
	) c where c.client_id = p.client_id;
end $$;

CREATE FUNCTION refuse_change() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
	if tg_op = 'DELETE' and current_setting('app.clearing', true) = old.firm_id::text
		and exists (select from firm where id = old.firm_id and practice_of_id is not null) then
		return old;
	end if;
	raise exception 'events are only ever added';
end $$;

CREATE FUNCTION remark_goes_with_the_rest() RETURNS trigger
    LANGUAGE plpgsql
    SET search_path TO 'public'
    AS $$
begin
	select r.given_to, r.given_by into new.given_to, new.given_by from remark r
	where r.contact_id is not null and r.seen_at is null and r.given_to is not null
		and (r.item_id = new.item_id or new.item_id is null and r.with_contact_id = new.with_contact_id and r.client_id = new.client_id)
	order by r.number desc limit 1;
	return new;
end $$;

CREATE FUNCTION remove_imported(clients uuid[], contacts uuid[], at timestamp with time zone) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	update client set removed_at = at where firm_id = current_firm() and id = any (clients) and removed_at is null;
	update contact set removed_at = at where firm_id = current_firm() and id = any (contacts) and removed_at is null and password_hash is null;
	delete from client_summary where firm_id = current_firm() and client_id = any (clients);
end $$;

CREATE FUNCTION requeue_lost_messages(planned_before timestamp with time zone) RETURNS integer
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
declare
	lost record;
	n int := 0;
begin
	for lost in
		with queued as materialized (
			select (j.payload ->> 'messageId')::uuid id from graphile_worker._private_jobs j join graphile_worker._private_tasks t on t.id = j.task_id
			where t.identifier = 'send_message' and j.attempts < j.max_attempts
		)
		select m.id, m.firm_id from message m join firm f on f.id = m.firm_id
		where m.state = 'planned' and m.planned_at < planned_before and f.practice_state is distinct from 'filling' and m.id not in (select id from queued)
		limit 200
	loop
		perform enqueue_sending(lost.firm_id, array[lost.id], 0);
		n := n + 1;
	end loop;
	return n;
end $$;

CREATE FUNCTION search_all_clients(typed text, digits text, most integer) RETURNS TABLE(client_id uuid, reason integer, found text)
    LANGUAGE plpgsql STABLE SECURITY DEFINER ROWS 20
    SET search_path TO 'public'
    SET "pg_trgm.word_similarity_threshold" TO '0.45'
    AS $_$
declare
	firm uuid := current_firm();
	words text[] := array(select word from (
		select word, min(place) place from regexp_split_to_table(btrim(plain(typed)), '[\s,;]+') with ordinality as t (word, place) where word <> ''
		group by word order by 2 limit 6) w);
	parts text[] := array(select '%' || replace(replace(replace(w, '\', '\\'), '%', '\%'), '_', '\_') || '%' from unnest(words) w);
	longest text := (select w from unnest(words) w order by length(w) desc, w limit 1);
	as_typed text := '%' || replace(replace(replace(btrim(plain(typed)), '\', '\\'), '%', '\%'), '_', '\_') || '%';
	is_it text;
	looks text[] := '{}';
	look text;
	answers int;
	named int := 0;
begin
	if longest is null then
		return;
	end if;
	-- the words as they stand, those that begin so first, then in any order; who has left after all others
	foreach is_it in array array['<>', '='] loop
		looks := looks || format('c.state %s ''ended'' and c.plain_name like %L order by not starts_with(c.plain_name, $2), lower(c.name), c.id', is_it, as_typed);
		if cardinality(parts) > 1 then
			looks := looks || format('c.state %s ''ended'' and %s and c.plain_name not like %L order by lower(c.name), c.id', is_it,
				(select string_agg(format('c.plain_name like %L', part), ' and ') from unnest(parts) part), as_typed);
		end if;
	end loop;
	foreach look in array looks loop
		return query execute 'select c.id, 1, c.name from client c where c.firm_id = $1 and c.removed_at is null and ' || look || ' limit $3'
			using firm, plain(typed), most - named;
		get diagnostics answers = row_count;
		named := named + answers;
		if named >= most then
			return;
		end if;
	end loop;
	return query
	with word as (
		select w, part from unnest(words, parts) as t (w, part)
	), hit as (
		select cc.client_id id, word.w, 2 reason, c.name found from word join contact c on c.plain_name like word.part join client_contact cc on cc.contact_id = c.id
			where c.firm_id = firm
		union all
		select cc.client_id, word.w, 3, c.email::text from word join contact c on lower(c.email::text) like word.part
			join client_contact cc on cc.contact_id = c.id where c.firm_id = firm
		union all
		select f.client_id, word.w, 5, f.value from word join fact f on lower(f.value) like word.part
			where f.firm_id = firm and f.searched and f.replaced_at is null
	), best as (
		select distinct on (hit.id, hit.w) hit.id, hit.w, hit.reason, hit.found from hit order by hit.id, hit.w, hit.reason
	), gathered as (
		select best.id, array_agg(best.w) held, max(best.reason) reason, (array_agg(best.found order by best.reason desc))[1] found from best group by best.id
	), answer as (
		select g.id, g.reason, g.found from gathered g join client c on c.id = g.id and c.removed_at is null
			where not exists (select from word where word.w <> all (g.held) and c.plain_name not like word.part)
				and exists (select from word where c.plain_name not like word.part)
		union all
		(select cc.client_id, 4, c.phone from contact c join client_contact cc on cc.contact_id = c.id
			where digits <> '' and c.firm_id = firm and c.phone like '%' || digits || '%' limit greatest(most, 60))
	)
	select distinct on (a.id) a.id, a.reason, a.found from (select * from answer order by answer.reason limit greatest(most, 60) * 4) a order by a.id, a.reason;
	get diagnostics answers = row_count;
	if named + answers > 0 or length(longest) < 4 then
		return;
	end if;
	return query
	select distinct on (near.id) near.id, near.reason, near.name from (
		(select c.id, 1 reason, c.name, word_similarity(longest, c.plain_name) likeness from client c
			where c.firm_id = firm and c.removed_at is null and longest <% c.plain_name
				and not exists (select from unnest(words) w where length(w) >= 4 and not w <% c.plain_name)
			order by 4 desc limit 8)
		union all
		(select cc.client_id, 2, c.name, word_similarity(longest, c.plain_name) from contact c join client_contact cc on cc.contact_id = c.id
			where c.firm_id = firm and longest <% c.plain_name
				and not exists (select from unnest(words) w where length(w) >= 4 and not w <% c.plain_name)
			order by 4 desc limit 8)
	) near order by near.id, near.reason;
end $_$;

CREATE FUNCTION search_all_things(typed text, most integer) RETURNS TABLE(kind text, id uuid, client_id uuid, client_name text, title text, state text, at timestamp with time zone)
    LANGUAGE plpgsql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
declare
	firm uuid := current_firm();
	words text[] := array(select distinct '%' || replace(replace(replace(w, '\', '\\'), '%', '\%'), '_', '\_') || '%'
		from regexp_split_to_table(btrim(plain(typed)), '[\s,;]+') w where w <> '' limit 6);
	anchor text;
begin
	foreach anchor in array array(select w from unnest(words) w where length(w) >= 5 order by length(w) desc, w limit 3) loop
		return query
		select found.* from (
			(select 'item', i.id, i.client_id, cl.name, i.title, i.state, i.state_at from item i join client cl on cl.id = i.client_id
				where plain(i.title) like anchor and i.firm_id = firm
					and not exists (select from unnest(words) w where plain(i.title || ' ' || cl.name) not like w) limit 1000)
			union all
			(select 'request', r.id, r.client_id, cl.name, r.title, null, r.sent_at from request r join client cl on cl.id = r.client_id
				where plain(r.title) like anchor and r.firm_id = firm
					and not exists (select from unnest(words) w where plain(r.title || ' ' || cl.name) not like w) limit 1000)
			union all
			(select 'paper', p.id, p.client_id, cl.name, p.name, null, p.uploaded_at from paper p join client cl on cl.id = p.client_id left join item i on i.id = p.item_id
				where plain(p.name) like anchor and p.firm_id = firm and p.removed_at is null and p.newer_id is null
					and (p.item_id is null or p.unasked or i.state not in ('asked', 'seen', 'started'))
					and not exists (select from unnest(words) w where plain(p.name || ' ' || cl.name) not like w) limit 1000)
		) as found (kind, id, client_id, client_name, title, state, at)
		order by found.state is not distinct from 'accepted' or found.state is not distinct from 'waived', found.at desc, found.id limit most;
		if found then
			return;
		end if;
	end loop;
end $$;

CREATE FUNCTION search_clients(typed text, digits text, most integer) RETURNS TABLE(client_id uuid, reason integer, found text)
    LANGUAGE sql STABLE SECURITY DEFINER ROWS 20
    SET search_path TO 'public'
    AS $$ select f.client_id, f.reason, f.found from search_all_clients(typed, digits, most + cardinality(unseen_clients())) f where f.client_id <> all (unseen_clients()) $$;

CREATE FUNCTION search_fact_anew(of_name text) RETURNS void
    LANGUAGE sql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	update fact f set searched = is_fact_searched(d.secret or d.seen_by <> 'all', d.kind) from fact_definition d
	where f.firm_id = current_firm() and f.name = of_name and d.firm_id = f.firm_id and d.name = f.name
		and f.searched <> is_fact_searched(d.secret or d.seen_by <> 'all', d.kind)
$$;

CREATE FUNCTION search_things(typed text, most integer) RETURNS TABLE(kind text, id uuid, client_id uuid, client_name text, title text, state text)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select f.kind, f.id, f.client_id, f.client_name, f.title, f.state from search_all_things(typed, most * 4) f
	where f.client_id <> all (unseen_clients()) limit most $$;

CREATE FUNCTION search_words(words text) RETURNS text
    LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE
    SET search_path TO 'public'
    AS $_$
	select btrim(regexp_replace(regexp_replace(regexp_replace(lower(words),
		'(\d)[.,''’](?=\d{3}(\D|$))', '\1', 'g'),
		'(\d)[.,](\d{2})(?!\d)', '\1c\2', 'g'),
		'[^[:alnum:]]+', ' ', 'g'))
$_$;

CREATE FUNCTION services_of_clients(wanted uuid[]) RETURNS TABLE(client_id uuid, names text[])
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select es.client_id, array_agg(distinct sv.name) from engagement_service es
		join engagement e on e.id = es.engagement_id and e.ended_on is null join service sv on sv.id = es.service_id
	where es.firm_id = (select current_firm()) and es.client_id = any (wanted)
		and ((select current_contact()) is null or es.client_id = any ((select my_clients())::uuid[]))
		and es.client_id <> all ((select unseen_clients())::uuid[])
	group by es.client_id
$$;

CREATE FUNCTION session_of_token(token bytea) RETURNS TABLE(session_id uuid, firm_id uuid, slug text, is_current boolean, rotated_at timestamp with time zone, last_used_at timestamp with time zone, expires_at timestamp with time zone, ended_at timestamp with time zone, kind text, person_id uuid, name text, email text, role text, locale text, suspended_at timestamp with time zone, must_set_up boolean, practice_of uuid)
    LANGUAGE plpgsql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	-- plpgsql, since it keeps its plan; two look-ups, since one with "or" cannot use both indexes cheaply
	return query select s.id, s.firm_id, f.slug, s.token_hash = token, s.rotated_at, s.last_used_at, s.expires_at, s.ended_at,
		case when s.staff_id is null then 'contact' else 'staff' end, coalesce(st.id, c.id), coalesce(st.name, c.name), coalesce(st.email, c.email)::text,
		st.role, coalesce(c.locale, f.locale), coalesce(st.suspended_at, c.suspended_at, c.removed_at), s.must_set_up, st.practice_of_id
	from session s join firm f on f.id = s.firm_id left join staff st on st.id = s.staff_id left join contact c on c.id = s.contact_id
	where s.id = coalesce((select c.id from session c where c.token_hash = token), (select p.id from session p where p.previous_token_hash = token));
end $$;

CREATE FUNCTION set_client_rights(person uuid) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	if not exists (select from client where firm_id = current_firm() and restricted) then
		return;
	end if;
	perform set_config('app.unseen', clients_below(person, 1)::text, true),
		set_config('app.not_worked', clients_below(person, 2)::text, true),
		set_config('app.not_administered', clients_below(person, 3)::text, true);
end $$;

CREATE FUNCTION show_merged(what text, gone uuid) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	if what = 'client' then
		update client set removed_at = null where firm_id = current_firm() and id = gone;
		insert into client_summary (client_id, firm_id, name, responsible_id, state)
			select id, firm_id, name, responsible_id, state from client where id = gone and firm_id = current_firm() on conflict do nothing;
		perform recount_clients(array[gone]);
		update client_summary set last_sign_of_life = (select max(at) from event where client_id = gone and actor_kind = 'contact') where client_id = gone;
	else
		update contact set removed_at = null where firm_id = current_firm() and id = gone;
	end if;
end $$;

CREATE FUNCTION sign_of_life() RETURNS trigger
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
begin
	if new.actor_kind = 'contact' then
		if new.client_id is not null then
			update client_summary set last_sign_of_life = new.at
				where client_id = new.client_id and (last_sign_of_life is null or last_sign_of_life < new.at);
		end if;
		insert into contact_heard (contact_id, firm_id, at) select id, firm_id, new.at from contact where id = new.actor_id
			on conflict (contact_id) do update set at = excluded.at where contact_heard.at < excluded.at;
	end if;
	return null;
end $$;

CREATE FUNCTION signable_until(item uuid) RETURNS date
    LANGUAGE sql STABLE
    SET search_path TO 'public'
    AS $$
	select l.lapses_on from letter_signer s join letter l on l.id = s.letter_id and l.state = 'sent' where s.item_id = item
$$;

CREATE FUNCTION similar_clients(wanted text, most integer) RETURNS TABLE(client_id uuid, likeness real)
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$ select f.client_id, f.likeness from similar_to_all_clients(wanted, most) f where f.client_id <> all (unseen_clients()) $$;

CREATE FUNCTION similar_to_all_clients(wanted text, most integer) RETURNS TABLE(client_id uuid, likeness real)
    LANGUAGE plpgsql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    SET "pg_trgm.similarity_threshold" TO '0.4'
    AS $$
declare
	firm uuid := current_firm();
begin
	return query
	select c.id, similarity(lower(c.name), wanted) from client c
	where c.firm_id = firm and lower(c.name) % wanted
	order by 2 desc, c.id limit most;
end $$;

CREATE FUNCTION stemming(language text) RETURNS regconfig
    LANGUAGE sql IMMUTABLE PARALLEL SAFE
    AS $$ select case language when 'fr' then 'french'::regconfig when 'de' then 'german'::regconfig else 'english'::regconfig end $$;

CREATE FUNCTION to_iso(at timestamp with time zone) RETURNS text
    LANGUAGE sql IMMUTABLE
    RETURN to_char((at AT TIME ZONE 'UTC'::text), 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'::text);

CREATE FUNCTION unseen_clients() RETURNS uuid[]
    LANGUAGE sql STABLE
    AS $$ select coalesce(nullif(current_setting('app.unseen', true), ''), '{}')::uuid[] $$;

CREATE FUNCTION unseen_people() RETURNS uuid[]
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select coalesce(array_agg(distinct t.contact_id), '{}') from tied_person t
	where t.client_id = any (unseen_clients())
		and not exists (select from tied_person o where o.contact_id = t.contact_id and o.client_id <> all (unseen_clients()))
$$;

CREATE FUNCTION values_of_fact(of_name text) RETURNS SETOF text
    LANGUAGE sql STABLE SECURITY DEFINER
    SET search_path TO 'public'
    AS $$
	select distinct value from fact where firm_id = current_firm() and name = of_name and replaced_at is null
$$;

CREATE FUNCTION wait_for_new_version() RETURNS trigger
    LANGUAGE plpgsql
    SET search_path TO 'public'
    AS $$
begin
	update request_draft set after_letters = array_replace(after_letters, new.replaces_id, new.id), problem = null, waits = run_id is not null
		where firm_id = new.firm_id and after_letters <> '{}' and after_letters @> array[new.replaces_id] and removed_at is null;
	update recurring_request set after_letters = array_replace(after_letters, new.replaces_id, new.id)
		where firm_id = new.firm_id and after_letters <> '{}' and after_letters @> array[new.replaces_id];
	return null;
end;
$$;

CREATE TABLE remark (
    id uuid NOT NULL,
    number bigint NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    item_id uuid,
    attachment_id uuid,
    page integer,
    x double precision,
    y double precision,
    words text NOT NULL,
    staff_id uuid,
    contact_id uuid,
    written_at timestamp with time zone NOT NULL,
    seen_at timestamp with time zone,
    with_contact_id uuid,
    mail_id uuid,
    later_until date,
    later_by text,
    given_to uuid,
    given_by text,
    CONSTRAINT remark_about CHECK (((item_id IS NULL) = (with_contact_id IS NOT NULL))),
    CONSTRAINT remark_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL))),
    CONSTRAINT remark_check1 CHECK (((attachment_id IS NULL) = (page IS NULL))),
    CONSTRAINT remark_check2 CHECK (((later_until IS NULL) = (later_by IS NULL))),
    CONSTRAINT remark_check3 CHECK (((given_to IS NULL) = (given_by IS NULL))),
    CONSTRAINT remark_check4 CHECK (((given_to IS NULL) OR (contact_id IS NOT NULL))),
    CONSTRAINT remark_pinned CHECK (((attachment_id IS NULL) OR (item_id IS NOT NULL)))
);

COMMENT ON TABLE remark IS 'What client and firm write to each other, about an item or to one person in general';

COMMENT ON COLUMN remark.with_contact_id IS 'With whom the firm talks, where it is about no item: they and the firm alone read it';

COMMENT ON COLUMN remark.mail_id IS 'The mail by which it came; null if it was written on a page';

COMMENT ON COLUMN remark.later_until IS 'From which day on it waits in Rounds again; null where nobody put it off';

COMMENT ON COLUMN remark.later_by IS 'Who put it off';

COMMENT ON COLUMN remark.given_to IS 'Who of the firm was given it to answer; null where whoever looks after the client answers';

COMMENT ON COLUMN remark.given_by IS 'Who gave it to them';

CREATE FUNCTION who_answers(r remark) RETURNS uuid
    LANGUAGE sql STABLE
    AS $$
	select s.id from colleagues_who_see(r.client_id) s where s.id = r.given_to
$$;

COMMENT ON FUNCTION who_answers(r remark) IS 'To whom words of a client were given, as long as they may see the client and are of the firm';

CREATE FUNCTION worded_drafts(pattern text) RETURNS SETOF uuid
    LANGUAGE sql STABLE SECURITY DEFINER ROWS 300
    SET search_path TO 'public'
    AS $$
	select d.id from request_draft d where plain(d.title) like plain(pattern) and d.firm_id = current_firm() and d.removed_at is null
	union
	select d.id from client c join request_draft d on d.client_id = c.id where c.plain_name like plain(pattern) and c.firm_id = current_firm() and d.removed_at is null
	union
	select d.id from request_list l join request_draft d on d.list_id = l.id where plain(l.name) like plain(pattern) and l.firm_id = current_firm() and d.removed_at is null
$$;

CREATE FUNCTION worded_items(pattern text, phases text[]) RETURNS SETOF uuid
    LANGUAGE sql STABLE SECURITY DEFINER ROWS 300
    SET search_path TO 'public'
    AS $$
	select i.id from item i where plain(i.title) like plain(pattern) and i.firm_id = current_firm() and i.phase = any (phases)
	union
	select i.id from request r join item i on i.request_id = r.id where plain(r.title) like plain(pattern) and r.firm_id = current_firm() and i.phase = any (phases)
	union
	select i.id from client c join item i on i.client_id = c.id where c.plain_name like plain(pattern) and c.firm_id = current_firm() and i.phase = any (phases)
$$;

CREATE TABLE account (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    kind text NOT NULL,
    institution text NOT NULL,
    last_four text DEFAULT ''::text NOT NULL,
    currency text NOT NULL,
    closing_day integer NOT NULL,
    opened_on date,
    closed_on date,
    noted_by_id uuid NOT NULL,
    noted_at timestamp with time zone NOT NULL,
    CONSTRAINT account_closing_day_check CHECK (((closing_day >= 1) AND (closing_day <= 31))),
    CONSTRAINT account_kind_check CHECK ((kind = ANY (ARRAY['bank'::text, 'card'::text, 'loan'::text, 'payment'::text])))
);

COMMENT ON TABLE account IS 'A bank or card account of a client, of which statements are asked';

CREATE TABLE answer_passed (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    item_id uuid NOT NULL,
    keys text[] NOT NULL,
    to_contact_id uuid NOT NULL,
    by_contact_id uuid NOT NULL,
    words text NOT NULL,
    passed_at timestamp with time zone NOT NULL,
    done_at timestamp with time zone,
    CONSTRAINT answer_passed_keys_check CHECK (((cardinality(keys) >= 1) AND (cardinality(keys) <= 300))),
    CONSTRAINT answer_passed_words_check CHECK ((length(words) <= 400))
);

COMMENT ON TABLE answer_passed IS 'Questions for which somebody of a client asked another one of them';

CREATE TABLE ask_sheet (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    file_name text NOT NULL,
    format text NOT NULL,
    header text[] NOT NULL,
    columns text[] NOT NULL,
    rows jsonb NOT NULL,
    made_by_id uuid NOT NULL,
    made_at timestamp with time zone NOT NULL,
    list_name text,
    used_at timestamp with time zone,
    CONSTRAINT ask_sheet_check CHECK (((used_at IS NULL) = (list_name IS NULL)))
);

COMMENT ON TABLE ask_sheet IS 'A file by which many are asked, a request for each row; only whoever brought it reads it';

COMMENT ON COLUMN ask_sheet.columns IS 'What each column holds: client, email or the name of a field; null where it is left out';

COMMENT ON COLUMN ask_sheet.rows IS 'Its rows as `{ line, cells }`, and once it was used `stays`: why nothing was made of a row';

COMMENT ON COLUMN ask_sheet.list_name IS 'How the list was called by which its rows were asked';

CREATE TABLE attachment (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    bytes bigint NOT NULL,
    sha256 bytea NOT NULL,
    content_type text NOT NULL,
    storage_key text NOT NULL,
    added_by_id uuid NOT NULL,
    added_at timestamp with time zone NOT NULL,
    first_page uuid,
    first_page_tried_at timestamp with time zone
);

COMMENT ON TABLE attachment IS 'A file of the firm that stands beside what is asked: a form to fill in, something to read or to approve';

CREATE TABLE authenticator (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    staff_id uuid,
    contact_id uuid,
    secret bytea NOT NULL,
    begun_at timestamp with time zone NOT NULL,
    confirmed_at timestamp with time zone,
    last_step bigint DEFAULT 0 NOT NULL,
    CONSTRAINT authenticator_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL)))
);

COMMENT ON TABLE authenticator IS 'An authenticator app (RFC 6238) as somebody''s second step';

CREATE TABLE brand (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    color text NOT NULL,
    welcome text DEFAULT ''::text NOT NULL,
    welcome_video text,
    welcome_picture text,
    logo_version text,
    made_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    CONSTRAINT brand_color_check CHECK ((color ~ '^#[0-9a-f]{6}$'::text))
);

COMMENT ON TABLE brand IS 'A further look of the firm, in which some of its clients see the portal';

CREATE TABLE chase_call (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    for_partner boolean NOT NULL,
    item_ids uuid[] NOT NULL,
    waits_from date NOT NULL,
    made_at timestamp with time zone NOT NULL,
    tries integer DEFAULT 0 NOT NULL,
    outcome text,
    note text DEFAULT ''::text NOT NULL,
    promised_until date,
    done_at timestamp with time zone,
    done_by_id uuid,
    CONSTRAINT chase_call_check CHECK ((((done_at IS NULL) = (outcome IS NULL)) AND ((done_at IS NULL) = (done_by_id IS NULL)))),
    CONSTRAINT chase_call_check1 CHECK (((promised_until IS NOT NULL) = ((outcome IS NOT NULL) AND (outcome = 'promised'::text)))),
    CONSTRAINT chase_call_note_check CHECK ((length(note) <= 1000)),
    CONSTRAINT chase_call_outcome_check CHECK ((outcome = ANY (ARRAY['reached'::text, 'promised'::text, 'refused'::text, 'seen'::text])))
);

COMMENT ON TABLE chase_call IS 'A call that a chase plan asks of the firm, and how it went; or a partner who is told that nothing helped';

COMMENT ON COLUMN chase_call.for_partner IS 'A partner is told, instead of somebody who calls';

COMMENT ON COLUMN chase_call.item_ids IS 'What was open when it fell due';

COMMENT ON COLUMN chase_call.waits_from IS 'From which day on it stands in Rounds: later than it fell due where nobody was reached';

COMMENT ON COLUMN chase_call.tries IS 'How often nobody was reached';

CREATE TABLE chase_change (
    firm_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    on_day date NOT NULL,
    left_out boolean DEFAULT false NOT NULL,
    subject text,
    body text,
    changed_at timestamp with time zone NOT NULL,
    changed_by_id uuid NOT NULL,
    CONSTRAINT chase_change_body_check CHECK (((length(body) >= 1) AND (length(body) <= 4000))),
    CONSTRAINT chase_change_check CHECK (((subject IS NULL) = (body IS NULL))),
    CONSTRAINT chase_change_check1 CHECK ((left_out OR (body IS NOT NULL))),
    CONSTRAINT chase_change_subject_check CHECK (((length(subject) >= 1) AND (length(subject) <= 200)))
);

COMMENT ON TABLE chase_change IS 'What is changed for this once in a reminder that is planned';

COMMENT ON COLUMN chase_change.on_day IS 'The day on which it would go when it was changed';

COMMENT ON COLUMN chase_change.left_out IS 'It does not go: what fell due by then is behind us';

CREATE TABLE chase_hold (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    contact_id uuid,
    client_id uuid,
    until date NOT NULL,
    why text NOT NULL,
    reason text DEFAULT ''::text NOT NULL,
    set_at timestamp with time zone NOT NULL,
    set_by text NOT NULL,
    ended_at timestamp with time zone,
    item_id uuid,
    request_id uuid,
    ends_with text,
    ends_item_id uuid,
    happened_at timestamp with time zone,
    CONSTRAINT chase_hold_check CHECK ((num_nonnulls(contact_id, client_id, item_id, request_id) = 1)),
    CONSTRAINT chase_hold_ends_check CHECK ((((ends_item_id IS NULL) OR (NOT (ends_with IS DISTINCT FROM 'done'::text))) AND ((happened_at IS NULL) OR (ends_with IS NOT NULL)))),
    CONSTRAINT chase_hold_ends_with_check CHECK ((ends_with = ANY (ARRAY['heard'::text, 'done'::text]))),
    CONSTRAINT chase_hold_reason_check CHECK ((length(reason) <= 300)),
    CONSTRAINT chase_hold_why_check CHECK ((why = ANY (ARRAY['replied'::text, 'away'::text, 'paused'::text, 'called'::text, 'promised'::text])))
);

COMMENT ON TABLE chase_hold IS 'Until when nobody is reminded, and why: of a person, everybody of a client, one thing, or all that one request asks';

COMMENT ON COLUMN chase_hold.until IS 'The first day on which reminders may go again';

COMMENT ON COLUMN chase_hold.why IS 'They wrote to the firm, they are away, somebody of the firm paused it, a call is to be made, or it was promised in one';

COMMENT ON COLUMN chase_hold.set_by IS 'Whose name stands beside it';

COMMENT ON COLUMN chase_hold.ends_with IS 'What lets reminders go again before the day: their person is heard from, or something else is done; null for the day alone';

COMMENT ON COLUMN chase_hold.ends_item_id IS 'What has to be done: handed in, or for a letter signed by all; null once it is deleted, which counts as done';

COMMENT ON COLUMN chase_hold.happened_at IS 'When that was seen to have happened; the day is then the business day after it';

CREATE TABLE clearing (
    table_name text NOT NULL,
    kind text NOT NULL,
    place integer DEFAULT 0 NOT NULL,
    only_where text DEFAULT 'true'::text NOT NULL,
    files text[] DEFAULT '{}'::text[] NOT NULL,
    because text,
    CONSTRAINT clearing_check CHECK (((kind = 'kept'::text) = (because IS NOT NULL))),
    CONSTRAINT clearing_kind_check CHECK ((kind = ANY (ARRAY['requests'::text, 'messages'::text, 'clients'::text, 'kept'::text])))
);

COMMENT ON TABLE clearing IS 'What clearing a practice workspace deletes, and what it keeps and why';

CREATE TABLE client (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    kind text NOT NULL,
    responsible_id uuid NOT NULL,
    created_at timestamp with time zone NOT NULL,
    state text DEFAULT 'active'::text NOT NULL,
    state_at timestamp with time zone,
    state_by text,
    state_reason text,
    removed_at timestamp with time zone,
    brand_id uuid,
    welcome text,
    welcome_video text,
    restricted boolean DEFAULT false NOT NULL,
    areas jsonb DEFAULT '{}'::jsonb NOT NULL,
    chase_plan text,
    plain_name text GENERATED ALWAYS AS (plain(name)) STORED NOT NULL,
    mail_key text DEFAULT "left"(replace((gen_random_uuid())::text, '-'::text, ''::text), 20) NOT NULL,
    CONSTRAINT client_kind_check CHECK ((kind = ANY (ARRAY['business'::text, 'person'::text]))),
    CONSTRAINT client_mail_key_check CHECK ((mail_key ~ '^[0-9a-f]{20}$'::text)),
    CONSTRAINT client_state_check CHECK ((state = ANY (ARRAY['active'::text, 'locked'::text, 'ended'::text])))
);

COMMENT ON TABLE client IS 'A client of the firm: a business, a sole trader or a household';

COMMENT ON COLUMN client.restricted IS 'Whether only the people named in client_right may see it';

COMMENT ON COLUMN client.areas IS 'Parts of the portal this client sees otherwise than the firm''s others do';

COMMENT ON COLUMN client.plain_name IS 'The name in lower case without accents, for searching';

COMMENT ON COLUMN client.mail_key IS 'The secret part of the address at which their papers come in by mail';

CREATE TABLE client_contact (
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    rank integer NOT NULL,
    role text DEFAULT ''::text NOT NULL
);

COMMENT ON TABLE client_contact IS 'Which people belong to which client, in order, with their role';

CREATE TABLE client_form (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    about text NOT NULL,
    questions jsonb NOT NULL,
    files boolean NOT NULL,
    services uuid[] DEFAULT '{}'::uuid[] NOT NULL,
    changed_by_id uuid NOT NULL,
    changed_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone
);

COMMENT ON TABLE client_form IS 'A form that clients can send in by themselves';

CREATE TABLE client_import (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    file_name text NOT NULL,
    format text NOT NULL,
    header text[] NOT NULL,
    columns text[] NOT NULL,
    state text NOT NULL,
    counts jsonb NOT NULL,
    progress integer DEFAULT 0 NOT NULL,
    stop_wanted boolean DEFAULT false NOT NULL,
    trouble text,
    plan_mark text NOT NULL,
    begun_by_id uuid NOT NULL,
    begun_at timestamp with time zone NOT NULL,
    done_by text,
    done_at timestamp with time zone,
    undone_by text,
    undone_at timestamp with time zone,
    heading_line integer,
    CONSTRAINT client_import_state_check CHECK ((state = ANY (ARRAY['ready'::text, 'running'::text, 'done'::text, 'undone'::text, 'left'::text])))
);

COMMENT ON TABLE client_import IS 'An import of clients from a list, from the file to its end or its undoing';

COMMENT ON COLUMN client_import.plan_mark IS 'Of the data the plan was made from: with another one it is made anew';

CREATE TABLE client_import_row (
    firm_id uuid NOT NULL,
    import_id uuid NOT NULL,
    line integer NOT NULL,
    cells text[] NOT NULL,
    decision text,
    outcome text NOT NULL,
    plan jsonb NOT NULL,
    CONSTRAINT client_import_row_outcome_check CHECK ((outcome = ANY (ARRAY['create'::text, 'update'::text, 'same'::text, 'ask'::text, 'skip'::text, 'wrong'::text, 'above'::text])))
);

COMMENT ON TABLE client_import_row IS 'One row of an imported list, with what is to become of it';

CREATE TABLE client_import_trace (
    firm_id uuid NOT NULL,
    import_id uuid NOT NULL,
    kind text NOT NULL,
    client_id uuid,
    contact_id uuid,
    fact_id uuid,
    engagement_id uuid,
    before jsonb,
    CONSTRAINT client_import_trace_kind_check CHECK ((kind = ANY (ARRAY['client'::text, 'contact'::text, 'link'::text, 'fact'::text, 'engagement'::text, 'client_before'::text, 'contact_before'::text, 'role_before'::text])))
);

COMMENT ON TABLE client_import_trace IS 'What an import made or changed, so that it can be undone';

CREATE TABLE client_look (
    firm_id uuid NOT NULL,
    staff_id uuid NOT NULL,
    client_id uuid NOT NULL,
    at timestamp with time zone NOT NULL
);

COMMENT ON TABLE client_look IS 'Who of the firm looked at which client when: the last few open first';

CREATE TABLE client_note (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    words text NOT NULL,
    written_by_id uuid NOT NULL,
    written_at timestamp with time zone NOT NULL,
    removed_at timestamp with time zone,
    item_id uuid,
    with_contact_id uuid,
    number bigint NOT NULL,
    CONSTRAINT client_note_about CHECK ((num_nonnulls(item_id, with_contact_id) <= 1))
);

COMMENT ON TABLE client_note IS 'What the firm noted about a client; clients never see it';

COMMENT ON COLUMN client_note.item_id IS 'The item beside whose words it stands; null for a note about the client, or in a talk with one person';

COMMENT ON COLUMN client_note.with_contact_id IS 'In the talk with whom it stands, where it is about no item; they never see it';

ALTER TABLE client_note ALTER COLUMN number ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME client_note_number_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE client_right (
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    staff_id uuid,
    group_id uuid,
    level text NOT NULL,
    CONSTRAINT client_right_check CHECK (((staff_id IS NULL) <> (group_id IS NULL))),
    CONSTRAINT client_right_level_check CHECK ((level = ANY (ARRAY['see'::text, 'work'::text, 'administer'::text])))
);

COMMENT ON TABLE client_right IS 'Who of the firm may see a restricted client, and whether to work on it';

CREATE TABLE client_summary (
    client_id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    responsible_id uuid NOT NULL,
    items integer DEFAULT 0 NOT NULL,
    open integer DEFAULT 0 NOT NULL,
    to_look_at integer DEFAULT 0 NOT NULL,
    settled integer DEFAULT 0 NOT NULL,
    earliest_open_due date,
    wait_key date DEFAULT '9999-12-30'::date NOT NULL,
    next_chase_on date,
    tick_letters text DEFAULT ''::text NOT NULL,
    tick_dues date[] DEFAULT '{}'::date[] NOT NULL,
    last_sign_of_life timestamp with time zone,
    state text DEFAULT 'active'::text NOT NULL
);

COMMENT ON TABLE client_summary IS 'What the list of clients shows and sorts by, kept in step by triggers; see recount_clients';

COMMENT ON COLUMN client_summary.wait_key IS 'By which clients are sorted: the earliest day something is due, then whoever waits for the firm';

COMMENT ON COLUMN client_summary.tick_letters IS 'One letter for the state of each item, in order; drawn as the strip of ticks';

COMMENT ON COLUMN client_summary.tick_dues IS 'The day each of these items is due';

CREATE TABLE contact (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    email citext,
    locale text DEFAULT 'en'::text NOT NULL,
    password_hash text,
    mail_problem text,
    mail_problem_detail text,
    last_chased_on date,
    last_seen_at timestamp with time zone,
    suspended_at timestamp with time zone,
    created_at timestamp with time zone NOT NULL,
    phone text,
    removed_at timestamp with time zone,
    channels text DEFAULT 'email'::text NOT NULL,
    text_problem text,
    text_problem_detail text,
    reminded_by text GENERATED ALWAYS AS (
CASE
    WHEN (mail_problem = ANY (ARRAY['opted_out'::text, 'no_address'::text])) THEN 'none'::text
    WHEN ((phone IS NULL) OR (text_problem IS NOT NULL) OR (channels = 'email'::text)) THEN
    CASE
        WHEN (mail_problem IS NULL) THEN 'email'::text
        ELSE 'none'::text
    END
    WHEN ((channels = 'both'::text) AND (mail_problem IS NULL)) THEN 'both'::text
    ELSE 'text'::text
END) STORED NOT NULL,
    last_told_on date,
    reminded_on date[] DEFAULT '{}'::date[] NOT NULL,
    no_reminder_before date,
    plain_name text GENERATED ALWAYS AS (plain(name)) STORED NOT NULL,
    not_asked text GENERATED ALWAYS AS (
CASE
    WHEN (suspended_at IS NOT NULL) THEN 'suspended'::text
    WHEN (mail_problem = ANY (ARRAY['no_address'::text, 'bounced'::text])) THEN mail_problem
    ELSE NULL::text
END) STORED,
    times jsonb,
    chase_plan text,
    stopped_how text,
    stopped_at timestamp with time zone,
    stop_seen_at timestamp with time zone,
    CONSTRAINT contact_address_or_none CHECK (((email IS NULL) = (NOT (mail_problem IS DISTINCT FROM 'no_address'::text)))),
    CONSTRAINT contact_channels_check CHECK ((channels = ANY (ARRAY['email'::text, 'text'::text, 'both'::text]))),
    CONSTRAINT contact_locale_check CHECK ((locale = ANY (ARRAY['en'::text, 'fr'::text]))),
    CONSTRAINT contact_mail_problem_check CHECK ((mail_problem = ANY (ARRAY['bounced'::text, 'opted_out'::text, 'no_address'::text]))),
    CONSTRAINT contact_phone_check CHECK ((phone ~ '^\+[1-9][0-9]{6,14}$'::text)),
    CONSTRAINT contact_stopped CHECK (((stopped_how IS NULL) = (stopped_at IS NULL))),
    CONSTRAINT contact_stopped_how_check CHECK ((stopped_how = ANY (ARRAY['link'::text, 'page'::text, 'complaint'::text]))),
    CONSTRAINT contact_text_problem_check CHECK ((text_problem = ANY (ARRAY['failed'::text, 'stopped'::text]))),
    CONSTRAINT contact_times_check CHECK ((jsonb_typeof(times) = 'object'::text))
);

COMMENT ON TABLE contact IS 'A person of one or more clients, who may have access to the portal';

COMMENT ON COLUMN contact.last_told_on IS 'The last day on which a message told them of anything: at most one a day';

COMMENT ON COLUMN contact.reminded_on IS 'The days of their last reminders, from which the firm''s pace follows';

COMMENT ON COLUMN contact.no_reminder_before IS 'The first day the firm''s pace allows the next reminder';

COMMENT ON COLUMN contact.not_asked IS 'Why they cannot be asked for anything: suspended, no_address, bounced; null if they can';

COMMENT ON COLUMN contact.times IS 'Their time zone, hours, days on which nothing goes to them, and how many reminders a week at most; null without any of their own';

COMMENT ON COLUMN contact.chase_plan IS 'By which plan what is asked of them from now on is chased; null as the client or the firm has it';

COMMENT ON COLUMN contact.stopped_how IS 'How they stopped reminders, null while they have not: by the link in one, on their page, or by reporting a mail of ours as unwanted';

COMMENT ON COLUMN contact.stopped_at IS 'When they did; it holds for any address of theirs, until they let reminders come again';

COMMENT ON COLUMN contact.stop_seen_at IS 'When a person of the firm took note of it';

CREATE TABLE contact_heard (
    contact_id uuid NOT NULL,
    firm_id uuid NOT NULL,
    at timestamp with time zone NOT NULL
);

COMMENT ON TABLE contact_heard IS 'When a person did anything here last; kept in step by a trigger on the history';

CREATE TABLE demo_clock (
    one boolean DEFAULT true NOT NULL,
    offset_ms bigint NOT NULL,
    moving_to timestamp with time zone,
    CONSTRAINT demo_clock_one_check CHECK (one)
);

COMMENT ON TABLE demo_clock IS 'How far the demo''s clock is ahead of the real one; a single row';

CREATE TABLE device (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    staff_id uuid,
    contact_id uuid,
    token_hash bytea NOT NULL,
    user_agent text NOT NULL,
    first_seen_at timestamp with time zone NOT NULL,
    last_seen_at timestamp with time zone NOT NULL,
    trusted_until timestamp with time zone,
    forgotten_at timestamp with time zone,
    CONSTRAINT device_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL)))
);

COMMENT ON TABLE device IS 'A browser in which somebody has signed in';

CREATE TABLE session (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    staff_id uuid,
    contact_id uuid,
    token_hash bytea NOT NULL,
    previous_token_hash bytea,
    rotated_at timestamp with time zone NOT NULL,
    created_at timestamp with time zone NOT NULL,
    last_used_at timestamp with time zone NOT NULL,
    expires_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    ip text NOT NULL,
    user_agent text NOT NULL,
    device_id uuid,
    must_set_up boolean DEFAULT false NOT NULL,
    CONSTRAINT session_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL)))
);

COMMENT ON TABLE session IS 'Somebody''s being signed in, in one browser';

COMMENT ON COLUMN session.previous_token_hash IS 'The token before the last rotation, which still holds for a moment';

CREATE TABLE told_device (
    device_id uuid NOT NULL,
    firm_id uuid NOT NULL,
    staff_id uuid,
    contact_id uuid,
    endpoint text NOT NULL,
    p256dh text NOT NULL,
    auth text NOT NULL,
    since timestamp with time zone NOT NULL,
    told_at timestamp with time zone,
    told_of uuid,
    CONSTRAINT told_device_check CHECK ((num_nonnulls(staff_id, contact_id) = 1))
);

COMMENT ON TABLE told_device IS 'A device on which somebody is told that there is something new; what it says holds nothing of a client';

COMMENT ON COLUMN told_device.endpoint IS 'Where its browser''s push service takes what is for it (RFC 8030)';

COMMENT ON COLUMN told_device.p256dh IS 'The public key of the browser (RFC 8291), base64url';

COMMENT ON COLUMN told_device.auth IS 'What the browser and we share besides (RFC 8291), base64url';

COMMENT ON COLUMN told_device.told_at IS 'When it was told last';

COMMENT ON COLUMN told_device.told_of IS 'The message of which it was told last';

CREATE VIEW device_told WITH (security_invoker='true') AS
 SELECT t.device_id
   FROM ((told_device t
     JOIN device d ON (((d.id = t.device_id) AND (d.forgotten_at IS NULL))))
     CROSS JOIN LATERAL ( SELECT s_1.ended_at
           FROM session s_1
          WHERE (s_1.device_id = t.device_id)
          ORDER BY s_1.created_at DESC, s_1.id
         LIMIT 1) s)
  WHERE (s.ended_at IS NULL);

COMMENT ON VIEW device_told IS 'Devices on which somebody is told now: they have not signed out there since';

CREATE TABLE engagement (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    name text NOT NULL,
    began_on date NOT NULL,
    created_at timestamp with time zone NOT NULL,
    ended_on date,
    ended_by text,
    end_reason text
);

COMMENT ON TABLE engagement IS 'What the firm was engaged for by a client, from when to when';

CREATE TABLE engagement_service (
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    engagement_id uuid NOT NULL,
    service_id uuid NOT NULL,
    fee text,
    fee_every text,
    CONSTRAINT engagement_service_fee_check CHECK ((fee ~ '^\d{1,12}(\.\d{1,4})?$'::text)),
    CONSTRAINT engagement_service_fee_every_check CHECK ((fee_every = ANY (ARRAY['month'::text, 'quarter'::text, 'year'::text, 'once'::text, 'hour'::text]))),
    CONSTRAINT engagement_service_fee_whole CHECK (((fee IS NULL) = (fee_every IS NULL)))
);

COMMENT ON TABLE engagement_service IS 'The services of an engagement';

COMMENT ON COLUMN engagement_service.fee IS 'What was agreed with the client; null where the usual fee of the service counts';

COMMENT ON COLUMN engagement_service.fee_every IS 'How often what was agreed falls due';

ALTER TABLE event ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME event_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE fact (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    name text NOT NULL,
    value text NOT NULL,
    said_by_kind text NOT NULL,
    said_by uuid,
    said_by_name text NOT NULL,
    said_at timestamp with time zone NOT NULL,
    replaced_at timestamp with time zone,
    confirmed_at timestamp with time zone,
    confirmed_by_name text,
    answers_item_id uuid,
    searched boolean DEFAULT false NOT NULL,
    paper_id uuid,
    CONSTRAINT fact_confirmed CHECK (((confirmed_at IS NULL) = (confirmed_by_name IS NULL))),
    CONSTRAINT fact_said_by_kind_check CHECK ((said_by_kind = ANY (ARRAY['staff'::text, 'contact'::text, 'machine'::text])))
);

COMMENT ON TABLE fact IS 'What is known about a client, with who said it and when; a correction keeps the value before it';

COMMENT ON COLUMN fact.replaced_at IS 'When a later value took its place; null for the one that holds';

COMMENT ON COLUMN fact.confirmed_at IS 'When somebody last said that it is still right';

COMMENT ON COLUMN fact.answers_item_id IS 'In answer to what a client said it; null for what was said by itself';

COMMENT ON COLUMN fact.searched IS 'Whether search finds its client by it: a number, a name or an address that is no secret, and that everybody in the firm may see';

COMMENT ON COLUMN fact.paper_id IS 'The paper of the client that it was read from; null for what was said';

CREATE TABLE fact_definition (
    firm_id uuid NOT NULL,
    name text NOT NULL,
    label text NOT NULL,
    hint text DEFAULT ''::text NOT NULL,
    heading text NOT NULL,
    kind jsonb NOT NULL,
    "position" integer NOT NULL,
    ready_made boolean DEFAULT false NOT NULL,
    client_may text DEFAULT 'correct'::text NOT NULL,
    seen_by text DEFAULT 'all'::text NOT NULL,
    secret boolean DEFAULT false NOT NULL,
    confirm_after integer,
    retired_at timestamp with time zone,
    merged_into text,
    CONSTRAINT fact_definition_client_may_check CHECK ((client_may = ANY (ARRAY['nothing'::text, 'read'::text, 'correct'::text]))),
    CONSTRAINT fact_definition_confirm_after_check CHECK (((confirm_after >= 1) AND (confirm_after <= 120))),
    CONSTRAINT fact_definition_name_check CHECK ((name ~ '^[a-z][a-z0-9_]{1,40}$'::text)),
    CONSTRAINT fact_definition_seen_by_check CHECK ((seen_by = ANY (ARRAY['all'::text, 'keepers'::text, 'leaders'::text])))
);

COMMENT ON TABLE fact_definition IS 'What the firm wants to know about its clients; those that ship with the product are handed out when a firm is made';

COMMENT ON COLUMN fact_definition.name IS 'By which values, conditions and merge fields know it; it stays when the label is changed';

COMMENT ON COLUMN fact_definition.kind IS 'How it is written down: core''s FactKind';

COMMENT ON COLUMN fact_definition.ready_made IS 'Ships with the product, which may give it a meaning: its kind stays';

COMMENT ON COLUMN fact_definition.client_may IS 'What clients may do with a fact of theirs';

COMMENT ON COLUMN fact_definition.seen_by IS 'Who of the firm may see it: everybody, whoever may write facts, or whoever runs clients';

COMMENT ON COLUMN fact_definition.secret IS 'Shown only when somebody asks to see it, and in no list, letter or file';

COMMENT ON COLUMN fact_definition.confirm_after IS 'So many months after it was said or confirmed it is to be confirmed; null for never';

COMMENT ON COLUMN fact_definition.retired_at IS 'Since when it is kept, and no longer asked';

COMMENT ON COLUMN fact_definition.merged_into IS 'The name of the fact that took its place';

CREATE TABLE filing_rule (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    account_id uuid,
    made_by_id uuid NOT NULL,
    made_at timestamp with time zone NOT NULL,
    off_at timestamp with time zone,
    taken_back integer DEFAULT 0 NOT NULL,
    contact_id uuid,
    words text[] DEFAULT '{}'::text[] NOT NULL,
    folder_id uuid,
    place integer DEFAULT 0 NOT NULL,
    CONSTRAINT filing_rule_kind CHECK ((((account_id IS NULL) = (contact_id IS NOT NULL)) AND ((account_id IS NULL) = (words <> '{}'::text[]))))
);

COMMENT ON TABLE filing_rule IS 'What finds its place by itself: statements of an account, or files of somebody with certain words in their names';

COMMENT ON COLUMN filing_rule.taken_back IS 'How many of the papers that it filed a person has taken out again';

COMMENT ON COLUMN filing_rule.contact_id IS 'Who sends it; null for statements, whoever sends them';

COMMENT ON COLUMN filing_rule.words IS 'Words that all stand in the name of a file, in it or in what is said of it; none for statements';

COMMENT ON COLUMN filing_rule.folder_id IS 'Where it is kept; null in no folder';

COMMENT ON COLUMN filing_rule.place IS 'Which of a client is asked first';

CREATE TABLE firm (
    id uuid NOT NULL,
    slug text NOT NULL,
    name text NOT NULL,
    time_zone text NOT NULL,
    country text NOT NULL,
    locale text DEFAULT 'en'::text NOT NULL,
    brand_color text NOT NULL,
    welcome text DEFAULT ''::text NOT NULL,
    address text DEFAULT ''::text NOT NULL,
    mail_from text NOT NULL,
    business_days integer[] DEFAULT '{1,2,3,4,5}'::integer[] NOT NULL,
    send_from text DEFAULT '09:00'::text NOT NULL,
    send_to text DEFAULT '17:00'::text NOT NULL,
    chase_steps jsonb NOT NULL,
    chase_plan_name text NOT NULL,
    is_demo boolean DEFAULT false NOT NULL,
    created_at timestamp with time zone NOT NULL,
    logo_version text,
    second_step_staff boolean DEFAULT true NOT NULL,
    second_step_contacts boolean DEFAULT false NOT NULL,
    practice_of_id uuid,
    practice_state text,
    welcome_video text,
    welcome_picture text,
    areas_off text[] DEFAULT '{}'::text[] NOT NULL,
    invitation_steps integer[] DEFAULT '{3,7}'::integer[] NOT NULL,
    client_language text DEFAULT 'en'::text NOT NULL,
    area_services jsonb DEFAULT '{}'::jsonb NOT NULL,
    further_chase_plans jsonb DEFAULT '[]'::jsonb NOT NULL,
    phone text,
    reminder_gap_days integer DEFAULT 2 NOT NULL,
    reminders_per_week integer DEFAULT 2 NOT NULL,
    currency text,
    papers_keep_years integer,
    usual_telling jsonb,
    CONSTRAINT firm_brand_color_check CHECK ((brand_color ~ '^#[0-9a-f]{6}$'::text)),
    CONSTRAINT firm_client_language_check CHECK ((client_language = ANY (ARRAY['en'::text, 'fr'::text]))),
    CONSTRAINT firm_currency_check CHECK ((currency ~ '^[A-Z]{3}$'::text)),
    CONSTRAINT firm_papers_keep_years_check CHECK (((papers_keep_years >= 1) AND (papers_keep_years <= 100))),
    CONSTRAINT firm_phone_check CHECK ((phone ~ '^\+[1-9][0-9]{6,14}$'::text)),
    CONSTRAINT firm_practice CHECK (((practice_of_id IS NULL) = (practice_state IS NULL))),
    CONSTRAINT firm_practice_state_check CHECK ((practice_state = ANY (ARRAY['empty'::text, 'filling'::text, 'ready'::text]))),
    CONSTRAINT firm_reminder_gap_days_check CHECK (((reminder_gap_days >= 1) AND (reminder_gap_days <= 14))),
    CONSTRAINT firm_reminders_per_week_check CHECK (((reminders_per_week >= 1) AND (reminders_per_week <= 7))),
    CONSTRAINT firm_slug_check CHECK ((slug ~ '^[a-z0-9][a-z0-9-]{1,60}$'::text))
);

COMMENT ON TABLE firm IS 'A bookkeeping firm: its look, calendar, chase plan and settings. A practice workspace is a firm of its own';

COMMENT ON COLUMN firm.chase_steps IS 'The usual chase plan: when each step falls due, and what it does';

COMMENT ON COLUMN firm.practice_of_id IS 'The firm whose practice workspace this is';

COMMENT ON COLUMN firm.papers_keep_years IS 'How long papers in folders that do not say it are kept, in years after the one in which they came; null without end';

COMMENT ON COLUMN firm.usual_telling IS 'What the firm''s people are told who have not chosen for themselves; null: nothing';

CREATE TABLE folder (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    name text NOT NULL,
    client_may text DEFAULT 'see'::text NOT NULL,
    for_some boolean DEFAULT false NOT NULL,
    keep_years integer,
    CONSTRAINT folder_client_may_check CHECK ((client_may = ANY (ARRAY['nothing'::text, 'see'::text, 'add'::text]))),
    CONSTRAINT folder_keep_years_check CHECK (((keep_years >= 1) AND (keep_years <= 100))),
    CONSTRAINT folder_name_check CHECK (((length(name) >= 1) AND (length(name) <= 60)))
);

COMMENT ON TABLE folder IS 'A folder of the papers of a client';

COMMENT ON COLUMN folder.client_may IS 'What people of the client may do in it: nothing, see what is shown there, or add as well';

COMMENT ON COLUMN folder.for_some IS 'Only for the people who are named, not for all of the client';

COMMENT ON COLUMN folder.keep_years IS 'How long papers in it are kept, in years after the one in which they came; null as the firm keeps others';

CREATE TABLE folder_contact (
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    folder_id uuid NOT NULL,
    contact_id uuid NOT NULL
);

COMMENT ON TABLE folder_contact IS 'The people of a client for whom a folder is, where it is not for all of them';

CREATE TABLE former_short_name (
    slug text NOT NULL,
    firm_id uuid NOT NULL,
    changed_at timestamp with time zone NOT NULL
);

COMMENT ON TABLE former_short_name IS 'Short names a firm had before; their addresses still lead to it';

CREATE TABLE holiday (
    firm_id uuid NOT NULL,
    day date NOT NULL,
    name text NOT NULL
);

COMMENT ON TABLE holiday IS 'Days on which the firm does not work';

CREATE TABLE identity_check (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    signer_id uuid NOT NULL,
    visit_id uuid,
    service text NOT NULL,
    price numeric(12,2),
    currency text,
    begun_at timestamp with time zone NOT NULL,
    service_key text,
    questions jsonb,
    ended_at timestamp with time zone,
    outcome text,
    score integer,
    CONSTRAINT identity_check_check CHECK (((outcome IS NULL) = (ended_at IS NULL))),
    CONSTRAINT identity_check_check1 CHECK (((outcome IS NULL) OR (questions IS NULL))),
    CONSTRAINT identity_check_outcome_check CHECK ((outcome = ANY (ARRAY['passed'::text, 'failed'::text, 'unknown'::text, 'expired'::text]))),
    CONSTRAINT identity_check_score_check CHECK (((score >= 0) AND (score <= 100)))
);

COMMENT ON TABLE identity_check IS 'One time that somebody was asked who they are, before a letter was shown to them';

COMMENT ON COLUMN identity_check.service IS 'What the service that asked calls itself';

COMMENT ON COLUMN identity_check.price IS 'What the service said that it asks for it; null for nothing';

COMMENT ON COLUMN identity_check.service_key IS 'By which the service knows it; null while it is asked for';

COMMENT ON COLUMN identity_check.questions IS 'The service''s questions, while they wait for answers; they are about a person, and kept no longer. Answers are not kept';

COMMENT ON COLUMN identity_check.outcome IS 'unknown: the service knows too little of them to ask anything';

CREATE TABLE identity_service (
    one boolean DEFAULT true NOT NULL,
    name text NOT NULL,
    price numeric(12,2),
    currency text,
    asked_at timestamp with time zone NOT NULL,
    CONSTRAINT identity_service_check CHECK (((price IS NULL) = (currency IS NULL))),
    CONSTRAINT identity_service_one_check CHECK (one)
);

COMMENT ON TABLE identity_service IS 'The service that checks identities, as it last described itself; empty where none is set up';

CREATE TABLE incoming_mail (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    message_id text NOT NULL,
    from_address text NOT NULL,
    from_name text NOT NULL,
    subject text NOT NULL,
    words text NOT NULL,
    came_at timestamp with time zone NOT NULL,
    authentication jsonb DEFAULT '{}'::jsonb NOT NULL,
    held text,
    let_in_at timestamp with time zone,
    let_in_by_id uuid,
    left_out jsonb DEFAULT '[]'::jsonb NOT NULL,
    folded text DEFAULT ''::text NOT NULL,
    answers_id uuid,
    item_id uuid,
    contact_id uuid,
    away boolean DEFAULT false NOT NULL,
    back_on date,
    seen_at timestamp with time zone,
    new_address text,
    CONSTRAINT incoming_mail_answer CHECK (((answers_id IS NULL) OR (contact_id IS NOT NULL))),
    CONSTRAINT incoming_mail_away CHECK (((back_on IS NULL) OR away)),
    CONSTRAINT incoming_mail_check CHECK ((((let_in_at IS NULL) = (let_in_by_id IS NULL)) AND ((let_in_at IS NULL) OR (held IS NOT NULL)))),
    CONSTRAINT incoming_mail_folded_check CHECK ((length(folded) <= 20000)),
    CONSTRAINT incoming_mail_from_address_check CHECK ((length(from_address) <= 320)),
    CONSTRAINT incoming_mail_from_name_check CHECK ((length(from_name) <= 120)),
    CONSTRAINT incoming_mail_held_check CHECK ((held = ANY (ARRAY['unknown'::text, 'contradicted'::text]))),
    CONSTRAINT incoming_mail_message_id_check CHECK (((length(message_id) >= 1) AND (length(message_id) <= 300))),
    CONSTRAINT incoming_mail_new_address_check CHECK ((length(new_address) <= 254)),
    CONSTRAINT incoming_mail_subject_check CHECK ((length(subject) <= 300)),
    CONSTRAINT incoming_mail_words_check CHECK ((length(words) <= 20000))
);

COMMENT ON TABLE incoming_mail IS 'A mail that came in for a client: it brought papers, or answers one of ours';

COMMENT ON COLUMN incoming_mail.authentication IS 'What the servers on the way say of the sender, by method (RFC 8601)';

COMMENT ON COLUMN incoming_mail.held IS 'Why its papers wait to be let in; null if they do not have to';

COMMENT ON COLUMN incoming_mail.left_out IS 'The files that were not kept, each with its name and why';

COMMENT ON COLUMN incoming_mail.folded IS 'What stood below its words: what it quotes, and the signature';

COMMENT ON COLUMN incoming_mail.answers_id IS 'Which of our messages it answers';

COMMENT ON COLUMN incoming_mail.item_id IS 'The one thing that message was about; null if it named several, or none';

COMMENT ON COLUMN incoming_mail.contact_id IS 'Whom our message was for';

COMMENT ON COLUMN incoming_mail.away IS 'A program says that they are away';

COMMENT ON COLUMN incoming_mail.back_on IS 'The day on which they are back, where the away note says so plainly';

COMMENT ON COLUMN incoming_mail.seen_at IS 'When somebody of the firm dealt with it, where it waited: an away note, or words from somebody who was not known';

COMMENT ON COLUMN incoming_mail.new_address IS 'The address that it names as the new one of its sender, where it plainly does';

CREATE TABLE incoming_text (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    gateway_id text NOT NULL,
    contact_id uuid NOT NULL,
    words text NOT NULL,
    came_at timestamp with time zone NOT NULL,
    seen_at timestamp with time zone,
    seen_by text
);

COMMENT ON TABLE incoming_text IS 'A text message that came from a person of a client';

CREATE TABLE invitation (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    client_id uuid NOT NULL,
    message_id uuid,
    token_hash bytea NOT NULL,
    sent_by_id uuid NOT NULL,
    sent_at timestamp with time zone NOT NULL,
    expires_at timestamp with time zone NOT NULL,
    opened_at timestamp with time zone,
    taken_up_at timestamp with time zone,
    withdrawn_at timestamp with time zone,
    replaced_at timestamp with time zone,
    put_aside_at timestamp with time zone,
    next_chase_on date,
    chases_sent integer DEFAULT 0 NOT NULL,
    run_id uuid,
    asked_again_at timestamp with time zone,
    waits boolean GENERATED ALWAYS AS (((taken_up_at IS NULL) AND (withdrawn_at IS NULL) AND (replaced_at IS NULL))) STORED NOT NULL
);

COMMENT ON TABLE invitation IS 'An invitation to the portal';

COMMENT ON COLUMN invitation.waits IS 'Neither taken up nor withdrawn nor replaced: with a time before expires_at it can be taken up';

CREATE TABLE invitation_run (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    subject text NOT NULL,
    body text NOT NULL,
    begun_by_id uuid NOT NULL,
    begun_at timestamp with time zone NOT NULL,
    invited integer NOT NULL
);

COMMENT ON TABLE invitation_run IS 'An invitation of many people at once';

CREATE TABLE item (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    request_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    "position" integer NOT NULL,
    kind text NOT NULL,
    title text NOT NULL,
    why text,
    required boolean NOT NULL,
    due_on date,
    state text NOT NULL,
    state_at timestamp with time zone NOT NULL,
    answer text,
    reason text,
    version integer DEFAULT 1 NOT NULL,
    chased_through date NOT NULL,
    next_chase_on date,
    chases_sent integer DEFAULT 0 NOT NULL,
    heading text DEFAULT ''::text NOT NULL,
    spec jsonb DEFAULT '{}'::jsonb NOT NULL,
    answer_data jsonb,
    attachments uuid[] DEFAULT '{}'::uuid[] NOT NULL,
    accepts_itself boolean DEFAULT false NOT NULL,
    asked_time_until date,
    account_id uuid,
    period_from date,
    period_to date,
    chase_plan text,
    text jsonb,
    typed jsonb DEFAULT '{}'::jsonb NOT NULL,
    looked_at timestamp with time zone,
    own boolean DEFAULT false NOT NULL,
    phase text GENERATED ALWAYS AS (
CASE
    WHEN (state = ANY (ARRAY['asked'::text, 'seen'::text, 'started'::text, 'sent_back'::text])) THEN 'open'::text
    WHEN (state = ANY (ARRAY['handed_in'::text, 'answered_no'::text, 'declined'::text])) THEN 'to_look_at'::text
    WHEN (state = ANY (ARRAY['accepted'::text, 'waived'::text])) THEN 'settled'::text
    ELSE 'not_sent'::text
END) STORED NOT NULL,
    questionnaire_id uuid GENERATED ALWAYS AS (((spec #>> '{from,id}'::text[]))::uuid) STORED,
    questionnaire_version integer GENERATED ALWAYS AS (((spec #>> '{from,version}'::text[]))::integer) STORED,
    answer_review jsonb DEFAULT '{}'::jsonb NOT NULL,
    asks_us boolean DEFAULT false NOT NULL,
    asked_on date NOT NULL,
    chased_turn integer DEFAULT 0 NOT NULL,
    chase_plan_from text,
    chase_plan_named text,
    CONSTRAINT item_chase_plan_from_check CHECK ((chase_plan_from = ANY (ARRAY['line'::text, 'request'::text, 'questionnaire'::text, 'list'::text, 'service'::text, 'contact'::text, 'client'::text, 'call'::text]))),
    CONSTRAINT item_state_check CHECK ((state = ANY (ARRAY['drafted'::text, 'asked'::text, 'seen'::text, 'started'::text, 'handed_in'::text, 'accepted'::text, 'sent_back'::text, 'waived'::text, 'answered_no'::text, 'declined'::text])))
);

COMMENT ON TABLE item IS 'One thing that is asked of a client: a paper, a question, a letter to sign … Its kind says which';

COMMENT ON COLUMN item.version IS 'Raised by every change, so that of two people the later one is told';

COMMENT ON COLUMN item.chased_through IS 'The last day whose reminder has gone';

COMMENT ON COLUMN item.next_chase_on IS 'The day of the next reminder; null when none is to come';

COMMENT ON COLUMN item.spec IS 'What exactly is asked; its shape depends on the kind';

COMMENT ON COLUMN item.answer_data IS 'What was answered; its shape depends on the kind';

COMMENT ON COLUMN item.typed IS 'What the client has written and not handed in';

COMMENT ON COLUMN item.own IS 'Whether only its contact sees it, not the client''s other people';

COMMENT ON COLUMN item.phase IS 'open: the client has something to do; to_look_at: the firm has; settled: nothing is left to do; not_sent: a draft';

COMMENT ON COLUMN item.questionnaire_id IS 'The questionnaire of the Library it was asked with, if any';

COMMENT ON COLUMN item.answer_review IS 'Of several questions: which answers were asked back, corrected or accepted, which the client does not know; core''s AnswerReview';

COMMENT ON COLUMN item.asks_us IS 'Somebody of the client wrote something about it that nobody of the firm has seen yet, or cannot go on until the firm acts: until then nobody is reminded of it';

COMMENT ON COLUMN item.asked_on IS 'The day on which it was asked; steps of a chase plan may count from it';

COMMENT ON COLUMN item.chased_turn IS 'How many days of its chase plan have had their turn, also where one moves on by what is heard';

COMMENT ON COLUMN item.chase_plan_from IS 'Because of what it is chased by its plan; null for the usual one, and for what was asked before this was kept';

COMMENT ON COLUMN item.chase_plan_named IS 'What that questionnaire, list, service or person was called then';

CREATE VIEW item_hold WITH (security_invoker='true') AS
 SELECT i.id AS item_id,
    h.until,
    h.why
   FROM (item i
     CROSS JOIN LATERAL held_by(i.id, i.request_id, i.contact_id, i.client_id) h(until, why, ends_with, ends_item_id));

COMMENT ON VIEW item_hold IS 'Until when nobody is reminded of an item, and why: the longest of what holds it, its request, its person and its client';

CREATE TABLE item_kind (
    name text NOT NULL
);

COMMENT ON TABLE item_kind IS 'Every kind of thing that can be asked; the application has a definition for each';

CREATE TABLE item_secret (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    item_id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    encrypted bytea NOT NULL,
    given_by_id uuid NOT NULL,
    given_at timestamp with time zone NOT NULL,
    expires_at timestamp with time zone NOT NULL
);

COMMENT ON TABLE item_secret IS 'A secret that was handed in, encrypted; deleted when it expires';

CREATE TABLE legal_hold (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    reason text NOT NULL,
    set_at timestamp with time zone NOT NULL,
    set_by_id uuid NOT NULL,
    ended_at timestamp with time zone,
    ended_by_id uuid,
    CONSTRAINT legal_hold_check CHECK (((ended_at IS NULL) = (ended_by_id IS NULL))),
    CONSTRAINT legal_hold_reason_check CHECK (((length(reason) >= 1) AND (length(reason) <= 300)))
);

COMMENT ON TABLE legal_hold IS 'While it lasts nothing of a client is destroyed, however old it is';

CREATE TABLE letter (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    item_id uuid NOT NULL,
    document jsonb NOT NULL,
    state text NOT NULL,
    storage_key text NOT NULL,
    sha256 bytea NOT NULL,
    pages integer NOT NULL,
    signature_page integer,
    signature_top double precision,
    sealed_key text,
    sealed_sha256 bytea,
    sealed_at timestamp with time zone,
    documents jsonb DEFAULT '[]'::jsonb NOT NULL,
    places jsonb DEFAULT '[]'::jsonb NOT NULL,
    trail_end text,
    stamped_at timestamp with time zone,
    lapses_on date,
    replaces_id uuid,
    changes jsonb,
    CONSTRAINT letter_state_check CHECK ((state = ANY (ARRAY['sent'::text, 'signed'::text, 'complete'::text, 'sealed'::text, 'declined'::text, 'withdrawn'::text, 'lapsed'::text])))
);

COMMENT ON TABLE letter IS 'The engagement letter of an item: its text, its file, and the sealed file once both sides have signed';

COMMENT ON COLUMN letter.signature_page IS 'Page on which the places for all signatures are; null where they have places of their own';

COMMENT ON COLUMN letter.documents IS 'The files it was made of, with the hash of each; none where its words were written here';

COMMENT ON COLUMN letter.places IS 'What is filled in where on its pages, and by whom';

COMMENT ON COLUMN letter.trail_end IS 'The hash of the last entry of its trail as it was sealed, which stands in the sealed file too; null if it was sealed before there were trails';

COMMENT ON COLUMN letter.stamped_at IS 'The instant in the time stamp of its seal, by the clock of the service that stamped it; null without a time stamp';

COMMENT ON COLUMN letter.lapses_on IS 'The last day, by the firm’s calendar, on which somebody of the client can sign; null for no end';

COMMENT ON COLUMN letter.replaces_id IS 'The letter of which it is a new version';

COMMENT ON COLUMN letter.changes IS 'What its words say otherwise than those of the version before; null for a first version';

CREATE TABLE letter_signer (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    letter_id uuid NOT NULL,
    key text NOT NULL,
    "position" integer NOT NULL,
    rank integer NOT NULL,
    side text NOT NULL,
    copy boolean DEFAULT false NOT NULL,
    contact_id uuid,
    staff_id uuid,
    name text NOT NULL,
    item_id uuid,
    state text NOT NULL,
    asked_at timestamp with time zone,
    shown_whole_at timestamp with time zone,
    told_of_lapse_on date,
    signs_by text DEFAULT 'portal'::text NOT NULL,
    link_hash bytea,
    outside boolean DEFAULT false NOT NULL,
    checks_left integer DEFAULT identity_check_tries() NOT NULL,
    check_stopped_at timestamp with time zone,
    on_paper_at timestamp with time zone,
    CONSTRAINT letter_signer_check CHECK (
CASE side
    WHEN 'client'::text THEN ((contact_id IS NOT NULL) AND (staff_id IS NULL))
    ELSE (contact_id IS NULL)
END),
    CONSTRAINT letter_signer_checks_left_check CHECK ((checks_left >= 0)),
    CONSTRAINT letter_signer_side_check CHECK ((side = ANY (ARRAY['client'::text, 'firm'::text]))),
    CONSTRAINT letter_signer_signs_by_check CHECK ((signs_by = ANY (ARRAY['portal'::text, 'link'::text, 'link_mail'::text, 'link_text'::text, 'link_check'::text]))),
    CONSTRAINT letter_signer_state_check CHECK ((state = ANY (ARRAY['waits'::text, 'asked'::text, 'signed'::text, 'declined'::text, 'stopped'::text])))
);

COMMENT ON TABLE letter_signer IS 'Who signs a letter, or gets a copy of it: in which order, and how far they are';

COMMENT ON COLUMN letter_signer.key IS 'By which the places on its pages name who fills them';

COMMENT ON COLUMN letter_signer."position" IS 'Place among all of them, from 1: that of their signature';

COMMENT ON COLUMN letter_signer.rank IS 'Those of one rank are asked together, when all of the rank before have signed';

COMMENT ON COLUMN letter_signer.copy IS 'Signs nothing, and gets a copy when all have signed';

COMMENT ON COLUMN letter_signer.staff_id IS 'Who of the firm; null where anyone may who countersigns letters';

COMMENT ON COLUMN letter_signer.name IS 'As they were called when it was sent';

COMMENT ON COLUMN letter_signer.item_id IS 'By which a contact is asked; null until it is their turn';

COMMENT ON COLUMN letter_signer.shown_whole_at IS 'When the whole letter was before their eyes: without it they cannot sign';

COMMENT ON COLUMN letter_signer.told_of_lapse_on IS 'The end of which they were told before it came; told again if it was moved';

COMMENT ON COLUMN letter_signer.signs_by IS 'How they come to it: signed in to their portal, or by a link of their own, alone, with a code by mail or by text, or with a code by mail and an identity check';

COMMENT ON COLUMN letter_signer.link_hash IS 'SHA-256 of the token in their link; null until a message with it was written, and once their address changes';

COMMENT ON COLUMN letter_signer.outside IS 'They are not of the client: they see this letter alone, and sign for nobody but themselves';

COMMENT ON COLUMN letter_signer.checks_left IS 'How often they may still be asked who they are';

COMMENT ON COLUMN letter_signer.check_stopped_at IS 'Since when they cannot go on because they did not show who they are, until somebody of the firm lets them try again';

COMMENT ON COLUMN letter_signer.on_paper_at IS 'When they sent the pages that they signed by hand, which somebody of the firm has to look at; null again once they were sent back';

CREATE TABLE letter_trail (
    firm_id uuid NOT NULL,
    letter_id uuid NOT NULL,
    number integer NOT NULL,
    said text NOT NULL,
    hash text NOT NULL,
    CONSTRAINT letter_trail_hash_check CHECK ((hash ~ '^[0-9a-f]{64}$'::text)),
    CONSTRAINT letter_trail_number_check CHECK ((number > 0))
);

COMMENT ON TABLE letter_trail IS 'What happened to a letter, entry by entry, each with the hash of the one before';

COMMENT ON COLUMN letter_trail.number IS 'Place among the entries of its letter, from 1';

COMMENT ON COLUMN letter_trail.said IS 'The entry as canonical JSON (RFC 8785): one object of texts';

COMMENT ON COLUMN letter_trail.hash IS 'SHA-256, hexadecimal, of the hash before (for the first: of the letter as it was shown), a line feed and the entry';

CREATE TABLE letter_visit (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    signer_id uuid NOT NULL,
    token_hash bytea NOT NULL,
    begun_at timestamp with time zone NOT NULL,
    sent_to text,
    code_hash bytea,
    tries integer DEFAULT 0 NOT NULL,
    let_in_at timestamp with time zone,
    code_given_at timestamp with time zone
);

COMMENT ON TABLE letter_visit IS 'A browser that came by the link of somebody who signs without signing in';

COMMENT ON COLUMN letter_visit.token_hash IS 'SHA-256 of the token in the browser''s cookie';

COMMENT ON COLUMN letter_visit.sent_to IS 'The address or number that the code went to; null where none is asked for';

COMMENT ON COLUMN letter_visit.let_in_at IS 'When they were let in to the letter';

COMMENT ON COLUMN letter_visit.code_given_at IS 'When the right code was given in this browser, where more is asked after it';

CREATE TABLE line_paper (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    identity text NOT NULL,
    paper_id uuid NOT NULL,
    fits boolean NOT NULL,
    said_by_id uuid,
    said_at timestamp with time zone NOT NULL
);

COMMENT ON TABLE line_paper IS 'That a paper is the document of a line, or that it is not';

COMMENT ON COLUMN line_paper.identity IS 'By which the line is known, in whatever file it comes';

COMMENT ON COLUMN line_paper.fits IS 'False: somebody has said that these two do not belong together';

COMMENT ON COLUMN line_paper.said_by_id IS 'Who said so; null where it was sure by itself';

CREATE TABLE list_override (
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    list_id uuid NOT NULL,
    line_key text NOT NULL,
    decision text NOT NULL,
    decided_by_id uuid NOT NULL,
    decided_at timestamp with time zone NOT NULL,
    CONSTRAINT list_override_decision_check CHECK ((decision = ANY (ARRAY['in'::text, 'out'::text])))
);

COMMENT ON TABLE list_override IS 'A decision that a list''s line is always or never asked of a client, whatever its conditions say';

CREATE TABLE merge (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    kind text NOT NULL,
    keep_id uuid NOT NULL,
    gone_id uuid NOT NULL,
    gone_name text NOT NULL,
    moved jsonb NOT NULL,
    before jsonb NOT NULL,
    by_id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    undone_at timestamp with time zone,
    undone_by text,
    CONSTRAINT merge_kind_check CHECK ((kind = ANY (ARRAY['client'::text, 'contact'::text])))
);

COMMENT ON TABLE merge IS 'Two clients or people that became one, with what is needed to undo it';

COMMENT ON COLUMN merge.moved IS 'By table and column, the ids of the rows that moved';

CREATE TABLE message (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    idempotency_key text NOT NULL,
    kind text NOT NULL,
    contact_id uuid,
    staff_id uuid,
    client_id uuid,
    request_id uuid,
    to_address text NOT NULL,
    subject text,
    body_text text,
    body_html text,
    content jsonb NOT NULL,
    message_id text NOT NULL,
    thread_id text,
    state text NOT NULL,
    reason text,
    tries integer DEFAULT 0 NOT NULL,
    planned_at timestamp with time zone NOT NULL,
    sending_at timestamp with time zone,
    sending_since timestamp with time zone,
    sent_at timestamp with time zone,
    settled_at timestamp with time zone,
    seen_by_staff_at timestamp with time zone,
    delivered_at timestamp with time zone,
    channel text DEFAULT 'email'::text NOT NULL,
    sending_attempt uuid,
    public_answer_id uuid,
    failed_for text,
    unwanted_at timestamp with time zone,
    CONSTRAINT message_channel_check CHECK ((channel = ANY (ARRAY['email'::text, 'text'::text]))),
    CONSTRAINT message_check CHECK (((failed_for IS NULL) OR (state = 'failed'::text))),
    CONSTRAINT message_failed_for_check CHECK ((failed_for = ANY (ARRAY['address'::text, 'moved'::text, 'full'::text, 'server'::text]))),
    CONSTRAINT message_state_check CHECK ((state = ANY (ARRAY['planned'::text, 'sending'::text, 'sent'::text, 'held_back'::text, 'failed'::text, 'unclear'::text])))
);

COMMENT ON TABLE message IS 'A message by mail or text, from being planned to being delivered. It is marked as sending before it is sent, so none goes twice';

COMMENT ON COLUMN message.idempotency_key IS 'What the message is about and for which day: it is planned once';

COMMENT ON COLUMN message.sending_attempt IS 'Which attempt holds the message: another one may not settle it';

COMMENT ON COLUMN message.failed_for IS 'What made it fail; null where it did not';

COMMENT ON COLUMN message.unwanted_at IS 'When the mail service of its reader reported it as unwanted (RFC 5965)';

CREATE TABLE message_item (
    firm_id uuid NOT NULL,
    message_id uuid NOT NULL,
    item_id uuid NOT NULL,
    step integer,
    plan text
);

COMMENT ON TABLE message_item IS 'Which items a message names';

COMMENT ON COLUMN message_item.plan IS 'By which chase plan its step was; null without a step';

CREATE TABLE message_kind (
    name text NOT NULL
);

COMMENT ON TABLE message_kind IS 'Every kind of message that there is; the application has a definition for each';

CREATE TABLE message_text (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    kind text NOT NULL,
    name text NOT NULL,
    folder text DEFAULT ''::text NOT NULL,
    tags text[] DEFAULT '{}'::text[] NOT NULL,
    subject text DEFAULT ''::text NOT NULL,
    body text NOT NULL,
    shared text DEFAULT 'all'::text NOT NULL,
    group_id uuid,
    made_by_id uuid NOT NULL,
    made_at timestamp with time zone NOT NULL,
    changed_at timestamp with time zone NOT NULL,
    in_use boolean DEFAULT false NOT NULL,
    version integer DEFAULT 1 NOT NULL,
    language text DEFAULT 'en'::text NOT NULL,
    CONSTRAINT message_text_check CHECK (((NOT in_use) OR (shared = 'all'::text))),
    CONSTRAINT message_text_kind_check CHECK ((kind = ANY (ARRAY['invitation'::text, 'invitation_sms'::text, 'request'::text, 'request_sms'::text, 'sent_back'::text, 'answer'::text, 'chase_soon'::text, 'chase'::text, 'chase_firmer'::text, 'chase_sms'::text, 'thanks'::text]))),
    CONSTRAINT message_text_language_check CHECK ((language = ANY (ARRAY['en'::text, 'fr'::text]))),
    CONSTRAINT message_text_shared_check CHECK ((shared = ANY (ARRAY['all'::text, 'group'::text, 'person'::text])))
);

COMMENT ON TABLE message_text IS 'A text of the firm for a kind of message, kept in the Library';

CREATE TABLE migration (
    name text NOT NULL,
    sha256 text NOT NULL,
    ran_at timestamp with time zone DEFAULT now() NOT NULL
);

COMMENT ON TABLE migration IS 'The migrations that ran, with the hash of their text';

CREATE TABLE note_told (
    note_id uuid NOT NULL,
    staff_id uuid NOT NULL,
    firm_id uuid NOT NULL,
    told_at timestamp with time zone NOT NULL,
    seen_at timestamp with time zone
);

COMMENT ON TABLE note_told IS 'Who of the firm was named in a note, and whether they have seen it';

CREATE TABLE outside_signer (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    named_at timestamp with time zone NOT NULL
);

COMMENT ON TABLE outside_signer IS 'Who signs letters of a client without being of it: they come in by a link of their own, to those letters alone';

CREATE TABLE paper (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    item_id uuid,
    name text NOT NULL,
    bytes bigint NOT NULL,
    sha256 bytea NOT NULL,
    content_type text NOT NULL,
    storage_key text NOT NULL,
    uploaded_by_contact_id uuid,
    uploaded_at timestamp with time zone NOT NULL,
    removed_at timestamp with time zone,
    slot text,
    unasked boolean DEFAULT false NOT NULL,
    note text DEFAULT ''::text NOT NULL,
    first_words text,
    put_away_at timestamp with time zone,
    put_away_by_id uuid,
    pages integer,
    words_read_at timestamp with time zone,
    kept boolean DEFAULT false NOT NULL,
    filed_by_rule_id uuid,
    mail_id uuid,
    held boolean DEFAULT false NOT NULL,
    folder_id uuid,
    given_by_id uuid,
    shown_at timestamp with time zone,
    shown_by_id uuid,
    newer_id uuid,
    language text,
    search tsvector,
    place text GENERATED ALWAYS AS (
CASE
    WHEN (item_id IS NOT NULL) THEN 'item'::text
    WHEN kept THEN 'kept'::text
    WHEN (put_away_at IS NOT NULL) THEN 'away'::text
    WHEN held THEN 'held'::text
    WHEN unasked THEN 'waits'::text
    ELSE 'kept'::text
END) STORED NOT NULL,
    waits boolean GENERATED ALWAYS AS ((unasked AND (item_id IS NULL) AND (removed_at IS NULL) AND (put_away_at IS NULL))) STORED NOT NULL,
    scan text,
    scanned_at timestamp with time zone,
    scan_found text,
    arranged_in uuid,
    arranged_from uuid,
    destroy_on date,
    destroy_asked_by_id uuid,
    destroyed_at timestamp with time zone,
    file_gone_at timestamp with time zone,
    CONSTRAINT paper_arranged CHECK (((arranged_in IS NULL) OR (unasked AND (put_away_at IS NOT NULL)))),
    CONSTRAINT paper_arranged_from CHECK (((arranged_from IS NULL) OR unasked)),
    CONSTRAINT paper_destroyed CHECK (((destroyed_at IS NULL) OR ((removed_at IS NOT NULL) AND (destroy_on IS NOT NULL)))),
    CONSTRAINT paper_file_gone CHECK (((file_gone_at IS NULL) OR (destroyed_at IS NOT NULL))),
    CONSTRAINT paper_given CHECK (((given_by_id IS NULL) OR ((NOT unasked) AND (item_id IS NULL)))),
    CONSTRAINT paper_has_its_item CHECK (((item_id IS NOT NULL) OR unasked OR (given_by_id IS NOT NULL))),
    CONSTRAINT paper_held CHECK (((NOT held) OR ((mail_id IS NOT NULL) AND (item_id IS NULL)))),
    CONSTRAINT paper_kept CHECK (((NOT kept) OR (put_away_at IS NOT NULL))),
    CONSTRAINT paper_language_check CHECK ((language = ANY (ARRAY['en'::text, 'fr'::text, 'de'::text]))),
    CONSTRAINT paper_put_away CHECK ((((put_away_at IS NULL) = (put_away_by_id IS NULL)) AND ((put_away_at IS NULL) OR (item_id IS NULL)))),
    CONSTRAINT paper_scan_check CHECK ((scan = ANY (ARRAY['clean'::text, 'found'::text, 'too_large'::text]))),
    CONSTRAINT paper_scanned CHECK ((((scan IS NULL) = (scanned_at IS NULL)) AND ((NOT (scan IS DISTINCT FROM 'found'::text)) = (scan_found IS NOT NULL)))),
    CONSTRAINT paper_shown CHECK ((((shown_at IS NULL) = (shown_by_id IS NULL)) AND ((shown_at IS NULL) OR (NOT held)))),
    CONSTRAINT paper_to_be_destroyed CHECK (((destroy_on IS NULL) = (destroy_asked_by_id IS NULL)))
);

COMMENT ON TABLE paper IS 'A file that was handed in';

COMMENT ON COLUMN paper.unasked IS 'Sent without being asked; it has its place once it has an item';

COMMENT ON COLUMN paper.note IS 'What whoever sent it says that it is';

COMMENT ON COLUMN paper.first_words IS 'The words of its first pages; null where they were not read, or there are none';

COMMENT ON COLUMN paper.put_away_at IS 'When a person of the firm said that it answers nothing that was asked';

COMMENT ON COLUMN paper.pages IS 'Of a PDF; null where it is none, was not read yet or cannot be opened';

COMMENT ON COLUMN paper.words_read_at IS 'When its words were looked for';

COMMENT ON COLUMN paper.kept IS 'It is put away among the papers of the client, where it counts; else it needs no place at all';

COMMENT ON COLUMN paper.filed_by_rule_id IS 'The rule that gave it its place, if it found that by itself';

COMMENT ON COLUMN paper.mail_id IS 'The mail that brought it';

COMMENT ON COLUMN paper.held IS 'It came by mail, and nobody has let it in yet';

COMMENT ON COLUMN paper.folder_id IS 'The folder of the client in which it lies';

COMMENT ON COLUMN paper.given_by_id IS 'Who of the firm added it; null for what came from the client';

COMMENT ON COLUMN paper.shown_at IS 'When it was shown to the client; null while it is for the firm only';

COMMENT ON COLUMN paper.newer_id IS 'The newest version, which took its place; null for that one';

COMMENT ON COLUMN paper.language IS 'In which its words are written, where that could be told';

COMMENT ON COLUMN paper.search IS 'What it is found by: name, note, who sent it, what it answers, its folder, and the words inside';

COMMENT ON COLUMN paper.place IS 'Where it is: it answers what was asked, is kept, is put away, waits to be let in, or waits for its place';

COMMENT ON COLUMN paper.waits IS 'It is here and waits for its place, or to be let in';

COMMENT ON COLUMN paper.scan IS 'What the scanner for harmful content said; null while it was not asked';

COMMENT ON COLUMN paper.scan_found IS 'What it found, in its words';

COMMENT ON COLUMN paper.arranged_in IS 'Its pages are in the files with this in arranged_from';

COMMENT ON COLUMN paper.arranged_from IS 'Made of the pages of the files with this in arranged_in';

COMMENT ON COLUMN paper.destroy_on IS 'The day on which it is destroyed, unless somebody stops that';

COMMENT ON COLUMN paper.destroy_asked_by_id IS 'Who said that it is to be destroyed';

COMMENT ON COLUMN paper.destroyed_at IS 'When it was destroyed; the row stays as the record of it';

COMMENT ON COLUMN paper.file_gone_at IS 'When its file was taken out of the store after that';

CREATE TABLE paper_announcement (
    firm_id uuid NOT NULL,
    paper_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    told_at timestamp with time zone
);

COMMENT ON TABLE paper_announcement IS 'Who is still to be told of a paper that was shown to them, in one message a day';

COMMENT ON COLUMN paper_announcement.told_at IS 'When a message named it, or they had found it by themselves';

CREATE VIEW paper_keeping WITH (security_invoker='true') AS
 SELECT p.id,
    p.firm_id,
    p.client_id,
    make_date(((EXTRACT(year FROM (p.uploaded_at AT TIME ZONE f.time_zone)))::integer + COALESCE(d.keep_years, f.papers_keep_years)), 12, 31) AS kept_until,
    (EXISTS ( SELECT
           FROM legal_hold h
          WHERE ((h.client_id = p.client_id) AND (h.ended_at IS NULL)))) AS held_back
   FROM ((paper p
     JOIN firm f ON ((f.id = p.firm_id)))
     LEFT JOIN folder d ON ((d.id = p.folder_id)))
  WHERE (p.removed_at IS NULL);

COMMENT ON VIEW paper_keeping IS 'The last day on which each paper that is here has to be kept, and whether a hold keeps it beyond';

CREATE VIEW paper_of_line WITH (security_invoker='true') AS
 SELECT DISTINCT ON (l.client_id, l.identity) l.firm_id,
    l.client_id,
    l.identity,
    p.id AS paper_id,
    p.name,
    p.uploaded_at,
    l.said_by_id
   FROM (line_paper l
     JOIN paper p ON ((p.id = l.paper_id)))
  WHERE (l.fits AND (p.removed_at IS NULL))
  ORDER BY l.client_id, l.identity, l.said_at DESC, l.id;

COMMENT ON VIEW paper_of_line IS 'The paper that was found for each line';

CREATE TABLE statement (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    paper_id uuid NOT NULL,
    number integer NOT NULL,
    account_id uuid,
    last_four text,
    covers_from date,
    covers_to date,
    opening numeric(18,2),
    closing numeric(18,2),
    currency text,
    payments integer,
    payments_sum numeric(18,2),
    spots jsonb DEFAULT '{}'::jsonb NOT NULL,
    put_right_by_id uuid,
    put_right_at timestamp with time zone,
    explained text DEFAULT ''::text NOT NULL,
    explained_by_id uuid,
    explained_at timestamp with time zone,
    CONSTRAINT statement_check CHECK ((((covers_from IS NULL) = (covers_to IS NULL)) AND (covers_from <= covers_to))),
    CONSTRAINT statement_check1 CHECK (((put_right_by_id IS NULL) = (put_right_at IS NULL))),
    CONSTRAINT statement_check2 CHECK ((((explained = ''::text) = (explained_by_id IS NULL)) AND ((explained_by_id IS NULL) = (explained_at IS NULL)))),
    CONSTRAINT statement_currency_check CHECK ((currency ~ '^[A-Z]{3}$'::text)),
    CONSTRAINT statement_explained_check CHECK ((length(explained) <= 300)),
    CONSTRAINT statement_last_four_check CHECK ((last_four ~ '^\d{4}$'::text)),
    CONSTRAINT statement_number_check CHECK (((number >= 0) AND (number <= 99)))
);

COMMENT ON TABLE statement IS 'A statement in a paper of a client: the account, the days it covers and its balances';

COMMENT ON COLUMN statement.account_id IS 'The account that a person chose; else it is known by its last four digits or by what the paper was asked for';

COMMENT ON COLUMN statement.payments IS 'How many payments could be read; null where they could not';

COMMENT ON COLUMN statement.spots IS 'Where each value stands in the paper: page, and a box in parts of it';

COMMENT ON COLUMN statement.explained IS 'Why it does not begin where the one before it ended';

CREATE VIEW paper_of_payment WITH (security_invoker='true') AS
 SELECT p.id,
    p.firm_id,
    p.client_id,
    p.name,
    p.note,
    p.first_words,
    p.search,
    p.uploaded_at
   FROM (paper p
     LEFT JOIN item i ON ((i.id = p.item_id)))
  WHERE ((p.removed_at IS NULL) AND (p.newer_id IS NULL) AND (p.place = ANY (ARRAY['item'::text, 'kept'::text, 'waits'::text])) AND ((p.scan IS NULL) OR (p.scan = 'clean'::text)) AND ((p.item_id IS NULL) OR p.unasked OR (i.state = ANY (ARRAY['handed_in'::text, 'accepted'::text]))) AND (i.account_id IS NULL) AND (i.kind IS DISTINCT FROM 'transactions'::text) AND (NOT (EXISTS ( SELECT
           FROM statement s
          WHERE (s.paper_id = p.id)))));

COMMENT ON VIEW paper_of_payment IS 'Receipts, invoices and whatever else is here and can be the document of a payment';

CREATE VIEW paper_signer WITH (security_invoker='true') AS
 SELECT s.id,
    s.firm_id,
    s.client_id,
    s.letter_id,
    s.item_id,
    s.on_paper_at
   FROM (letter_signer s
     JOIN letter l ON ((l.id = s.letter_id)))
  WHERE ((s.on_paper_at IS NOT NULL) AND (s.state = 'asked'::text) AND (l.state = ANY (ARRAY['sent'::text, 'signed'::text])));

COMMENT ON VIEW paper_signer IS 'Who has sent the pages of a letter that they signed by hand, which nobody of the firm has looked at yet';

CREATE TABLE passkey (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    staff_id uuid,
    contact_id uuid,
    credential_id text NOT NULL,
    public_key bytea NOT NULL,
    counter bigint NOT NULL,
    transports text[] NOT NULL,
    name text NOT NULL,
    made_at timestamp with time zone NOT NULL,
    last_used_at timestamp with time zone,
    CONSTRAINT passkey_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL)))
);

COMMENT ON TABLE passkey IS 'A passkey (WebAuthn) of somebody';

CREATE TABLE passkey_challenge (
    id uuid NOT NULL,
    challenge text NOT NULL,
    person_id uuid,
    expires_at timestamp with time zone NOT NULL
);

COMMENT ON TABLE passkey_challenge IS 'A challenge that was given out and not answered yet';

CREATE TABLE password_reset (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    contact_id uuid,
    staff_id uuid,
    token_hash bytea NOT NULL,
    created_at timestamp with time zone NOT NULL,
    expires_at timestamp with time zone NOT NULL,
    used_at timestamp with time zone,
    CONSTRAINT password_reset_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL)))
);

COMMENT ON TABLE password_reset IS 'A link to set a new password';

CREATE TABLE payment_authorisation (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    letter_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    given_at timestamp with time zone NOT NULL,
    encrypted bytea NOT NULL,
    handed_on_at timestamp with time zone
);

COMMENT ON TABLE payment_authorisation IS 'The account that somebody of a client named in a letter, encrypted, for fees to be collected from';

COMMENT ON COLUMN payment_authorisation.encrypted IS 'Holder and numbers of the account';

COMMENT ON COLUMN payment_authorisation.handed_on_at IS 'When it first went into a file for whoever collects; null while it did not';

CREATE TABLE picture (
    firm_id uuid NOT NULL,
    version text NOT NULL,
    mime text NOT NULL,
    bytes bytea NOT NULL,
    width integer NOT NULL,
    height integer NOT NULL,
    made_at timestamp with time zone NOT NULL,
    CONSTRAINT picture_mime_check CHECK ((mime = ANY (ARRAY['image/png'::text, 'image/jpeg'::text]))),
    CONSTRAINT picture_version_check CHECK ((version ~ '^[0-9a-f]{16}$'::text))
);

COMMENT ON TABLE picture IS 'Logos and pictures of the firm';

CREATE VIEW placed_statement WITH (security_invoker='true') AS
 SELECT s.id,
    s.firm_id,
    s.client_id,
    s.paper_id,
    s.covers_from,
    s.covers_to,
    s.opening,
    s.closing,
    s.currency,
    s.last_four,
    s.explained,
    s.put_right_at,
    COALESCE(s.account_id, ( SELECT (array_agg(a.id))[1] AS array_agg
           FROM account a
          WHERE ((a.client_id = s.client_id) AND (a.last_four = s.last_four))
         HAVING (count(*) = 1)), i.account_id) AS account_id,
    p.item_id,
    (p.kept OR COALESCE((i.state = 'accepted'::text), false) OR (p.destroyed_at IS NOT NULL)) AS settled
   FROM ((statement s
     JOIN paper p ON ((p.id = s.paper_id)))
     LEFT JOIN item i ON ((i.id = p.item_id)))
  WHERE (((p.removed_at IS NULL) OR (p.destroyed_at IS NOT NULL)) AND (NOT p.held) AND ((p.put_away_at IS NULL) OR p.kept OR (p.destroyed_at IS NOT NULL)) AND ((p.item_id IS NULL) OR (i.state = ANY (ARRAY['handed_in'::text, 'accepted'::text]))));

COMMENT ON VIEW placed_statement IS 'Statements that count, with the account that each belongs to';

CREATE TABLE portal_look (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    staff_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    token_hash bytea NOT NULL,
    begun_at timestamp with time zone NOT NULL,
    expires_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    session_id uuid
);

COMMENT ON TABLE portal_look IS 'A look at the portal as a contact sees it, by somebody of the firm; it can change nothing';

CREATE TABLE practice_clearing (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    cleared_at timestamp with time zone NOT NULL,
    cleared_by text NOT NULL,
    counts jsonb NOT NULL
);

COMMENT ON TABLE practice_clearing IS 'When what was cleared from a practice workspace, with counts';

CREATE TABLE proposed_folder (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    place integer NOT NULL,
    client_may text DEFAULT 'see'::text NOT NULL,
    services uuid[] DEFAULT '{}'::uuid[] NOT NULL,
    keep_years integer,
    CONSTRAINT proposed_folder_client_may_check CHECK ((client_may = ANY (ARRAY['nothing'::text, 'see'::text, 'add'::text]))),
    CONSTRAINT proposed_folder_keep_years_check CHECK (((keep_years >= 1) AND (keep_years <= 100))),
    CONSTRAINT proposed_folder_name_check CHECK (((length(name) >= 1) AND (length(name) <= 60)))
);

COMMENT ON TABLE proposed_folder IS 'A folder that the papers of each client are proposed';

COMMENT ON COLUMN proposed_folder.client_may IS 'What people of the client may do in it once it is there';

COMMENT ON COLUMN proposed_folder.services IS 'The services of whose clients it is proposed; empty for all';

COMMENT ON COLUMN proposed_folder.keep_years IS 'How long papers in it are kept, in years after the one in which they came; null as the firm keeps others';

CREATE TABLE public_answer (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    page_id uuid NOT NULL,
    questionnaire_id uuid NOT NULL,
    once uuid NOT NULL,
    version integer NOT NULL,
    title text NOT NULL,
    questions jsonb NOT NULL,
    answers jsonb NOT NULL,
    name text DEFAULT ''::text NOT NULL,
    business text DEFAULT ''::text NOT NULL,
    email citext,
    phone text,
    locale text NOT NULL,
    came_at timestamp with time zone NOT NULL,
    receipt_hash bytea NOT NULL,
    code_hash bytea,
    code_asked_at timestamp with time zone,
    code_tries integer DEFAULT 0 NOT NULL,
    confirmed_at timestamp with time zone,
    outcome text,
    dealt_at timestamp with time zone,
    dealt_by_id uuid,
    client_id uuid,
    item_id uuid,
    CONSTRAINT public_answer_check CHECK ((((outcome IS NULL) = (dealt_at IS NULL)) AND ((outcome IS NULL) = (dealt_by_id IS NULL)))),
    CONSTRAINT public_answer_check1 CHECK ((((outcome = ANY (ARRAY['client'::text, 'joined'::text])) = (client_id IS NOT NULL)) OR (outcome IS NULL))),
    CONSTRAINT public_answer_locale_check CHECK ((locale = ANY (ARRAY['en'::text, 'fr'::text]))),
    CONSTRAINT public_answer_outcome_check CHECK ((outcome = ANY (ARRAY['client'::text, 'joined'::text, 'kept'::text, 'put_away'::text])))
);

COMMENT ON TABLE public_answer IS 'What somebody answered on a public page';

COMMENT ON COLUMN public_answer.once IS 'Which opening of the page it came from: sent twice, it is one answer';

COMMENT ON COLUMN public_answer.receipt_hash IS 'Of the address that whoever answered was led to; with it a copy is asked for';

COMMENT ON COLUMN public_answer.confirmed_at IS 'When they proved by a code that the address is theirs';

CREATE TABLE public_file (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    answer_id uuid NOT NULL,
    slot text NOT NULL,
    name text NOT NULL,
    bytes bigint NOT NULL,
    sha256 bytea NOT NULL,
    content_type text NOT NULL,
    storage_key text NOT NULL,
    added_at timestamp with time zone NOT NULL
);

COMMENT ON TABLE public_file IS 'A file that somebody added to their answers on a public page';

COMMENT ON COLUMN public_file.slot IS 'The key of the question that it answers';

CREATE TABLE public_page (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    questionnaire_id uuid NOT NULL,
    name text NOT NULL,
    sites text[] DEFAULT '{}'::text[] NOT NULL,
    who text NOT NULL,
    thanks text DEFAULT ''::text NOT NULL,
    opened_by_id uuid NOT NULL,
    opened_at timestamp with time zone NOT NULL,
    closed_at timestamp with time zone,
    CONSTRAINT public_page_name_check CHECK (((name ~ '^[a-z0-9]+(-[a-z0-9]+)*$'::text) AND (length(name) <= 60))),
    CONSTRAINT public_page_who_check CHECK ((who = ANY (ARRAY['asked'::text, 'optional'::text])))
);

COMMENT ON TABLE public_page IS 'The page on which anybody answers a questionnaire';

COMMENT ON COLUMN public_page.name IS 'The last part of its address';

COMMENT ON COLUMN public_page.sites IS 'Origins of the websites that may show it in a frame';

COMMENT ON COLUMN public_page.who IS 'Whether whoever answers must say who they are';

CREATE TABLE questionnaire (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    about text DEFAULT ''::text NOT NULL,
    questions jsonb NOT NULL,
    files boolean DEFAULT false NOT NULL,
    year integer,
    before_id uuid,
    version integer DEFAULT 1 NOT NULL,
    made_by_id uuid NOT NULL,
    made_at timestamp with time zone NOT NULL,
    changed_by_id uuid NOT NULL,
    changed_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    signed boolean DEFAULT false NOT NULL,
    ends jsonb DEFAULT '[]'::jsonb NOT NULL,
    chase_plan text,
    CONSTRAINT questionnaire_year_check CHECK (((year >= 1990) AND (year <= 2200)))
);

COMMENT ON TABLE questionnaire IS 'A questionnaire of the Library; what is asked with it is copied into the item';

COMMENT ON COLUMN questionnaire.year IS 'The year it asks about, where there is one for every year';

COMMENT ON COLUMN questionnaire.before_id IS 'The one of the year before, whose answers are proposed';

COMMENT ON COLUMN questionnaire.chase_plan IS 'By which plan it is chased where it is asked; null as its list, the client or the firm has it';

CREATE TABLE questionnaire_version (
    firm_id uuid NOT NULL,
    questionnaire_id uuid NOT NULL,
    version integer NOT NULL,
    content jsonb NOT NULL,
    kept_at timestamp with time zone NOT NULL,
    kept_by_id uuid NOT NULL
);

COMMENT ON TABLE questionnaire_version IS 'A former version of a questionnaire';

CREATE UNLOGGED TABLE rate_limit (
    key character varying(255) NOT NULL,
    points integer DEFAULT 0 NOT NULL,
    expire bigint
);

COMMENT ON TABLE rate_limit IS 'How often something was tried lately; the table of the package rate-limiter-flexible';

CREATE TABLE recovery_code (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    staff_id uuid,
    contact_id uuid,
    hash bytea,
    made_at timestamp with time zone NOT NULL,
    used_at timestamp with time zone,
    slow_hash text,
    CONSTRAINT recovery_code_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL))),
    CONSTRAINT recovery_code_hashed CHECK (((hash IS NULL) <> (slow_hash IS NULL)))
);

COMMENT ON TABLE recovery_code IS 'One-time codes for whoever lost their second step, hashed';

CREATE TABLE recurring_occurrence (
    firm_id uuid NOT NULL,
    recurring_id uuid NOT NULL,
    rule_day date NOT NULL,
    outcome text NOT NULL,
    request_id uuid,
    at timestamp with time zone NOT NULL,
    CONSTRAINT recurring_occurrence_outcome_check CHECK ((outcome = ANY (ARRAY['made'::text, 'skipped'::text, 'passed_over'::text])))
);

COMMENT ON TABLE recurring_occurrence IS 'What became of each occurrence of a recurring request';

CREATE TABLE recurring_request (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    others uuid[] DEFAULT '{}'::uuid[] NOT NULL,
    list_id uuid,
    title text NOT NULL,
    message text NOT NULL,
    lines jsonb NOT NULL,
    rule text NOT NULL,
    pattern jsonb,
    starts_on date NOT NULL,
    ends_on date,
    appears_at text NOT NULL,
    roll text NOT NULL,
    period_kind text NOT NULL,
    period_shift integer NOT NULL,
    skipped date[] DEFAULT '{}'::date[] NOT NULL,
    moved jsonb DEFAULT '{}'::jsonb NOT NULL,
    quiet boolean DEFAULT false NOT NULL,
    catch_up text DEFAULT 'last'::text NOT NULL,
    state text DEFAULT 'running'::text NOT NULL,
    state_reason text,
    resumed_at timestamp with time zone,
    done_through date,
    next_rule_day date,
    next_at timestamp with time zone,
    problem text,
    made_by_id uuid NOT NULL,
    made_at timestamp with time zone NOT NULL,
    changed_by_id uuid NOT NULL,
    changed_at timestamp with time zone NOT NULL,
    version integer DEFAULT 1 NOT NULL,
    resumes_on date,
    times smallint,
    after_letters uuid[] DEFAULT '{}'::uuid[] NOT NULL,
    CONSTRAINT recurring_request_catch_up_check CHECK ((catch_up = ANY (ARRAY['all'::text, 'last'::text, 'none'::text]))),
    CONSTRAINT recurring_request_period_kind_check CHECK ((period_kind = ANY (ARRAY['none'::text, 'week'::text, 'month'::text, 'quarter'::text, 'year'::text]))),
    CONSTRAINT recurring_request_state_check CHECK ((state = ANY (ARRAY['running'::text, 'paused'::text, 'ended'::text]))),
    CONSTRAINT recurring_request_times_check CHECK (((times >= 1) AND (times <= 999))),
    CONSTRAINT recurring_request_waits_paused CHECK (((after_letters = '{}'::uuid[]) OR (state = 'paused'::text)))
);

COMMENT ON TABLE recurring_request IS 'A request that is made again and again by a rule (RFC 5545)';

COMMENT ON COLUMN recurring_request.done_through IS 'The last day of the rule that has been dealt with';

COMMENT ON COLUMN recurring_request.next_at IS 'When the next occurrence appears; null when none is to come';

COMMENT ON COLUMN recurring_request.after_letters IS 'The letters that all have to sign before it goes on; none: as its state and resumes_on say';

ALTER TABLE remark ALTER COLUMN number ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME remark_number_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE request (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    title text NOT NULL,
    idempotency_key uuid NOT NULL,
    created_by_id uuid,
    sent_at timestamp with time zone NOT NULL,
    list_id uuid,
    list_version integer,
    message text DEFAULT ''::text NOT NULL,
    quiet boolean DEFAULT false NOT NULL,
    withdrawn_at timestamp with time zone,
    recurring_id uuid,
    period_kind text,
    period_from date,
    period_to date,
    raised_by_id uuid
);

COMMENT ON TABLE request IS 'What was asked of a client at one time: a title, a message and items';

COMMENT ON COLUMN request.idempotency_key IS 'Given by the page that sends: pressed twice, it is sent once';

CREATE TABLE request_announcement (
    firm_id uuid NOT NULL,
    request_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    told_at timestamp with time zone,
    message text
);

COMMENT ON TABLE request_announcement IS 'Who is still to be told of a request, in one message a day';

COMMENT ON COLUMN request_announcement.message IS 'What this person is told; null for what everybody is told of the request';

CREATE TABLE request_draft (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    list_id uuid,
    list_version integer,
    title text NOT NULL,
    content jsonb NOT NULL,
    lines integer NOT NULL,
    waits boolean DEFAULT false NOT NULL,
    run_id uuid,
    made_by_id uuid NOT NULL,
    made_at timestamp with time zone NOT NULL,
    changed_by_id uuid NOT NULL,
    changed_at timestamp with time zone NOT NULL,
    version integer DEFAULT 1 NOT NULL,
    problem text,
    before jsonb,
    removed_at timestamp with time zone,
    place bigint NOT NULL,
    after_letters uuid[] DEFAULT '{}'::uuid[] NOT NULL,
    sheet_line integer
);
ALTER TABLE ONLY request_draft ALTER COLUMN content SET COMPRESSION lz4;

COMMENT ON TABLE request_draft IS 'A request that was not sent yet';

COMMENT ON COLUMN request_draft.after_letters IS 'The letters that all have to sign before it goes by itself; none: a person sends it';

COMMENT ON COLUMN request_draft.sheet_line IS 'The row of the file that it was made from, where its run is a file';

ALTER TABLE request_draft ALTER COLUMN place ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME request_draft_place_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE request_list (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    about text DEFAULT ''::text NOT NULL,
    title text NOT NULL,
    message text DEFAULT ''::text NOT NULL,
    folder text DEFAULT ''::text NOT NULL,
    tags text[] DEFAULT '{}'::text[] NOT NULL,
    shared text DEFAULT 'all'::text NOT NULL,
    group_id uuid,
    lines jsonb NOT NULL,
    goes_by_itself boolean DEFAULT false NOT NULL,
    services text[] DEFAULT '{}'::text[] NOT NULL,
    made_by_id uuid NOT NULL,
    made_at timestamp with time zone NOT NULL,
    changed_by_id uuid NOT NULL,
    changed_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    version integer DEFAULT 1 NOT NULL,
    chase_plan text,
    letters_first boolean DEFAULT false NOT NULL,
    CONSTRAINT request_list_shared_check CHECK ((shared = ANY (ARRAY['all'::text, 'group'::text, 'person'::text])))
);

COMMENT ON TABLE request_list IS 'A list of the Library from which requests are made';

COMMENT ON COLUMN request_list.letters_first IS 'Its other lines go once its letters are signed by all';

CREATE TABLE request_list_version (
    firm_id uuid NOT NULL,
    list_id uuid NOT NULL,
    version integer NOT NULL,
    content jsonb NOT NULL,
    kept_at timestamp with time zone NOT NULL,
    kept_by_id uuid NOT NULL
);

COMMENT ON TABLE request_list_version IS 'A former version of a list';

CREATE TABLE seal_certificate (
    firm_id uuid NOT NULL,
    root_pem text NOT NULL,
    leaf_pem text NOT NULL,
    encrypted_key bytea NOT NULL,
    created_at timestamp with time zone NOT NULL
);

COMMENT ON TABLE seal_certificate IS 'The certificate and the encrypted key with which the firm''s letters are sealed';

CREATE TABLE service (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    "position" integer NOT NULL,
    created_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    fee text,
    fee_every text DEFAULT 'month'::text NOT NULL,
    chase_plan text,
    CONSTRAINT service_fee_check CHECK ((fee ~ '^\d{1,12}(\.\d{1,4})?$'::text)),
    CONSTRAINT service_fee_every_check CHECK ((fee_every = ANY (ARRAY['month'::text, 'quarter'::text, 'year'::text, 'once'::text, 'hour'::text])))
);

COMMENT ON TABLE service IS 'A service the firm offers';

COMMENT ON COLUMN service.fee IS 'What it usually costs, in the currency of the firm, with a point; null where that is agreed each time';

COMMENT ON COLUMN service.fee_every IS 'How often its fee falls due';

COMMENT ON COLUMN service.chase_plan IS 'By which plan what is asked for it is chased; null as the firm has it';

CREATE TABLE sign_in_step (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    staff_id uuid,
    contact_id uuid,
    kind text NOT NULL,
    token_hash bytea NOT NULL,
    code_hash bytea,
    challenge text,
    tries integer DEFAULT 0 NOT NULL,
    begun_at timestamp with time zone NOT NULL,
    expires_at timestamp with time zone NOT NULL,
    done_at timestamp with time zone,
    CONSTRAINT sign_in_step_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL))),
    CONSTRAINT sign_in_step_kind_check CHECK ((kind = ANY (ARRAY['second'::text, 'mailed'::text])))
);

COMMENT ON TABLE sign_in_step IS 'A sign-in that waits for its second step';

COMMENT ON COLUMN sign_in_step.tries IS 'Wrong codes so far';

CREATE TABLE signature (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    letter_id uuid NOT NULL,
    rank integer NOT NULL,
    contact_id uuid,
    staff_id uuid,
    name text NOT NULL,
    email text NOT NULL,
    mark jsonb NOT NULL,
    consent text NOT NULL,
    signed_at timestamp with time zone NOT NULL,
    ip text NOT NULL,
    user_agent text NOT NULL,
    filled jsonb DEFAULT '{}'::jsonb NOT NULL,
    signed_by_way text DEFAULT 'portal'::text NOT NULL,
    scan_key text,
    scan_sha256 bytea,
    CONSTRAINT signature_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL))),
    CONSTRAINT signature_check1 CHECK (((scan_key IS NULL) = (scan_sha256 IS NULL))),
    CONSTRAINT signature_signed_by_way_check CHECK ((signed_by_way = ANY (ARRAY['portal'::text, 'link'::text, 'link_mail'::text, 'link_text'::text, 'link_check'::text])))
);

COMMENT ON TABLE signature IS 'A signature on a letter, with consent, time, address and browser';

COMMENT ON COLUMN signature.filled IS 'What they wrote into their places, by label';

COMMENT ON COLUMN signature.signed_by_way IS 'How whoever signed had come to it, where they are of the client';

COMMENT ON COLUMN signature.scan_key IS 'Where the pages are that were signed by hand, as they stand in the sealed letter; null for who signed here';

CREATE TABLE signed_answers (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    item_id uuid NOT NULL,
    contact_id uuid NOT NULL,
    name text NOT NULL,
    email text NOT NULL,
    mark jsonb NOT NULL,
    consent text NOT NULL,
    signed_at timestamp with time zone NOT NULL,
    ip text NOT NULL,
    user_agent text NOT NULL,
    locale text NOT NULL,
    title text NOT NULL,
    questions jsonb NOT NULL,
    answers jsonb NOT NULL,
    unknown text[] NOT NULL,
    sealed_key text,
    sealed_sha256 bytea,
    sealed_at timestamp with time zone,
    CONSTRAINT signed_answers_check CHECK ((((sealed_key IS NULL) = (sealed_at IS NULL)) AND ((sealed_key IS NULL) = (sealed_sha256 IS NULL))))
);

COMMENT ON TABLE signed_answers IS 'Answers to a questionnaire as somebody signed them, with the sealed file';

CREATE TABLE staff (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    email citext NOT NULL,
    role text NOT NULL,
    password_hash text,
    suspended_at timestamp with time zone,
    last_looked_at timestamp with time zone,
    created_at timestamp with time zone NOT NULL,
    practice_of_id uuid,
    rounds_only_mine boolean DEFAULT false NOT NULL,
    CONSTRAINT staff_practice_no_password CHECK (((practice_of_id IS NULL) OR (password_hash IS NULL))),
    CONSTRAINT staff_role_check CHECK ((role = ANY (ARRAY['administrator'::text, 'partner'::text, 'coordinator'::text, 'bookkeeper'::text, 'filing'::text])))
);

COMMENT ON TABLE staff IS 'Somebody of the firm';

CREATE TABLE staff_feed (
    staff_id uuid NOT NULL,
    firm_id uuid NOT NULL,
    id uuid NOT NULL,
    token_hash bytea NOT NULL,
    made_at timestamp with time zone NOT NULL
);

COMMENT ON TABLE staff_feed IS 'The secret address of somebody''s calendar of what is due; another one ends the one before';

CREATE TABLE staff_group (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    name text NOT NULL,
    created_at timestamp with time zone NOT NULL
);

COMMENT ON TABLE staff_group IS 'A group of the firm''s people, who share texts and lists';

CREATE TABLE staff_group_member (
    firm_id uuid NOT NULL,
    group_id uuid NOT NULL,
    staff_id uuid NOT NULL
);

COMMENT ON TABLE staff_group_member IS 'Who belongs to a group';

CREATE TABLE staff_telling (
    staff_id uuid NOT NULL,
    firm_id uuid NOT NULL,
    settings jsonb,
    summary_at timestamp with time zone NOT NULL,
    told_at timestamp with time zone NOT NULL,
    at_once_at timestamp with time zone
);

COMMENT ON TABLE staff_telling IS 'What somebody of the firm is told by mail, and up to when they have been';

COMMENT ON COLUMN staff_telling.settings IS 'As they chose; null: as the firm usually does it';

COMMENT ON COLUMN staff_telling.summary_at IS 'When the last summary was due or made, or when they first chose: the next tells what came after';

COMMENT ON COLUMN staff_telling.told_at IS 'Up to when they have been told at once';

COMMENT ON COLUMN staff_telling.at_once_at IS 'When something was told at once last';

CREATE TABLE staff_told_client (
    staff_id uuid NOT NULL,
    client_id uuid NOT NULL,
    firm_id uuid NOT NULL,
    told boolean NOT NULL
);

COMMENT ON TABLE staff_told_client IS 'A client of whom somebody of the firm is told though they are told of others only, or the other way round';

CREATE TABLE statement_label (
    firm_id uuid NOT NULL,
    institution text NOT NULL,
    value text NOT NULL,
    label text NOT NULL,
    taught_by_id uuid NOT NULL,
    taught_at timestamp with time zone NOT NULL,
    CONSTRAINT statement_label_institution_check CHECK (((length(institution) >= 1) AND (length(institution) <= 80))),
    CONSTRAINT statement_label_label_check CHECK (((length(label) >= 3) AND (length(label) <= 80))),
    CONSTRAINT statement_label_value_check CHECK ((value = ANY (ARRAY['opening'::text, 'closing'::text])))
);

COMMENT ON TABLE statement_label IS 'What a balance is called on the statements of an institution, beside the words that are known anyway';

CREATE VIEW stopped_signer WITH (security_invoker='true') AS
 SELECT s.id,
    s.firm_id,
    s.client_id,
    s.item_id,
    s.name,
    s.check_stopped_at
   FROM (letter_signer s
     JOIN letter l ON ((l.id = s.letter_id)))
  WHERE ((s.check_stopped_at IS NOT NULL) AND (s.state = 'asked'::text) AND (l.state = ANY (ARRAY['sent'::text, 'signed'::text])));

COMMENT ON VIEW stopped_signer IS 'Who is asked to sign a letter and cannot go on: they did not show who they are';

CREATE TABLE transaction_file (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    account_id uuid,
    name text NOT NULL,
    format text NOT NULL,
    header text[] NOT NULL,
    reading jsonb NOT NULL,
    lines integer NOT NULL,
    unread integer NOT NULL,
    unread_lines jsonb DEFAULT '[]'::jsonb NOT NULL,
    storage_key text NOT NULL,
    brought_by_id uuid NOT NULL,
    brought_at timestamp with time zone NOT NULL,
    CONSTRAINT transaction_file_format_check CHECK ((format = ANY (ARRAY['csv'::text, 'ofx'::text, 'qif'::text, 'camt'::text, 'mt940'::text])))
);

COMMENT ON TABLE transaction_file IS 'A file of transactions from a bank or a ledger';

CREATE VIEW stored_file AS
 SELECT paper.firm_id,
    paper.storage_key,
    paper.sha256
   FROM paper
  WHERE (paper.destroyed_at IS NULL)
UNION ALL
 SELECT letter.firm_id,
    letter.storage_key,
    letter.sha256
   FROM letter
UNION ALL
 SELECT letter.firm_id,
    letter.sealed_key AS storage_key,
    letter.sealed_sha256 AS sha256
   FROM letter
  WHERE (letter.sealed_key IS NOT NULL)
UNION ALL
 SELECT signed_answers.firm_id,
    signed_answers.sealed_key AS storage_key,
    signed_answers.sealed_sha256 AS sha256
   FROM signed_answers
  WHERE (signed_answers.sealed_key IS NOT NULL)
UNION ALL
 SELECT attachment.firm_id,
    attachment.storage_key,
    attachment.sha256
   FROM attachment
UNION ALL
 SELECT attachment.firm_id,
    (attachment.first_page)::text AS storage_key,
    NULL::bytea AS sha256
   FROM attachment
  WHERE (attachment.first_page IS NOT NULL)
UNION ALL
 SELECT transaction_file.firm_id,
    transaction_file.storage_key,
    NULL::bytea AS sha256
   FROM transaction_file
UNION ALL
 SELECT public_file.firm_id,
    public_file.storage_key,
    public_file.sha256
   FROM public_file
UNION ALL
 SELECT signature.firm_id,
    signature.scan_key AS storage_key,
    signature.scan_sha256 AS sha256
   FROM signature
  WHERE (signature.scan_key IS NOT NULL);

COMMENT ON VIEW stored_file IS 'Every file in the store that a row refers to, with its hash';

CREATE TABLE task (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    item_id uuid,
    once text NOT NULL,
    words text NOT NULL,
    because text NOT NULL,
    staff_id uuid NOT NULL,
    made_at timestamp with time zone NOT NULL,
    done_at timestamp with time zone,
    done_by_id uuid,
    CONSTRAINT task_check CHECK (((done_at IS NULL) = (done_by_id IS NULL)))
);

COMMENT ON TABLE task IS 'Something for a person of the firm to do about a client';

COMMENT ON COLUMN task.because IS 'The question whose answer brought it about';

CREATE TABLE text_factor (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    staff_id uuid,
    contact_id uuid,
    phone text NOT NULL,
    begun_at timestamp with time zone NOT NULL,
    expires_at timestamp with time zone NOT NULL,
    confirmed_at timestamp with time zone,
    code_hash bytea,
    tries integer DEFAULT 0 NOT NULL,
    CONSTRAINT text_factor_check CHECK (((staff_id IS NULL) <> (contact_id IS NULL))),
    CONSTRAINT text_factor_phone_check CHECK ((phone ~ '^\+[1-9][0-9]{6,14}$'::text))
);

COMMENT ON TABLE text_factor IS 'A phone number as somebody''s second step';

CREATE VIEW tied_person WITH (security_invoker='true') AS
 SELECT client_contact.contact_id,
    client_contact.client_id
   FROM client_contact
UNION ALL
 SELECT outside_signer.contact_id,
    outside_signer.client_id
   FROM outside_signer;

COMMENT ON VIEW tied_person IS 'Whom the firm knows through which client, of it or signing for it from outside; read by functions that ask the right';

CREATE TABLE transaction_line (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    client_id uuid NOT NULL,
    file_id uuid NOT NULL,
    "position" integer NOT NULL,
    day date NOT NULL,
    amount numeric(19,6) NOT NULL,
    currency text NOT NULL,
    who text NOT NULL,
    words text NOT NULL,
    category text NOT NULL,
    uncategorised boolean NOT NULL,
    reference text NOT NULL,
    document text,
    account text NOT NULL,
    original text[] NOT NULL,
    identity text NOT NULL,
    content text NOT NULL,
    asked_item_id uuid,
    wants_paper boolean GENERATED ALWAYS AS (
CASE
    WHEN (document IS NULL) THEN (amount < (0)::numeric)
    ELSE (document = ''::text)
END) STORED NOT NULL
);

COMMENT ON TABLE transaction_line IS 'One transaction of such a file';

COMMENT ON COLUMN transaction_line.identity IS 'By the reference of the bank, or without one by the content: a line that comes twice has the same';

COMMENT ON COLUMN transaction_line.content IS 'By account, day, amount and words: what may be the same payment';

COMMENT ON COLUMN transaction_line.wants_paper IS 'Nothing in the file names a document for it: the ledger’s own place is empty, or a bank paid and has no such place';

CREATE TABLE unfinished_upload (
    id uuid NOT NULL,
    firm_id uuid NOT NULL,
    contact_id uuid,
    bytes bigint NOT NULL,
    begun_at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    staff_id uuid,
    CONSTRAINT unfinished_upload_whose CHECK ((num_nonnulls(contact_id, staff_id) = 1))
);

COMMENT ON TABLE unfinished_upload IS 'An upload that was begun and not finished';

COMMENT ON COLUMN unfinished_upload.contact_id IS 'Who of a client began it; null for somebody of the firm';

COMMENT ON COLUMN unfinished_upload.staff_id IS 'Who of the firm began it; null for somebody of a client';

CREATE TABLE worker_beat (
    worker text NOT NULL,
    at timestamp with time zone NOT NULL
);

COMMENT ON TABLE worker_beat IS 'When each worker last said that it is alive';

ALTER TABLE ONLY account
    ADD CONSTRAINT account_pkey PRIMARY KEY (id);

ALTER TABLE ONLY answer_passed
    ADD CONSTRAINT answer_passed_pkey PRIMARY KEY (id);

ALTER TABLE ONLY ask_sheet
    ADD CONSTRAINT ask_sheet_pkey PRIMARY KEY (id);

ALTER TABLE ONLY attachment
    ADD CONSTRAINT attachment_pkey PRIMARY KEY (id);

ALTER TABLE ONLY authenticator
    ADD CONSTRAINT authenticator_pkey PRIMARY KEY (id);

ALTER TABLE ONLY brand
    ADD CONSTRAINT brand_pkey PRIMARY KEY (id);

ALTER TABLE ONLY chase_call
    ADD CONSTRAINT chase_call_pkey PRIMARY KEY (id);

ALTER TABLE ONLY chase_change
    ADD CONSTRAINT chase_change_pkey PRIMARY KEY (contact_id, on_day);

ALTER TABLE ONLY chase_hold
    ADD CONSTRAINT chase_hold_pkey PRIMARY KEY (id);

ALTER TABLE ONLY clearing
    ADD CONSTRAINT clearing_pkey PRIMARY KEY (table_name, kind);

ALTER TABLE ONLY client_contact
    ADD CONSTRAINT client_contact_pkey PRIMARY KEY (client_id, contact_id);

ALTER TABLE ONLY client_form
    ADD CONSTRAINT client_form_pkey PRIMARY KEY (id);

ALTER TABLE ONLY client_import
    ADD CONSTRAINT client_import_pkey PRIMARY KEY (id);

ALTER TABLE ONLY client_import_row
    ADD CONSTRAINT client_import_row_pkey PRIMARY KEY (import_id, line);

ALTER TABLE ONLY client_look
    ADD CONSTRAINT client_look_pkey PRIMARY KEY (staff_id, client_id);

ALTER TABLE ONLY client_note
    ADD CONSTRAINT client_note_pkey PRIMARY KEY (id);

ALTER TABLE ONLY client
    ADD CONSTRAINT client_pkey PRIMARY KEY (id);

ALTER TABLE ONLY client_summary
    ADD CONSTRAINT client_summary_pkey PRIMARY KEY (client_id);

ALTER TABLE ONLY contact_heard
    ADD CONSTRAINT contact_heard_pkey PRIMARY KEY (contact_id);

ALTER TABLE ONLY contact
    ADD CONSTRAINT contact_pkey PRIMARY KEY (id);

ALTER TABLE ONLY demo_clock
    ADD CONSTRAINT demo_clock_pkey PRIMARY KEY (one);

ALTER TABLE ONLY device
    ADD CONSTRAINT device_pkey PRIMARY KEY (id);

ALTER TABLE ONLY device
    ADD CONSTRAINT device_token_hash_key UNIQUE (token_hash);

ALTER TABLE ONLY engagement
    ADD CONSTRAINT engagement_pkey PRIMARY KEY (id);

ALTER TABLE ONLY engagement_service
    ADD CONSTRAINT engagement_service_pkey PRIMARY KEY (engagement_id, service_id);

ALTER TABLE ONLY event
    ADD CONSTRAINT event_pkey PRIMARY KEY (id);

ALTER TABLE ONLY fact_definition
    ADD CONSTRAINT fact_definition_pkey PRIMARY KEY (firm_id, name);

ALTER TABLE ONLY fact
    ADD CONSTRAINT fact_pkey PRIMARY KEY (id);

ALTER TABLE ONLY filing_rule
    ADD CONSTRAINT filing_rule_pkey PRIMARY KEY (id);

ALTER TABLE ONLY firm
    ADD CONSTRAINT firm_pkey PRIMARY KEY (id);

ALTER TABLE ONLY firm
    ADD CONSTRAINT firm_practice_of_key UNIQUE (practice_of_id);

ALTER TABLE ONLY firm
    ADD CONSTRAINT firm_slug_key UNIQUE (slug);

ALTER TABLE ONLY folder_contact
    ADD CONSTRAINT folder_contact_pkey PRIMARY KEY (folder_id, contact_id);

ALTER TABLE ONLY folder
    ADD CONSTRAINT folder_pkey PRIMARY KEY (id);

ALTER TABLE ONLY former_short_name
    ADD CONSTRAINT former_short_name_pkey PRIMARY KEY (slug);

ALTER TABLE ONLY holiday
    ADD CONSTRAINT holiday_pkey PRIMARY KEY (firm_id, day);

ALTER TABLE ONLY identity_check
    ADD CONSTRAINT identity_check_pkey PRIMARY KEY (id);

ALTER TABLE ONLY identity_service
    ADD CONSTRAINT identity_service_pkey PRIMARY KEY (one);

ALTER TABLE ONLY incoming_mail
    ADD CONSTRAINT incoming_mail_pkey PRIMARY KEY (id);

ALTER TABLE ONLY incoming_text
    ADD CONSTRAINT incoming_text_firm_id_gateway_id_key UNIQUE (firm_id, gateway_id);

ALTER TABLE ONLY incoming_text
    ADD CONSTRAINT incoming_text_pkey PRIMARY KEY (id);

ALTER TABLE ONLY invitation
    ADD CONSTRAINT invitation_pkey PRIMARY KEY (id);

ALTER TABLE ONLY invitation_run
    ADD CONSTRAINT invitation_run_pkey PRIMARY KEY (id);

ALTER TABLE ONLY invitation
    ADD CONSTRAINT invitation_token_hash_key UNIQUE (token_hash);

ALTER TABLE ONLY item_kind
    ADD CONSTRAINT item_kind_pkey PRIMARY KEY (name);

ALTER TABLE ONLY item
    ADD CONSTRAINT item_pkey PRIMARY KEY (id);

ALTER TABLE ONLY item_secret
    ADD CONSTRAINT item_secret_item_id_key UNIQUE (item_id);

ALTER TABLE ONLY item_secret
    ADD CONSTRAINT item_secret_pkey PRIMARY KEY (id);

ALTER TABLE ONLY legal_hold
    ADD CONSTRAINT legal_hold_pkey PRIMARY KEY (id);

ALTER TABLE ONLY letter
    ADD CONSTRAINT letter_item_id_key UNIQUE (item_id);

ALTER TABLE ONLY letter
    ADD CONSTRAINT letter_pkey PRIMARY KEY (id);

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_item_id_key UNIQUE (item_id);

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_letter_id_key_key UNIQUE (letter_id, key);

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_letter_id_position_key UNIQUE (letter_id, "position");

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_link_hash_key UNIQUE (link_hash);

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_pkey PRIMARY KEY (id);

ALTER TABLE ONLY letter_trail
    ADD CONSTRAINT letter_trail_pkey PRIMARY KEY (letter_id, number);

ALTER TABLE ONLY letter_visit
    ADD CONSTRAINT letter_visit_pkey PRIMARY KEY (id);

ALTER TABLE ONLY letter_visit
    ADD CONSTRAINT letter_visit_token_hash_key UNIQUE (token_hash);

ALTER TABLE ONLY line_paper
    ADD CONSTRAINT line_paper_client_id_identity_paper_id_key UNIQUE (client_id, identity, paper_id);

ALTER TABLE ONLY line_paper
    ADD CONSTRAINT line_paper_pkey PRIMARY KEY (id);

ALTER TABLE ONLY list_override
    ADD CONSTRAINT list_override_pkey PRIMARY KEY (client_id, list_id, line_key);

ALTER TABLE ONLY merge
    ADD CONSTRAINT merge_pkey PRIMARY KEY (id);

ALTER TABLE ONLY message
    ADD CONSTRAINT message_firm_id_idempotency_key_key UNIQUE (firm_id, idempotency_key);

ALTER TABLE ONLY message_item
    ADD CONSTRAINT message_item_pkey PRIMARY KEY (message_id, item_id);

ALTER TABLE ONLY message_kind
    ADD CONSTRAINT message_kind_pkey PRIMARY KEY (name);

ALTER TABLE ONLY message
    ADD CONSTRAINT message_message_id_key UNIQUE (message_id);

ALTER TABLE ONLY message
    ADD CONSTRAINT message_pkey PRIMARY KEY (id);

ALTER TABLE ONLY message_text
    ADD CONSTRAINT message_text_pkey PRIMARY KEY (id);

ALTER TABLE ONLY migration
    ADD CONSTRAINT migration_pkey PRIMARY KEY (name);

ALTER TABLE ONLY note_told
    ADD CONSTRAINT note_told_pkey PRIMARY KEY (note_id, staff_id);

ALTER TABLE ONLY outside_signer
    ADD CONSTRAINT outside_signer_pkey PRIMARY KEY (id);

ALTER TABLE ONLY paper_announcement
    ADD CONSTRAINT paper_announcement_pkey PRIMARY KEY (paper_id, contact_id);

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_pkey PRIMARY KEY (id);

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_storage_key_key UNIQUE (storage_key);

ALTER TABLE ONLY passkey_challenge
    ADD CONSTRAINT passkey_challenge_pkey PRIMARY KEY (id);

ALTER TABLE ONLY passkey
    ADD CONSTRAINT passkey_credential_id_key UNIQUE (credential_id);

ALTER TABLE ONLY passkey
    ADD CONSTRAINT passkey_pkey PRIMARY KEY (id);

ALTER TABLE ONLY password_reset
    ADD CONSTRAINT password_reset_pkey PRIMARY KEY (id);

ALTER TABLE ONLY password_reset
    ADD CONSTRAINT password_reset_token_hash_key UNIQUE (token_hash);

ALTER TABLE ONLY payment_authorisation
    ADD CONSTRAINT payment_authorisation_pkey PRIMARY KEY (id);

ALTER TABLE ONLY picture
    ADD CONSTRAINT picture_pkey PRIMARY KEY (firm_id, version);

ALTER TABLE ONLY portal_look
    ADD CONSTRAINT portal_look_pkey PRIMARY KEY (id);

ALTER TABLE ONLY portal_look
    ADD CONSTRAINT portal_look_token_hash_key UNIQUE (token_hash);

ALTER TABLE ONLY practice_clearing
    ADD CONSTRAINT practice_clearing_pkey PRIMARY KEY (id);

ALTER TABLE ONLY proposed_folder
    ADD CONSTRAINT proposed_folder_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public_answer
    ADD CONSTRAINT public_answer_firm_id_once_key UNIQUE (firm_id, once);

ALTER TABLE ONLY public_answer
    ADD CONSTRAINT public_answer_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public_answer
    ADD CONSTRAINT public_answer_receipt_hash_key UNIQUE (receipt_hash);

ALTER TABLE ONLY public_file
    ADD CONSTRAINT public_file_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public_page
    ADD CONSTRAINT public_page_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public_page
    ADD CONSTRAINT public_page_questionnaire_id_key UNIQUE (questionnaire_id);

ALTER TABLE ONLY questionnaire
    ADD CONSTRAINT questionnaire_pkey PRIMARY KEY (id);

ALTER TABLE ONLY questionnaire_version
    ADD CONSTRAINT questionnaire_version_pkey PRIMARY KEY (questionnaire_id, version);

ALTER TABLE ONLY rate_limit
    ADD CONSTRAINT rate_limit_pkey PRIMARY KEY (key);

ALTER TABLE ONLY recovery_code
    ADD CONSTRAINT recovery_code_pkey PRIMARY KEY (id);

ALTER TABLE ONLY recurring_occurrence
    ADD CONSTRAINT recurring_occurrence_pkey PRIMARY KEY (recurring_id, rule_day);

ALTER TABLE ONLY recurring_request
    ADD CONSTRAINT recurring_request_pkey PRIMARY KEY (id);

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_pkey PRIMARY KEY (id);

ALTER TABLE ONLY request_announcement
    ADD CONSTRAINT request_announcement_pkey PRIMARY KEY (request_id, contact_id);

ALTER TABLE ONLY request_draft
    ADD CONSTRAINT request_draft_pkey PRIMARY KEY (id);

ALTER TABLE ONLY request
    ADD CONSTRAINT request_firm_id_idempotency_key_key UNIQUE (firm_id, idempotency_key);

ALTER TABLE ONLY request_list
    ADD CONSTRAINT request_list_pkey PRIMARY KEY (id);

ALTER TABLE ONLY request_list_version
    ADD CONSTRAINT request_list_version_pkey PRIMARY KEY (list_id, version);

ALTER TABLE ONLY request
    ADD CONSTRAINT request_pkey PRIMARY KEY (id);

ALTER TABLE ONLY seal_certificate
    ADD CONSTRAINT seal_certificate_pkey PRIMARY KEY (firm_id);

ALTER TABLE ONLY service
    ADD CONSTRAINT service_pkey PRIMARY KEY (id);

ALTER TABLE ONLY session
    ADD CONSTRAINT session_pkey PRIMARY KEY (id);

ALTER TABLE ONLY session
    ADD CONSTRAINT session_previous_token_hash_key UNIQUE (previous_token_hash);

ALTER TABLE ONLY session
    ADD CONSTRAINT session_token_hash_key UNIQUE (token_hash);

ALTER TABLE ONLY sign_in_step
    ADD CONSTRAINT sign_in_step_pkey PRIMARY KEY (id);

ALTER TABLE ONLY sign_in_step
    ADD CONSTRAINT sign_in_step_token_hash_key UNIQUE (token_hash);

ALTER TABLE ONLY signature
    ADD CONSTRAINT signature_letter_id_rank_key UNIQUE (letter_id, rank);

ALTER TABLE ONLY signature
    ADD CONSTRAINT signature_pkey PRIMARY KEY (id);

ALTER TABLE ONLY signed_answers
    ADD CONSTRAINT signed_answers_pkey PRIMARY KEY (id);

ALTER TABLE ONLY staff_feed
    ADD CONSTRAINT staff_feed_pkey PRIMARY KEY (staff_id);

ALTER TABLE ONLY staff_feed
    ADD CONSTRAINT staff_feed_token_hash_key UNIQUE (token_hash);

ALTER TABLE ONLY staff_group_member
    ADD CONSTRAINT staff_group_member_pkey PRIMARY KEY (group_id, staff_id);

ALTER TABLE ONLY staff_group
    ADD CONSTRAINT staff_group_pkey PRIMARY KEY (id);

ALTER TABLE ONLY staff
    ADD CONSTRAINT staff_pkey PRIMARY KEY (id);

ALTER TABLE ONLY staff
    ADD CONSTRAINT staff_practice_of_key UNIQUE (practice_of_id);

ALTER TABLE ONLY staff_telling
    ADD CONSTRAINT staff_telling_pkey PRIMARY KEY (staff_id);

ALTER TABLE ONLY staff_told_client
    ADD CONSTRAINT staff_told_client_pkey PRIMARY KEY (staff_id, client_id);

ALTER TABLE ONLY statement_label
    ADD CONSTRAINT statement_label_pkey PRIMARY KEY (firm_id, institution, value, label);

ALTER TABLE ONLY statement
    ADD CONSTRAINT statement_pkey PRIMARY KEY (id);

ALTER TABLE ONLY task
    ADD CONSTRAINT task_firm_id_once_key UNIQUE (firm_id, once);

ALTER TABLE ONLY task
    ADD CONSTRAINT task_pkey PRIMARY KEY (id);

ALTER TABLE ONLY text_factor
    ADD CONSTRAINT text_factor_pkey PRIMARY KEY (id);

ALTER TABLE ONLY told_device
    ADD CONSTRAINT told_device_pkey PRIMARY KEY (device_id);

ALTER TABLE ONLY transaction_file
    ADD CONSTRAINT transaction_file_pkey PRIMARY KEY (id);

ALTER TABLE ONLY transaction_line
    ADD CONSTRAINT transaction_line_file_id_position_key UNIQUE (file_id, "position");

ALTER TABLE ONLY transaction_line
    ADD CONSTRAINT transaction_line_pkey PRIMARY KEY (id);

ALTER TABLE ONLY unfinished_upload
    ADD CONSTRAINT unfinished_upload_pkey PRIMARY KEY (id);

ALTER TABLE ONLY worker_beat
    ADD CONSTRAINT worker_beat_pkey PRIMARY KEY (worker);

CREATE INDEX account_by_client ON account USING btree (client_id);

CREATE INDEX answer_passed_by ON answer_passed USING btree (by_contact_id);

CREATE INDEX answer_passed_of_client ON answer_passed USING btree (client_id);

CREATE INDEX answer_passed_of_item ON answer_passed USING btree (item_id, passed_at);

CREATE INDEX answer_passed_to ON answer_passed USING btree (to_contact_id);

CREATE INDEX ask_sheet_by_age ON ask_sheet USING btree (firm_id, made_at);

CREATE INDEX ask_sheet_of_person ON ask_sheet USING btree (firm_id, made_by_id, made_at DESC);

CREATE INDEX attachment_by_firm ON attachment USING btree (firm_id, added_at);

CREATE UNIQUE INDEX authenticator_of_person ON authenticator USING btree (COALESCE(staff_id, contact_id), ((confirmed_at IS NULL)));

CREATE UNIQUE INDEX brand_by_name ON brand USING btree (firm_id, lower(name)) WHERE (ended_at IS NULL);

CREATE INDEX chase_call_by_staff ON chase_call USING btree (done_by_id) WHERE (done_by_id IS NOT NULL);

CREATE INDEX chase_call_of_contact ON chase_call USING btree (contact_id, made_at);

CREATE UNIQUE INDEX chase_call_open ON chase_call USING btree (client_id, contact_id, for_partner) WHERE (done_at IS NULL);

CREATE INDEX chase_call_waiting ON chase_call USING btree (firm_id, waits_from, made_at) WHERE (done_at IS NULL);

CREATE INDEX chase_change_by_staff ON chase_change USING btree (changed_by_id);

CREATE INDEX chase_change_of_firm ON chase_change USING btree (firm_id, on_day);

CREATE INDEX chase_hold_by_end ON chase_hold USING btree (firm_id, until) WHERE (ended_at IS NULL);

CREATE INDEX chase_hold_by_ends_item ON chase_hold USING btree (ends_item_id) WHERE (ends_item_id IS NOT NULL);

CREATE INDEX chase_hold_by_item ON chase_hold USING btree (item_id) WHERE (item_id IS NOT NULL);

CREATE INDEX chase_hold_by_request ON chase_hold USING btree (request_id) WHERE (request_id IS NOT NULL);

CREATE INDEX chase_hold_ends_with ON chase_hold USING btree (firm_id) WHERE ((ends_with IS NOT NULL) AND (happened_at IS NULL) AND (ended_at IS NULL));

CREATE UNIQUE INDEX chase_hold_of_client ON chase_hold USING btree (client_id, why) WHERE ((ended_at IS NULL) AND (client_id IS NOT NULL));

CREATE UNIQUE INDEX chase_hold_of_contact ON chase_hold USING btree (contact_id, why) WHERE ((ended_at IS NULL) AND (contact_id IS NOT NULL));

CREATE UNIQUE INDEX chase_hold_of_item ON chase_hold USING btree (item_id, why) WHERE ((ended_at IS NULL) AND (item_id IS NOT NULL));

CREATE UNIQUE INDEX chase_hold_of_request ON chase_hold USING btree (request_id, why) WHERE ((ended_at IS NULL) AND (request_id IS NOT NULL));

CREATE INDEX client_by_brand ON client USING btree (brand_id) WHERE (brand_id IS NOT NULL);

CREATE UNIQUE INDEX client_by_mail_key ON client USING btree (mail_key);

CREATE INDEX client_by_name ON client USING btree (firm_id, lower(name), id);

CREATE INDEX client_by_responsible ON client USING btree (firm_id, responsible_id);

CREATE INDEX client_closed ON client USING btree (firm_id) WHERE (state <> 'active'::text);

CREATE INDEX client_contact_by_contact ON client_contact USING btree (contact_id, client_id);

CREATE INDEX client_contact_by_rank ON client_contact USING btree (client_id, rank);

CREATE UNIQUE INDEX client_form_by_name ON client_form USING btree (firm_id, lower(name)) WHERE (ended_at IS NULL);

CREATE INDEX client_import_by_time ON client_import USING btree (firm_id, begun_at DESC);

CREATE INDEX client_import_row_by_outcome ON client_import_row USING btree (import_id, outcome, line);

CREATE INDEX client_import_trace_by_import ON client_import_trace USING btree (import_id, kind, client_id, contact_id);

CREATE INDEX client_look_by_time ON client_look USING btree (staff_id, at DESC);

CREATE INDEX client_name_parts ON client USING gin (lower(name) gin_trgm_ops);

CREATE INDEX client_note_by_client ON client_note USING btree (client_id, written_at DESC) WHERE (removed_at IS NULL);

CREATE INDEX client_note_by_item ON client_note USING btree (item_id, number) WHERE (item_id IS NOT NULL);

CREATE INDEX client_note_with ON client_note USING btree (with_contact_id, client_id, number) WHERE (with_contact_id IS NOT NULL);

CREATE INDEX client_plain_name ON client USING gin (plain_name gin_trgm_ops);

CREATE INDEX client_restricted ON client USING btree (firm_id) WHERE restricted;

CREATE INDEX client_right_by_group ON client_right USING btree (group_id) WHERE (group_id IS NOT NULL);

CREATE INDEX client_right_by_staff ON client_right USING btree (staff_id) WHERE (staff_id IS NOT NULL);

CREATE UNIQUE INDEX client_right_once ON client_right USING btree (client_id, COALESCE(staff_id, group_id));

CREATE INDEX client_summary_by_chase ON client_summary USING btree (firm_id, COALESCE(next_chase_on, '9999-12-31'::date), client_id) WHERE (state <> 'ended'::text);

CREATE INDEX client_summary_by_life ON client_summary USING btree (firm_id, COALESCE(last_sign_of_life, '0001-01-01 00:00:00+00'::timestamp with time zone), client_id) WHERE (state <> 'ended'::text);

CREATE INDEX client_summary_by_name ON client_summary USING btree (firm_id, lower(name), client_id) WHERE (state <> 'ended'::text);

CREATE INDEX client_summary_by_wait ON client_summary USING btree (firm_id, wait_key, client_id) WHERE (state <> 'ended'::text);

CREATE INDEX client_summary_ended ON client_summary USING btree (firm_id, lower(name), client_id) WHERE (state = 'ended'::text);

CREATE INDEX client_summary_to_look_at ON client_summary USING btree (firm_id, wait_key) WHERE ((to_look_at > 0) AND (state <> 'ended'::text));

CREATE UNIQUE INDEX contact_by_email ON contact USING btree (firm_id, email) WHERE (removed_at IS NULL);

CREATE INDEX contact_by_phone ON contact USING btree (phone) WHERE (phone IS NOT NULL);

CREATE INDEX contact_email_parts ON contact USING gin (lower((email)::text) gin_trgm_ops);

CREATE INDEX contact_heard_of_firm ON contact_heard USING btree (firm_id);

CREATE INDEX contact_name_parts ON contact USING gin (lower(name) gin_trgm_ops);

CREATE INDEX contact_phone_parts ON contact USING gin (phone gin_trgm_ops) WHERE (phone IS NOT NULL);

CREATE INDEX contact_plain_name ON contact USING gin (plain_name gin_trgm_ops);

CREATE INDEX contact_stopped_unseen ON contact USING btree (firm_id, stopped_at) WHERE ((mail_problem = 'opted_out'::text) AND (stopped_at IS NOT NULL) AND (stop_seen_at IS NULL));

CREATE INDEX contact_told_lately ON contact USING btree (firm_id, GREATEST(last_told_on, no_reminder_before)) WHERE ((last_told_on IS NOT NULL) OR (no_reminder_before IS NOT NULL));

CREATE INDEX contact_unreachable ON contact USING btree (firm_id) WHERE ((reminded_by = 'none'::text) OR (suspended_at IS NOT NULL));

CREATE INDEX contact_with_times ON contact USING btree (firm_id) WHERE (times IS NOT NULL);

CREATE INDEX contact_without_address ON contact USING btree (firm_id, created_at, id) WHERE ((mail_problem = 'no_address'::text) AND (removed_at IS NULL));

CREATE INDEX device_of_person ON device USING btree (COALESCE(staff_id, contact_id)) WHERE (forgotten_at IS NULL);

CREATE INDEX engagement_by_client ON engagement USING btree (client_id, began_on);

CREATE INDEX engagement_service_by_client ON engagement_service USING btree (client_id);

CREATE INDEX event_by_client ON event USING btree (client_id, id DESC);

CREATE INDEX event_by_contact ON event USING btree (actor_id, at) WHERE (actor_kind = 'contact'::text);

CREATE INDEX event_by_firm ON event USING btree (firm_id, id DESC);

CREATE INDEX event_by_item ON event USING btree (item_id, id) WHERE (item_id IS NOT NULL);

CREATE INDEX event_by_paper ON event USING btree (paper_id, id) WHERE (paper_id IS NOT NULL);

CREATE INDEX event_told ON event USING btree (firm_id, at) WHERE (actor_kind <> 'staff'::text);

CREATE INDEX fact_by_item ON fact USING btree (answers_item_id) WHERE (answers_item_id IS NOT NULL);

CREATE UNIQUE INDEX fact_current ON fact USING btree (client_id, name) WHERE (replaced_at IS NULL);

CREATE UNIQUE INDEX fact_definition_label ON fact_definition USING btree (firm_id, lower(label)) WHERE ((retired_at IS NULL) AND (merged_into IS NULL));

CREATE INDEX fact_history ON fact USING btree (client_id, name, said_at DESC);

CREATE INDEX fact_of_paper ON fact USING btree (paper_id) WHERE (paper_id IS NOT NULL);

CREATE INDEX fact_searched_parts ON fact USING gin (lower(value) gin_trgm_ops) WHERE (searched AND (replaced_at IS NULL));

CREATE INDEX fact_tax_number ON fact USING btree (firm_id, lower(value)) WHERE ((name = 'tax_number'::text) AND (replaced_at IS NULL));

CREATE UNIQUE INDEX filing_rule_of_account ON filing_rule USING btree (account_id) WHERE (off_at IS NULL);

CREATE INDEX filing_rule_of_client ON filing_rule USING btree (client_id);

CREATE INDEX filing_rule_of_contact ON filing_rule USING btree (contact_id) WHERE (contact_id IS NOT NULL);

CREATE INDEX filing_rule_of_folder ON filing_rule USING btree (folder_id) WHERE (folder_id IS NOT NULL);

CREATE UNIQUE INDEX folder_by_name ON folder USING btree (client_id, lower(name));

CREATE INDEX folder_contact_by_client ON folder_contact USING btree (client_id);

CREATE INDEX folder_contact_by_contact ON folder_contact USING btree (contact_id);

CREATE INDEX identity_check_of_signer ON identity_check USING btree (signer_id, begun_at);

CREATE INDEX identity_check_of_visit ON identity_check USING btree (visit_id);

CREATE INDEX identity_check_open ON identity_check USING btree (firm_id, begun_at) WHERE (outcome IS NULL);

CREATE INDEX incoming_mail_answering ON incoming_mail USING btree (answers_id) WHERE (answers_id IS NOT NULL);

CREATE INDEX incoming_mail_of_contact ON incoming_mail USING btree (contact_id) WHERE (contact_id IS NOT NULL);

CREATE UNIQUE INDEX incoming_mail_once ON incoming_mail USING btree (client_id, message_id);

CREATE INDEX incoming_mail_to_see ON incoming_mail USING btree (firm_id, came_at) WHERE ((answers_id IS NOT NULL) AND (seen_at IS NULL) AND (away OR (held IS NOT NULL)));

CREATE INDEX incoming_text_unseen ON incoming_text USING btree (firm_id, came_at) WHERE (seen_at IS NULL);

CREATE INDEX invitation_by_contact ON invitation USING btree (contact_id, sent_at DESC);

CREATE INDEX invitation_by_message ON invitation USING btree (message_id) WHERE (message_id IS NOT NULL);

CREATE INDEX invitation_by_run ON invitation USING btree (run_id, sent_at, id) WHERE (run_id IS NOT NULL);

CREATE INDEX invitation_chase_due ON invitation USING btree (firm_id, next_chase_on) WHERE ((next_chase_on IS NOT NULL) AND waits);

CREATE INDEX invitation_run_by_time ON invitation_run USING btree (firm_id, begun_at DESC);

CREATE INDEX invitation_waits ON invitation USING btree (firm_id, sent_at) WHERE waits;

CREATE INDEX item_booked ON item USING btree (firm_id, ((answer_data ->> 'time'::text))) WHERE (kind = 'book'::text);

CREATE INDEX item_by_account ON item USING btree (account_id, period_to) WHERE (account_id IS NOT NULL);

CREATE INDEX item_by_attachment ON item USING gin (attachments) WHERE (attachments <> '{}'::uuid[]);

CREATE INDEX item_by_client ON item USING btree (client_id, due_on, "position");

CREATE INDEX item_by_contact ON item USING btree (contact_id) WHERE (phase = 'open'::text);

CREATE INDEX item_by_request ON item USING btree (request_id, "position");

CREATE INDEX item_chase_due ON item USING btree (firm_id, next_chase_on, contact_id) WHERE (next_chase_on IS NOT NULL);

CREATE INDEX item_of_questionnaire ON item USING btree (questionnaire_id, questionnaire_version) WHERE (questionnaire_id IS NOT NULL);

CREATE INDEX item_open_by_client ON item USING btree (client_id, due_on, "position") WHERE (phase = 'open'::text);

CREATE INDEX item_open_by_due ON item USING btree (firm_id, due_on) WHERE (phase = 'open'::text);

CREATE INDEX item_open_by_request ON item USING btree (request_id, due_on, "position") WHERE (phase = 'open'::text);

CREATE INDEX item_plain_title ON item USING gin (plain(title) gin_trgm_ops);

CREATE INDEX item_ran_out ON item USING btree (firm_id, client_id) WHERE ((phase = 'open'::text) AND (next_chase_on IS NULL) AND ((due_on IS NOT NULL) OR (chased_turn > 0)) AND (NOT asks_us));

CREATE INDEX item_secret_by_expiry ON item_secret USING btree (expires_at);

CREATE INDEX item_to_look_at ON item USING btree (firm_id, state_at) WHERE (phase = 'to_look_at'::text);

CREATE INDEX legal_hold_by_firm ON legal_hold USING btree (firm_id, set_at DESC);

CREATE INDEX legal_hold_of_client ON legal_hold USING btree (client_id) WHERE (ended_at IS NULL);

CREATE INDEX letter_lapsing ON letter USING btree (firm_id, lapses_on) WHERE ((state = 'sent'::text) AND (lapses_on IS NOT NULL));

CREATE UNIQUE INDEX letter_replaced_once ON letter USING btree (replaces_id) WHERE (replaces_id IS NOT NULL);

CREATE INDEX letter_signer_check_stopped ON letter_signer USING btree (firm_id, check_stopped_at) WHERE (check_stopped_at IS NOT NULL);

CREATE INDEX letter_signer_of_client ON letter_signer USING btree (client_id);

CREATE INDEX letter_signer_of_contact ON letter_signer USING btree (contact_id);

CREATE INDEX letter_signer_of_staff ON letter_signer USING btree (staff_id);

CREATE INDEX letter_signer_on_paper ON letter_signer USING btree (firm_id, on_paper_at) WHERE ((on_paper_at IS NOT NULL) AND (state = 'asked'::text));

CREATE INDEX letter_to_countersign ON letter USING btree (firm_id) WHERE (state = 'signed'::text);

CREATE INDEX letter_visit_of_signer ON letter_visit USING btree (signer_id);

CREATE INDEX line_paper_by_paper ON line_paper USING btree (paper_id);

CREATE INDEX merge_of_kept ON merge USING btree (keep_id, at DESC);

CREATE INDEX message_by_contact ON message USING btree (contact_id, planned_at DESC);

CREATE INDEX message_by_time ON message USING btree (firm_id, planned_at DESC, id DESC);

CREATE INDEX message_item_by_item ON message_item USING btree (item_id);

CREATE INDEX message_of_public_answer ON message USING btree (public_answer_id) WHERE (public_answer_id IS NOT NULL);

CREATE INDEX message_planned ON message USING btree (planned_at) WHERE (state = 'planned'::text);

CREATE INDEX message_sending ON message USING btree (sending_since) WHERE (state = 'sending'::text);

CREATE INDEX message_text_by_name ON message_text USING btree (firm_id, kind, lower(name));

CREATE INDEX message_text_by_number ON message USING btree (to_address, planned_at DESC) WHERE (channel = 'text'::text);

CREATE UNIQUE INDEX message_text_in_use ON message_text USING btree (firm_id, kind, language) WHERE in_use;

CREATE INDEX message_trouble ON message USING btree (firm_id) WHERE ((state = ANY (ARRAY['failed'::text, 'unclear'::text])) AND (seen_by_staff_at IS NULL));

CREATE INDEX note_told_waiting ON note_told USING btree (staff_id, told_at) WHERE (seen_at IS NULL);

CREATE INDEX outside_signer_by_contact ON outside_signer USING btree (contact_id, client_id);

CREATE INDEX outside_signer_of_client ON outside_signer USING btree (client_id, contact_id);

CREATE INDEX paper_announcement_by_contact ON paper_announcement USING btree (contact_id);

CREATE INDEX paper_announcement_due ON paper_announcement USING btree (firm_id, contact_id) WHERE (told_at IS NULL);

CREATE INDEX paper_arranged_from ON paper USING btree (arranged_from) WHERE (arranged_from IS NOT NULL);

CREATE INDEX paper_arranged_in ON paper USING btree (arranged_in) WHERE (arranged_in IS NOT NULL);

CREATE INDEX paper_by_client ON paper USING btree (client_id, uploaded_at DESC);

CREATE INDEX paper_by_item ON paper USING btree (item_id, uploaded_at);

CREATE INDEX paper_by_rule ON paper USING btree (filed_by_rule_id) WHERE (filed_by_rule_id IS NOT NULL);

CREATE INDEX paper_destroyed ON paper USING btree (firm_id, destroyed_at DESC) WHERE (destroyed_at IS NOT NULL);

CREATE INDEX paper_kept_apart ON paper USING btree (firm_id, scanned_at) WHERE ((scan = ANY (ARRAY['found'::text, 'too_large'::text])) AND (removed_at IS NULL));

CREATE INDEX paper_of_firm ON paper USING btree (firm_id, uploaded_at DESC, id DESC) WHERE ((removed_at IS NULL) AND (newer_id IS NULL));

CREATE INDEX paper_of_folder ON paper USING btree (folder_id) WHERE (folder_id IS NOT NULL);

CREATE INDEX paper_of_mail ON paper USING btree (mail_id) WHERE (mail_id IS NOT NULL);

CREATE INDEX paper_of_newer ON paper USING btree (newer_id) WHERE (newer_id IS NOT NULL);

CREATE INDEX paper_plain_name ON paper USING gin (plain(name) gin_trgm_ops) WHERE (removed_at IS NULL);

CREATE INDEX paper_search ON paper USING gin (search) WHERE (removed_at IS NULL);

CREATE INDEX paper_shown_to ON paper USING btree (client_id) WHERE (shown_at IS NOT NULL);

CREATE INDEX paper_to_be_destroyed ON paper USING btree (firm_id, destroy_on) WHERE ((destroy_on IS NOT NULL) AND (destroyed_at IS NULL));

CREATE INDEX paper_unasked ON paper USING btree (firm_id, uploaded_at DESC) WHERE unasked;

CREATE INDEX paper_unscanned ON paper USING btree (firm_id, uploaded_at, id) WHERE ((scan IS NULL) AND (removed_at IS NULL));

CREATE INDEX paper_waiting ON paper USING btree (firm_id, uploaded_at, id) WHERE waits;

CREATE INDEX passkey_challenge_by_expiry ON passkey_challenge USING btree (expires_at);

CREATE INDEX passkey_of_person ON passkey USING btree (COALESCE(staff_id, contact_id));

CREATE INDEX payment_authorisation_by_time ON payment_authorisation USING btree (firm_id, given_at);

CREATE INDEX payment_authorisation_of_client ON payment_authorisation USING btree (client_id);

CREATE INDEX payment_authorisation_of_contact ON payment_authorisation USING btree (contact_id);

CREATE INDEX payment_authorisation_of_letter ON payment_authorisation USING btree (letter_id);

CREATE INDEX practice_clearing_by_time ON practice_clearing USING btree (firm_id, cleared_at DESC);

CREATE UNIQUE INDEX proposed_folder_by_name ON proposed_folder USING btree (firm_id, lower(name));

CREATE INDEX public_answer_of_client ON public_answer USING btree (client_id) WHERE (client_id IS NOT NULL);

CREATE INDEX public_answer_of_questionnaire ON public_answer USING btree (questionnaire_id, came_at) WHERE (item_id IS NULL);

CREATE INDEX public_answer_waiting ON public_answer USING btree (firm_id, came_at, id) WHERE (outcome IS NULL);

CREATE INDEX public_file_of_answer ON public_file USING btree (answer_id, added_at);

CREATE UNIQUE INDEX public_page_by_name ON public_page USING btree (firm_id, name);

CREATE UNIQUE INDEX questionnaire_by_name ON questionnaire USING btree (firm_id, lower(name)) WHERE (ended_at IS NULL);

CREATE INDEX recovery_code_of_person ON recovery_code USING btree (COALESCE(staff_id, contact_id));

CREATE INDEX recurring_occurrence_by_request ON recurring_occurrence USING btree (request_id) WHERE (request_id IS NOT NULL);

CREATE INDEX recurring_request_after_letters ON recurring_request USING btree (firm_id) WHERE (after_letters <> '{}'::uuid[]);

CREATE INDEX recurring_request_by_client ON recurring_request USING btree (client_id);

CREATE INDEX recurring_request_by_list ON recurring_request USING btree (list_id) WHERE (list_id IS NOT NULL);

CREATE INDEX recurring_request_due ON recurring_request USING btree (firm_id, next_at) WHERE ((state = 'running'::text) AND (next_at IS NOT NULL));

CREATE INDEX remark_by_client ON remark USING btree (client_id, written_at DESC);

CREATE INDEX remark_by_item ON remark USING btree (item_id, written_at);

CREATE INDEX remark_by_mail ON remark USING btree (mail_id) WHERE (mail_id IS NOT NULL);

CREATE INDEX remark_unseen ON remark USING btree (firm_id, written_at) WHERE ((seen_at IS NULL) AND (contact_id IS NOT NULL));

CREATE INDEX remark_with ON remark USING btree (with_contact_id, client_id, written_at) WHERE (with_contact_id IS NOT NULL);

CREATE INDEX request_announcement_due ON request_announcement USING btree (firm_id, contact_id) WHERE (told_at IS NULL);

CREATE INDEX request_by_client ON request USING btree (client_id, sent_at DESC);

CREATE INDEX request_by_list ON request USING btree (list_id) WHERE (list_id IS NOT NULL);

CREATE INDEX request_by_recurring ON request USING btree (recurring_id) WHERE (recurring_id IS NOT NULL);

CREATE INDEX request_draft_after_letters ON request_draft USING btree (firm_id) WHERE ((after_letters <> '{}'::uuid[]) AND (removed_at IS NULL));

CREATE INDEX request_draft_by_client ON request_draft USING btree (client_id);

CREATE INDEX request_draft_by_firm ON request_draft USING btree (firm_id, changed_at DESC);

CREATE INDEX request_draft_by_list ON request_draft USING btree (list_id) WHERE (list_id IS NOT NULL);

CREATE INDEX request_draft_by_run ON request_draft USING btree (run_id) WHERE (run_id IS NOT NULL);

CREATE INDEX request_draft_in_order ON request_draft USING btree (firm_id, waits DESC, changed_at DESC, place) WHERE (removed_at IS NULL);

CREATE INDEX request_draft_plain_title ON request_draft USING gin (plain(title) gin_trgm_ops) WHERE (removed_at IS NULL);

CREATE INDEX request_draft_removed ON request_draft USING btree (firm_id, removed_at) WHERE (removed_at IS NOT NULL);

CREATE INDEX request_draft_waiting ON request_draft USING btree (firm_id, made_at, place) WHERE (waits AND (removed_at IS NULL));

CREATE INDEX request_list_by_name ON request_list USING btree (firm_id, lower(name)) WHERE (ended_at IS NULL);

CREATE INDEX request_plain_title ON request USING gin (plain(title) gin_trgm_ops);

CREATE UNIQUE INDEX service_by_name ON service USING btree (firm_id, lower(name)) WHERE (ended_at IS NULL);

CREATE INDEX session_by_contact ON session USING btree (contact_id) WHERE (ended_at IS NULL);

CREATE INDEX session_by_device ON session USING btree (device_id, created_at);

CREATE INDEX session_by_staff ON session USING btree (staff_id) WHERE (ended_at IS NULL);

CREATE INDEX sign_in_step_of_person ON sign_in_step USING btree (COALESCE(staff_id, contact_id), begun_at DESC);

CREATE INDEX signed_answers_of_client ON signed_answers USING btree (client_id);

CREATE INDEX signed_answers_of_contact ON signed_answers USING btree (contact_id);

CREATE INDEX signed_answers_of_item ON signed_answers USING btree (item_id, signed_at DESC);

CREATE UNIQUE INDEX staff_by_email ON staff USING btree (email) WHERE (practice_of_id IS NULL);

CREATE INDEX staff_by_firm ON staff USING btree (firm_id);

CREATE INDEX staff_feed_of_firm ON staff_feed USING btree (firm_id);

CREATE UNIQUE INDEX staff_group_by_name ON staff_group USING btree (firm_id, lower(name));

CREATE INDEX staff_group_member_by_staff ON staff_group_member USING btree (staff_id);

CREATE INDEX staff_telling_of_firm ON staff_telling USING btree (firm_id);

CREATE INDEX staff_told_client_by_client ON staff_told_client USING btree (client_id);

CREATE INDEX statement_of_account ON statement USING btree (account_id) WHERE (account_id IS NOT NULL);

CREATE INDEX statement_of_client ON statement USING btree (client_id);

CREATE UNIQUE INDEX statement_of_paper ON statement USING btree (paper_id, number);

CREATE INDEX task_of_client ON task USING btree (client_id);

CREATE INDEX task_of_item ON task USING btree (item_id) WHERE (item_id IS NOT NULL);

CREATE INDEX task_open ON task USING btree (firm_id, made_at, id) WHERE (done_at IS NULL);

CREATE UNIQUE INDEX text_factor_of_person ON text_factor USING btree (COALESCE(staff_id, contact_id), ((confirmed_at IS NULL)));

CREATE INDEX told_device_of_firm ON told_device USING btree (firm_id);

CREATE INDEX told_device_of_person ON told_device USING btree (COALESCE(staff_id, contact_id));

CREATE INDEX transaction_file_by_client ON transaction_file USING btree (client_id, brought_at DESC);

CREATE INDEX transaction_line_asked_amount ON transaction_line USING btree (client_id, amount, day) WHERE (asked_item_id IS NOT NULL);

CREATE INDEX transaction_line_asked_content ON transaction_line USING btree (client_id, content) WHERE (asked_item_id IS NOT NULL);

CREATE INDEX transaction_line_asked_identity ON transaction_line USING btree (client_id, identity) WHERE (asked_item_id IS NOT NULL);

CREATE INDEX transaction_line_by_identity ON transaction_line USING btree (client_id, identity) WHERE wants_paper;

CREATE INDEX transaction_line_by_item ON transaction_line USING btree (asked_item_id) WHERE (asked_item_id IS NOT NULL);

CREATE INDEX unfinished_upload_of_contact ON unfinished_upload USING btree (contact_id);

CREATE INDEX unfinished_upload_of_staff ON unfinished_upload USING btree (staff_id) WHERE (staff_id IS NOT NULL);

CREATE TRIGGER client_inserted AFTER INSERT ON client REFERENCING NEW TABLE AS added FOR EACH STATEMENT EXECUTE FUNCTION client_added();

CREATE TRIGGER client_rights BEFORE UPDATE OF name, email, phone, channels, locale, suspended_at, password_hash, removed_at ON contact FOR EACH ROW WHEN (((((((((old.name IS DISTINCT FROM new.name) OR ((old.email)::text IS DISTINCT FROM (new.email)::text)) OR (old.phone IS DISTINCT FROM new.phone)) OR (old.channels IS DISTINCT FROM new.channels)) OR (old.locale IS DISTINCT FROM new.locale)) OR (old.suspended_at IS DISTINCT FROM new.suspended_at)) OR (old.password_hash IS DISTINCT FROM new.password_hash)) OR (old.removed_at IS DISTINCT FROM new.removed_at))) EXECUTE FUNCTION keep_people_of_closed_clients();

CREATE TRIGGER client_updated AFTER UPDATE ON client REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION client_changed();

CREATE TRIGGER close_letter_links AFTER UPDATE OF email, phone, suspended_at, removed_at ON contact FOR EACH ROW WHEN (((old.email IS DISTINCT FROM new.email) OR (old.phone IS DISTINCT FROM new.phone) OR (old.suspended_at IS DISTINCT FROM new.suspended_at) OR (old.removed_at IS DISTINCT FROM new.removed_at))) EXECUTE FUNCTION close_letter_links();

CREATE TRIGGER close_links_of_replaced BEFORE UPDATE OF contact_id, signs_by ON letter_signer FOR EACH ROW WHEN (((old.contact_id IS DISTINCT FROM new.contact_id) OR (old.signs_by <> new.signs_by))) EXECUTE FUNCTION close_links_of_replaced();

CREATE TRIGGER demo_clock_announced AFTER INSERT OR UPDATE ON demo_clock FOR EACH STATEMENT EXECUTE FUNCTION announce_clock();

CREATE TRIGGER event_announced AFTER INSERT ON event FOR EACH ROW EXECUTE FUNCTION announce_event();

CREATE TRIGGER event_append_only BEFORE DELETE OR UPDATE ON event FOR EACH ROW EXECUTE FUNCTION refuse_change();

CREATE TRIGGER event_is_sign_of_life AFTER INSERT ON event FOR EACH ROW EXECUTE FUNCTION sign_of_life();

CREATE TRIGGER forget_accounts AFTER UPDATE OF state ON letter FOR EACH ROW WHEN ((new.state = ANY (ARRAY['declined'::text, 'withdrawn'::text, 'lapsed'::text]))) EXECUTE FUNCTION forget_accounts_of_letter();

CREATE TRIGGER goes_with_the_rest BEFORE INSERT ON remark FOR EACH ROW WHEN ((new.contact_id IS NOT NULL)) EXECUTE FUNCTION remark_goes_with_the_rest();

CREATE TRIGGER item_inserted AFTER INSERT ON item REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION item_changed();

CREATE TRIGGER item_updated AFTER UPDATE ON item REFERENCING OLD TABLE AS was NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION item_updated();

CREATE TRIGGER letter_trail_append_only BEFORE DELETE OR UPDATE ON letter_trail FOR EACH ROW EXECUTE FUNCTION refuse_change();

CREATE CONSTRAINT TRIGGER letter_trail_kept AFTER INSERT ON event DEFERRABLE INITIALLY DEFERRED FOR EACH ROW WHEN (((new.verb ~~ 'letter\_%'::text) OR (new.verb = ANY (ARRAY['request_sent'::text, 'request_put_up'::text, 'request_withdrawn'::text, 'item_declined'::text, 'item_lapsed'::text, 'item_waived'::text, 'message_sent'::text, 'message_failed'::text, 'message_held_back'::text])))) EXECUTE FUNCTION keep_letter_trail();

CREATE TRIGGER may_work BEFORE DELETE ON account FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON answer_passed FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON chase_call FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON chase_hold FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON client_contact FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON client_note FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON client_summary FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON engagement FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON engagement_service FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON fact FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON filing_rule FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON folder FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON folder_contact FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON incoming_mail FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON invitation FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON item FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON item_secret FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON legal_hold FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON letter FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON letter_signer FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON line_paper FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON list_override FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON outside_signer FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON paper FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON payment_authorisation FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON public_answer FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON recurring_request FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON remark FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON request FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON request_draft FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON signature FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON signed_answers FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON statement FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON task FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON transaction_file FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER may_work BEFORE DELETE ON transaction_line FOR EACH ROW WHEN ((NULLIF(current_setting('app.not_worked'::text, true), ''::text) IS NOT NULL)) EXECUTE FUNCTION keep_rows_not_worked();

CREATE TRIGGER note_search AFTER UPDATE OF name ON contact FOR EACH ROW WHEN ((old.name <> new.name)) EXECUTE FUNCTION note_search_of_papers('uploaded_by_contact_id');

CREATE TRIGGER note_search AFTER UPDATE OF name ON folder FOR EACH ROW WHEN ((old.name <> new.name)) EXECUTE FUNCTION note_search_of_papers('folder_id');

CREATE TRIGGER note_search AFTER UPDATE OF title ON item FOR EACH ROW WHEN ((old.title <> new.title)) EXECUTE FUNCTION note_search_of_papers('item_id');

CREATE TRIGGER note_search BEFORE INSERT OR UPDATE OF name, note, uploaded_by_contact_id, mail_id, item_id, folder_id, first_words, language, search ON paper FOR EACH ROW EXECUTE FUNCTION note_search_of_paper();

CREATE TRIGGER ready_made_facts AFTER INSERT ON firm FOR EACH ROW EXECUTE FUNCTION give_ready_made_facts();

CREATE TRIGGER searched BEFORE INSERT ON fact FOR EACH ROW EXECUTE FUNCTION mark_searched_fact();

CREATE TRIGGER session_ended AFTER UPDATE OF ended_at ON session FOR EACH ROW WHEN (((old.ended_at IS NULL) AND (new.ended_at IS NOT NULL))) EXECUTE FUNCTION announce_session_end();

CREATE TRIGGER wait_for_new_version AFTER INSERT ON letter FOR EACH ROW WHEN ((new.replaces_id IS NOT NULL)) EXECUTE FUNCTION wait_for_new_version();

ALTER TABLE ONLY account
    ADD CONSTRAINT account_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id) ON DELETE CASCADE;

ALTER TABLE ONLY account
    ADD CONSTRAINT account_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY account
    ADD CONSTRAINT account_noted_by_fkey FOREIGN KEY (noted_by_id) REFERENCES staff(id);

ALTER TABLE ONLY answer_passed
    ADD CONSTRAINT answer_passed_by_contact_id_fkey FOREIGN KEY (by_contact_id) REFERENCES contact(id);

ALTER TABLE ONLY answer_passed
    ADD CONSTRAINT answer_passed_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY answer_passed
    ADD CONSTRAINT answer_passed_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY answer_passed
    ADD CONSTRAINT answer_passed_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id);

ALTER TABLE ONLY answer_passed
    ADD CONSTRAINT answer_passed_to_contact_id_fkey FOREIGN KEY (to_contact_id) REFERENCES contact(id);

ALTER TABLE ONLY ask_sheet
    ADD CONSTRAINT ask_sheet_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY ask_sheet
    ADD CONSTRAINT ask_sheet_made_by_id_fkey FOREIGN KEY (made_by_id) REFERENCES staff(id);

ALTER TABLE ONLY attachment
    ADD CONSTRAINT attachment_added_by_fkey FOREIGN KEY (added_by_id) REFERENCES staff(id);

ALTER TABLE ONLY attachment
    ADD CONSTRAINT attachment_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY authenticator
    ADD CONSTRAINT authenticator_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY authenticator
    ADD CONSTRAINT authenticator_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY authenticator
    ADD CONSTRAINT authenticator_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY brand
    ADD CONSTRAINT brand_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY chase_call
    ADD CONSTRAINT chase_call_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY chase_call
    ADD CONSTRAINT chase_call_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY chase_call
    ADD CONSTRAINT chase_call_done_by_id_fkey FOREIGN KEY (done_by_id) REFERENCES staff(id);

ALTER TABLE ONLY chase_call
    ADD CONSTRAINT chase_call_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY chase_change
    ADD CONSTRAINT chase_change_changed_by_id_fkey FOREIGN KEY (changed_by_id) REFERENCES staff(id);

ALTER TABLE ONLY chase_change
    ADD CONSTRAINT chase_change_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY chase_change
    ADD CONSTRAINT chase_change_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY chase_hold
    ADD CONSTRAINT chase_hold_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY chase_hold
    ADD CONSTRAINT chase_hold_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY chase_hold
    ADD CONSTRAINT chase_hold_ends_item_id_fkey FOREIGN KEY (ends_item_id) REFERENCES item(id) ON DELETE SET NULL;

ALTER TABLE ONLY chase_hold
    ADD CONSTRAINT chase_hold_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY chase_hold
    ADD CONSTRAINT chase_hold_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id) ON DELETE CASCADE;

ALTER TABLE ONLY chase_hold
    ADD CONSTRAINT chase_hold_request_id_fkey FOREIGN KEY (request_id) REFERENCES request(id) ON DELETE CASCADE;

ALTER TABLE ONLY client
    ADD CONSTRAINT client_brand_id_fkey FOREIGN KEY (brand_id) REFERENCES brand(id);

ALTER TABLE ONLY client_contact
    ADD CONSTRAINT client_contact_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY client_contact
    ADD CONSTRAINT client_contact_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY client_contact
    ADD CONSTRAINT client_contact_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY client
    ADD CONSTRAINT client_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY client_form
    ADD CONSTRAINT client_form_changed_by_fkey FOREIGN KEY (changed_by_id) REFERENCES staff(id);

ALTER TABLE ONLY client_form
    ADD CONSTRAINT client_form_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY client_import
    ADD CONSTRAINT client_import_begun_by_fkey FOREIGN KEY (begun_by_id) REFERENCES staff(id);

ALTER TABLE ONLY client_import
    ADD CONSTRAINT client_import_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY client_import_row
    ADD CONSTRAINT client_import_row_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY client_import_row
    ADD CONSTRAINT client_import_row_import_id_fkey FOREIGN KEY (import_id) REFERENCES client_import(id);

ALTER TABLE ONLY client_import_trace
    ADD CONSTRAINT client_import_trace_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY client_import_trace
    ADD CONSTRAINT client_import_trace_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY client_import_trace
    ADD CONSTRAINT client_import_trace_engagement_id_fkey FOREIGN KEY (engagement_id) REFERENCES engagement(id);

ALTER TABLE ONLY client_import_trace
    ADD CONSTRAINT client_import_trace_fact_id_fkey FOREIGN KEY (fact_id) REFERENCES fact(id);

ALTER TABLE ONLY client_import_trace
    ADD CONSTRAINT client_import_trace_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY client_import_trace
    ADD CONSTRAINT client_import_trace_import_id_fkey FOREIGN KEY (import_id) REFERENCES client_import(id);

ALTER TABLE ONLY client_look
    ADD CONSTRAINT client_look_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY client_look
    ADD CONSTRAINT client_look_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY client_look
    ADD CONSTRAINT client_look_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY client_note
    ADD CONSTRAINT client_note_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY client_note
    ADD CONSTRAINT client_note_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY client_note
    ADD CONSTRAINT client_note_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id) ON DELETE CASCADE;

ALTER TABLE ONLY client_note
    ADD CONSTRAINT client_note_with_contact_id_fkey FOREIGN KEY (with_contact_id) REFERENCES contact(id);

ALTER TABLE ONLY client_note
    ADD CONSTRAINT client_note_written_by_fkey FOREIGN KEY (written_by_id) REFERENCES staff(id);

ALTER TABLE ONLY client
    ADD CONSTRAINT client_responsible_id_fkey FOREIGN KEY (responsible_id) REFERENCES staff(id);

ALTER TABLE ONLY client_right
    ADD CONSTRAINT client_right_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id) ON DELETE CASCADE;

ALTER TABLE ONLY client_right
    ADD CONSTRAINT client_right_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY client_right
    ADD CONSTRAINT client_right_group_id_fkey FOREIGN KEY (group_id) REFERENCES staff_group(id) ON DELETE CASCADE;

ALTER TABLE ONLY client_right
    ADD CONSTRAINT client_right_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY client_summary
    ADD CONSTRAINT client_summary_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY client_summary
    ADD CONSTRAINT client_summary_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY contact
    ADD CONSTRAINT contact_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY contact_heard
    ADD CONSTRAINT contact_heard_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY contact_heard
    ADD CONSTRAINT contact_heard_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY device
    ADD CONSTRAINT device_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY device
    ADD CONSTRAINT device_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY device
    ADD CONSTRAINT device_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY engagement
    ADD CONSTRAINT engagement_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY engagement
    ADD CONSTRAINT engagement_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY engagement_service
    ADD CONSTRAINT engagement_service_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY engagement_service
    ADD CONSTRAINT engagement_service_engagement_id_fkey FOREIGN KEY (engagement_id) REFERENCES engagement(id);

ALTER TABLE ONLY engagement_service
    ADD CONSTRAINT engagement_service_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY engagement_service
    ADD CONSTRAINT engagement_service_service_id_fkey FOREIGN KEY (service_id) REFERENCES service(id);

ALTER TABLE ONLY event
    ADD CONSTRAINT event_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY event
    ADD CONSTRAINT event_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY event
    ADD CONSTRAINT event_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY event
    ADD CONSTRAINT event_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id);

ALTER TABLE ONLY event
    ADD CONSTRAINT event_message_id_fkey FOREIGN KEY (message_id) REFERENCES message(id);

ALTER TABLE ONLY event
    ADD CONSTRAINT event_paper_id_fkey FOREIGN KEY (paper_id) REFERENCES paper(id);

ALTER TABLE ONLY event
    ADD CONSTRAINT event_request_id_fkey FOREIGN KEY (request_id) REFERENCES request(id);

ALTER TABLE ONLY fact
    ADD CONSTRAINT fact_answers_item_id_fkey FOREIGN KEY (answers_item_id) REFERENCES item(id) ON DELETE SET NULL;

ALTER TABLE ONLY fact
    ADD CONSTRAINT fact_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY fact_definition
    ADD CONSTRAINT fact_definition_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY fact_definition
    ADD CONSTRAINT fact_definition_firm_id_merged_into_fkey FOREIGN KEY (firm_id, merged_into) REFERENCES fact_definition(firm_id, name);

ALTER TABLE ONLY fact
    ADD CONSTRAINT fact_definition_of FOREIGN KEY (firm_id, name) REFERENCES fact_definition(firm_id, name);

ALTER TABLE ONLY fact
    ADD CONSTRAINT fact_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY fact
    ADD CONSTRAINT fact_paper_id_fkey FOREIGN KEY (paper_id) REFERENCES paper(id) ON DELETE SET NULL;

ALTER TABLE ONLY filing_rule
    ADD CONSTRAINT filing_rule_account_id_fkey FOREIGN KEY (account_id) REFERENCES account(id) ON DELETE CASCADE;

ALTER TABLE ONLY filing_rule
    ADD CONSTRAINT filing_rule_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY filing_rule
    ADD CONSTRAINT filing_rule_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id) ON DELETE CASCADE;

ALTER TABLE ONLY filing_rule
    ADD CONSTRAINT filing_rule_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY filing_rule
    ADD CONSTRAINT filing_rule_folder_id_fkey FOREIGN KEY (folder_id) REFERENCES folder(id) ON DELETE SET NULL;

ALTER TABLE ONLY filing_rule
    ADD CONSTRAINT filing_rule_made_by_id_fkey FOREIGN KEY (made_by_id) REFERENCES staff(id);

ALTER TABLE ONLY firm
    ADD CONSTRAINT firm_practice_of_fkey FOREIGN KEY (practice_of_id) REFERENCES firm(id);

ALTER TABLE ONLY folder
    ADD CONSTRAINT folder_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY folder_contact
    ADD CONSTRAINT folder_contact_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY folder_contact
    ADD CONSTRAINT folder_contact_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY folder_contact
    ADD CONSTRAINT folder_contact_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY folder_contact
    ADD CONSTRAINT folder_contact_folder_id_fkey FOREIGN KEY (folder_id) REFERENCES folder(id) ON DELETE CASCADE;

ALTER TABLE ONLY folder
    ADD CONSTRAINT folder_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY former_short_name
    ADD CONSTRAINT former_short_name_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY holiday
    ADD CONSTRAINT holiday_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY identity_check
    ADD CONSTRAINT identity_check_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY identity_check
    ADD CONSTRAINT identity_check_signer_id_fkey FOREIGN KEY (signer_id) REFERENCES letter_signer(id) ON DELETE CASCADE;

ALTER TABLE ONLY identity_check
    ADD CONSTRAINT identity_check_visit_id_fkey FOREIGN KEY (visit_id) REFERENCES letter_visit(id) ON DELETE SET NULL;

ALTER TABLE ONLY incoming_mail
    ADD CONSTRAINT incoming_mail_answers_id_fkey FOREIGN KEY (answers_id) REFERENCES message(id) ON DELETE SET NULL;

ALTER TABLE ONLY incoming_mail
    ADD CONSTRAINT incoming_mail_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY incoming_mail
    ADD CONSTRAINT incoming_mail_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY incoming_mail
    ADD CONSTRAINT incoming_mail_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY incoming_mail
    ADD CONSTRAINT incoming_mail_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id) ON DELETE SET NULL;

ALTER TABLE ONLY incoming_mail
    ADD CONSTRAINT incoming_mail_let_in_by_id_fkey FOREIGN KEY (let_in_by_id) REFERENCES staff(id);

ALTER TABLE ONLY incoming_text
    ADD CONSTRAINT incoming_text_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY incoming_text
    ADD CONSTRAINT incoming_text_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY invitation
    ADD CONSTRAINT invitation_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY invitation
    ADD CONSTRAINT invitation_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY invitation
    ADD CONSTRAINT invitation_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY invitation
    ADD CONSTRAINT invitation_message_id_fkey FOREIGN KEY (message_id) REFERENCES message(id);

ALTER TABLE ONLY invitation_run
    ADD CONSTRAINT invitation_run_begun_by_fkey FOREIGN KEY (begun_by_id) REFERENCES staff(id);

ALTER TABLE ONLY invitation_run
    ADD CONSTRAINT invitation_run_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY invitation
    ADD CONSTRAINT invitation_run_id_fkey FOREIGN KEY (run_id) REFERENCES invitation_run(id);

ALTER TABLE ONLY invitation
    ADD CONSTRAINT invitation_sent_by_fkey FOREIGN KEY (sent_by_id) REFERENCES staff(id);

ALTER TABLE ONLY item
    ADD CONSTRAINT item_account_id_fkey FOREIGN KEY (account_id) REFERENCES account(id) ON DELETE SET NULL;

ALTER TABLE ONLY item
    ADD CONSTRAINT item_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY item
    ADD CONSTRAINT item_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY item
    ADD CONSTRAINT item_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY item
    ADD CONSTRAINT item_kind_known FOREIGN KEY (kind) REFERENCES item_kind(name);

ALTER TABLE ONLY item
    ADD CONSTRAINT item_request_id_fkey FOREIGN KEY (request_id) REFERENCES request(id);

ALTER TABLE ONLY item_secret
    ADD CONSTRAINT item_secret_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY item_secret
    ADD CONSTRAINT item_secret_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY item_secret
    ADD CONSTRAINT item_secret_given_by_fkey FOREIGN KEY (given_by_id) REFERENCES contact(id);

ALTER TABLE ONLY item_secret
    ADD CONSTRAINT item_secret_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id) ON DELETE CASCADE;

ALTER TABLE ONLY legal_hold
    ADD CONSTRAINT legal_hold_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY legal_hold
    ADD CONSTRAINT legal_hold_ended_by_id_fkey FOREIGN KEY (ended_by_id) REFERENCES staff(id);

ALTER TABLE ONLY legal_hold
    ADD CONSTRAINT legal_hold_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY legal_hold
    ADD CONSTRAINT legal_hold_set_by_id_fkey FOREIGN KEY (set_by_id) REFERENCES staff(id);

ALTER TABLE ONLY letter
    ADD CONSTRAINT letter_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY letter
    ADD CONSTRAINT letter_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY letter
    ADD CONSTRAINT letter_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id);

ALTER TABLE ONLY letter
    ADD CONSTRAINT letter_replaces_id_fkey FOREIGN KEY (replaces_id) REFERENCES letter(id) ON DELETE SET NULL;

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id);

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_letter_id_fkey FOREIGN KEY (letter_id) REFERENCES letter(id) ON DELETE CASCADE;

ALTER TABLE ONLY letter_signer
    ADD CONSTRAINT letter_signer_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY letter_trail
    ADD CONSTRAINT letter_trail_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY letter_trail
    ADD CONSTRAINT letter_trail_letter_id_fkey FOREIGN KEY (letter_id) REFERENCES letter(id) ON DELETE CASCADE;

ALTER TABLE ONLY letter_visit
    ADD CONSTRAINT letter_visit_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY letter_visit
    ADD CONSTRAINT letter_visit_signer_id_fkey FOREIGN KEY (signer_id) REFERENCES letter_signer(id) ON DELETE CASCADE;

ALTER TABLE ONLY line_paper
    ADD CONSTRAINT line_paper_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id) ON DELETE CASCADE;

ALTER TABLE ONLY line_paper
    ADD CONSTRAINT line_paper_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY line_paper
    ADD CONSTRAINT line_paper_paper_id_fkey FOREIGN KEY (paper_id) REFERENCES paper(id) ON DELETE CASCADE;

ALTER TABLE ONLY line_paper
    ADD CONSTRAINT line_paper_said_by_id_fkey FOREIGN KEY (said_by_id) REFERENCES staff(id);

ALTER TABLE ONLY list_override
    ADD CONSTRAINT list_override_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id) ON DELETE CASCADE;

ALTER TABLE ONLY list_override
    ADD CONSTRAINT list_override_decided_by_fkey FOREIGN KEY (decided_by_id) REFERENCES staff(id);

ALTER TABLE ONLY list_override
    ADD CONSTRAINT list_override_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY list_override
    ADD CONSTRAINT list_override_list_id_fkey FOREIGN KEY (list_id) REFERENCES request_list(id) ON DELETE CASCADE;

ALTER TABLE ONLY merge
    ADD CONSTRAINT merge_by_fkey FOREIGN KEY (by_id) REFERENCES staff(id);

ALTER TABLE ONLY merge
    ADD CONSTRAINT merge_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY message
    ADD CONSTRAINT message_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY message
    ADD CONSTRAINT message_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY message
    ADD CONSTRAINT message_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY message_item
    ADD CONSTRAINT message_item_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY message_item
    ADD CONSTRAINT message_item_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id);

ALTER TABLE ONLY message_item
    ADD CONSTRAINT message_item_message_id_fkey FOREIGN KEY (message_id) REFERENCES message(id);

ALTER TABLE ONLY message
    ADD CONSTRAINT message_kind_known FOREIGN KEY (kind) REFERENCES message_kind(name);

ALTER TABLE ONLY message
    ADD CONSTRAINT message_public_answer_id_fkey FOREIGN KEY (public_answer_id) REFERENCES public_answer(id) ON DELETE SET NULL;

ALTER TABLE ONLY message
    ADD CONSTRAINT message_request_id_fkey FOREIGN KEY (request_id) REFERENCES request(id);

ALTER TABLE ONLY message
    ADD CONSTRAINT message_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY message_text
    ADD CONSTRAINT message_text_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY message_text
    ADD CONSTRAINT message_text_group_id_fkey FOREIGN KEY (group_id) REFERENCES staff_group(id) ON DELETE SET NULL;

ALTER TABLE ONLY message_text
    ADD CONSTRAINT message_text_made_by_fkey FOREIGN KEY (made_by_id) REFERENCES staff(id);

ALTER TABLE ONLY note_told
    ADD CONSTRAINT note_told_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY note_told
    ADD CONSTRAINT note_told_note_id_fkey FOREIGN KEY (note_id) REFERENCES client_note(id) ON DELETE CASCADE;

ALTER TABLE ONLY note_told
    ADD CONSTRAINT note_told_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY outside_signer
    ADD CONSTRAINT outside_signer_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY outside_signer
    ADD CONSTRAINT outside_signer_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY outside_signer
    ADD CONSTRAINT outside_signer_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY paper_announcement
    ADD CONSTRAINT paper_announcement_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY paper_announcement
    ADD CONSTRAINT paper_announcement_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY paper_announcement
    ADD CONSTRAINT paper_announcement_paper_id_fkey FOREIGN KEY (paper_id) REFERENCES paper(id) ON DELETE CASCADE;

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_destroy_asked_by_id_fkey FOREIGN KEY (destroy_asked_by_id) REFERENCES staff(id);

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_filed_by_rule_id_fkey FOREIGN KEY (filed_by_rule_id) REFERENCES filing_rule(id) ON DELETE SET NULL;

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_folder_id_fkey FOREIGN KEY (folder_id) REFERENCES folder(id) ON DELETE SET NULL;

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_given_by_id_fkey FOREIGN KEY (given_by_id) REFERENCES staff(id);

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id);

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_mail_id_fkey FOREIGN KEY (mail_id) REFERENCES incoming_mail(id) ON DELETE SET NULL;

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_newer_id_fkey FOREIGN KEY (newer_id) REFERENCES paper(id) ON DELETE SET NULL;

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_put_away_by_id_fkey FOREIGN KEY (put_away_by_id) REFERENCES staff(id);

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_shown_by_id_fkey FOREIGN KEY (shown_by_id) REFERENCES staff(id);

ALTER TABLE ONLY paper
    ADD CONSTRAINT paper_uploaded_by_contact_fkey FOREIGN KEY (uploaded_by_contact_id) REFERENCES contact(id);

ALTER TABLE ONLY passkey
    ADD CONSTRAINT passkey_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY passkey
    ADD CONSTRAINT passkey_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY passkey
    ADD CONSTRAINT passkey_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY password_reset
    ADD CONSTRAINT password_reset_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY password_reset
    ADD CONSTRAINT password_reset_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY password_reset
    ADD CONSTRAINT password_reset_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY payment_authorisation
    ADD CONSTRAINT payment_authorisation_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY payment_authorisation
    ADD CONSTRAINT payment_authorisation_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY payment_authorisation
    ADD CONSTRAINT payment_authorisation_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY payment_authorisation
    ADD CONSTRAINT payment_authorisation_letter_id_fkey FOREIGN KEY (letter_id) REFERENCES letter(id) ON DELETE CASCADE;

ALTER TABLE ONLY picture
    ADD CONSTRAINT picture_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY portal_look
    ADD CONSTRAINT portal_look_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY portal_look
    ADD CONSTRAINT portal_look_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY portal_look
    ADD CONSTRAINT portal_look_session_id_fkey FOREIGN KEY (session_id) REFERENCES session(id);

ALTER TABLE ONLY portal_look
    ADD CONSTRAINT portal_look_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY practice_clearing
    ADD CONSTRAINT practice_clearing_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY proposed_folder
    ADD CONSTRAINT proposed_folder_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY public_answer
    ADD CONSTRAINT public_answer_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY public_answer
    ADD CONSTRAINT public_answer_dealt_by_id_fkey FOREIGN KEY (dealt_by_id) REFERENCES staff(id);

ALTER TABLE ONLY public_answer
    ADD CONSTRAINT public_answer_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY public_answer
    ADD CONSTRAINT public_answer_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id) ON DELETE SET NULL;

ALTER TABLE ONLY public_answer
    ADD CONSTRAINT public_answer_page_id_fkey FOREIGN KEY (page_id) REFERENCES public_page(id);

ALTER TABLE ONLY public_answer
    ADD CONSTRAINT public_answer_questionnaire_id_fkey FOREIGN KEY (questionnaire_id) REFERENCES questionnaire(id);

ALTER TABLE ONLY public_file
    ADD CONSTRAINT public_file_answer_id_fkey FOREIGN KEY (answer_id) REFERENCES public_answer(id) ON DELETE CASCADE;

ALTER TABLE ONLY public_file
    ADD CONSTRAINT public_file_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY public_page
    ADD CONSTRAINT public_page_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY public_page
    ADD CONSTRAINT public_page_opened_by_id_fkey FOREIGN KEY (opened_by_id) REFERENCES staff(id);

ALTER TABLE ONLY public_page
    ADD CONSTRAINT public_page_questionnaire_id_fkey FOREIGN KEY (questionnaire_id) REFERENCES questionnaire(id);

ALTER TABLE ONLY questionnaire
    ADD CONSTRAINT questionnaire_before_id_fkey FOREIGN KEY (before_id) REFERENCES questionnaire(id);

ALTER TABLE ONLY questionnaire
    ADD CONSTRAINT questionnaire_changed_by_id_fkey FOREIGN KEY (changed_by_id) REFERENCES staff(id);

ALTER TABLE ONLY questionnaire
    ADD CONSTRAINT questionnaire_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY questionnaire
    ADD CONSTRAINT questionnaire_made_by_id_fkey FOREIGN KEY (made_by_id) REFERENCES staff(id);

ALTER TABLE ONLY questionnaire_version
    ADD CONSTRAINT questionnaire_version_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY questionnaire_version
    ADD CONSTRAINT questionnaire_version_kept_by_id_fkey FOREIGN KEY (kept_by_id) REFERENCES staff(id);

ALTER TABLE ONLY questionnaire_version
    ADD CONSTRAINT questionnaire_version_questionnaire_id_fkey FOREIGN KEY (questionnaire_id) REFERENCES questionnaire(id) ON DELETE CASCADE;

ALTER TABLE ONLY recovery_code
    ADD CONSTRAINT recovery_code_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY recovery_code
    ADD CONSTRAINT recovery_code_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY recovery_code
    ADD CONSTRAINT recovery_code_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY recurring_occurrence
    ADD CONSTRAINT recurring_occurrence_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY recurring_occurrence
    ADD CONSTRAINT recurring_occurrence_recurring_id_fkey FOREIGN KEY (recurring_id) REFERENCES recurring_request(id) ON DELETE CASCADE;

ALTER TABLE ONLY recurring_occurrence
    ADD CONSTRAINT recurring_occurrence_request_id_fkey FOREIGN KEY (request_id) REFERENCES request(id) ON DELETE SET NULL;

ALTER TABLE ONLY recurring_request
    ADD CONSTRAINT recurring_request_changed_by_fkey FOREIGN KEY (changed_by_id) REFERENCES staff(id);

ALTER TABLE ONLY recurring_request
    ADD CONSTRAINT recurring_request_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id) ON DELETE CASCADE;

ALTER TABLE ONLY recurring_request
    ADD CONSTRAINT recurring_request_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY recurring_request
    ADD CONSTRAINT recurring_request_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY recurring_request
    ADD CONSTRAINT recurring_request_list_id_fkey FOREIGN KEY (list_id) REFERENCES request_list(id) ON DELETE SET NULL;

ALTER TABLE ONLY recurring_request
    ADD CONSTRAINT recurring_request_made_by_fkey FOREIGN KEY (made_by_id) REFERENCES staff(id);

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_attachment_id_fkey FOREIGN KEY (attachment_id) REFERENCES attachment(id);

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_by_contact_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_by_staff_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_given_to_fkey FOREIGN KEY (given_to) REFERENCES staff(id);

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id) ON DELETE CASCADE;

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_mail_id_fkey FOREIGN KEY (mail_id) REFERENCES incoming_mail(id) ON DELETE SET NULL;

ALTER TABLE ONLY remark
    ADD CONSTRAINT remark_with_contact_id_fkey FOREIGN KEY (with_contact_id) REFERENCES contact(id);

ALTER TABLE ONLY request_announcement
    ADD CONSTRAINT request_announcement_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY request_announcement
    ADD CONSTRAINT request_announcement_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY request_announcement
    ADD CONSTRAINT request_announcement_request_id_fkey FOREIGN KEY (request_id) REFERENCES request(id) ON DELETE CASCADE;

ALTER TABLE ONLY request
    ADD CONSTRAINT request_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY request
    ADD CONSTRAINT request_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY request
    ADD CONSTRAINT request_created_by_fkey FOREIGN KEY (created_by_id) REFERENCES staff(id);

ALTER TABLE ONLY request_draft
    ADD CONSTRAINT request_draft_changed_by_fkey FOREIGN KEY (changed_by_id) REFERENCES staff(id);

ALTER TABLE ONLY request_draft
    ADD CONSTRAINT request_draft_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id) ON DELETE CASCADE;

ALTER TABLE ONLY request_draft
    ADD CONSTRAINT request_draft_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY request_draft
    ADD CONSTRAINT request_draft_list_id_fkey FOREIGN KEY (list_id) REFERENCES request_list(id) ON DELETE SET NULL;

ALTER TABLE ONLY request_draft
    ADD CONSTRAINT request_draft_made_by_fkey FOREIGN KEY (made_by_id) REFERENCES staff(id);

ALTER TABLE ONLY request
    ADD CONSTRAINT request_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY request_list
    ADD CONSTRAINT request_list_changed_by_fkey FOREIGN KEY (changed_by_id) REFERENCES staff(id);

ALTER TABLE ONLY request_list
    ADD CONSTRAINT request_list_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY request_list
    ADD CONSTRAINT request_list_group_id_fkey FOREIGN KEY (group_id) REFERENCES staff_group(id) ON DELETE SET NULL;

ALTER TABLE ONLY request
    ADD CONSTRAINT request_list_id_fkey FOREIGN KEY (list_id) REFERENCES request_list(id) ON DELETE SET NULL;

ALTER TABLE ONLY request_list
    ADD CONSTRAINT request_list_made_by_fkey FOREIGN KEY (made_by_id) REFERENCES staff(id);

ALTER TABLE ONLY request_list_version
    ADD CONSTRAINT request_list_version_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY request_list_version
    ADD CONSTRAINT request_list_version_kept_by_fkey FOREIGN KEY (kept_by_id) REFERENCES staff(id);

ALTER TABLE ONLY request_list_version
    ADD CONSTRAINT request_list_version_list_id_fkey FOREIGN KEY (list_id) REFERENCES request_list(id) ON DELETE CASCADE;

ALTER TABLE ONLY request
    ADD CONSTRAINT request_raised_by_fkey FOREIGN KEY (raised_by_id) REFERENCES contact(id);

ALTER TABLE ONLY request
    ADD CONSTRAINT request_recurring_id_fkey FOREIGN KEY (recurring_id) REFERENCES recurring_request(id) ON DELETE SET NULL;

ALTER TABLE ONLY seal_certificate
    ADD CONSTRAINT seal_certificate_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY service
    ADD CONSTRAINT service_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY session
    ADD CONSTRAINT session_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY session
    ADD CONSTRAINT session_device_id_fkey FOREIGN KEY (device_id) REFERENCES device(id);

ALTER TABLE ONLY session
    ADD CONSTRAINT session_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY session
    ADD CONSTRAINT session_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY sign_in_step
    ADD CONSTRAINT sign_in_step_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY sign_in_step
    ADD CONSTRAINT sign_in_step_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY sign_in_step
    ADD CONSTRAINT sign_in_step_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY signature
    ADD CONSTRAINT signature_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY signature
    ADD CONSTRAINT signature_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY signature
    ADD CONSTRAINT signature_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY signature
    ADD CONSTRAINT signature_letter_id_fkey FOREIGN KEY (letter_id) REFERENCES letter(id);

ALTER TABLE ONLY signature
    ADD CONSTRAINT signature_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY signed_answers
    ADD CONSTRAINT signed_answers_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY signed_answers
    ADD CONSTRAINT signed_answers_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY signed_answers
    ADD CONSTRAINT signed_answers_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY signed_answers
    ADD CONSTRAINT signed_answers_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id);

ALTER TABLE ONLY staff_feed
    ADD CONSTRAINT staff_feed_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY staff_feed
    ADD CONSTRAINT staff_feed_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY staff
    ADD CONSTRAINT staff_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY staff_group
    ADD CONSTRAINT staff_group_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY staff_group_member
    ADD CONSTRAINT staff_group_member_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY staff_group_member
    ADD CONSTRAINT staff_group_member_group_id_fkey FOREIGN KEY (group_id) REFERENCES staff_group(id) ON DELETE CASCADE;

ALTER TABLE ONLY staff_group_member
    ADD CONSTRAINT staff_group_member_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY staff
    ADD CONSTRAINT staff_practice_of_fkey FOREIGN KEY (practice_of_id) REFERENCES staff(id);

ALTER TABLE ONLY staff_telling
    ADD CONSTRAINT staff_telling_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY staff_telling
    ADD CONSTRAINT staff_telling_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY staff_told_client
    ADD CONSTRAINT staff_told_client_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY staff_told_client
    ADD CONSTRAINT staff_told_client_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY staff_told_client
    ADD CONSTRAINT staff_told_client_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY statement
    ADD CONSTRAINT statement_account_id_fkey FOREIGN KEY (account_id) REFERENCES account(id) ON DELETE SET NULL;

ALTER TABLE ONLY statement
    ADD CONSTRAINT statement_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY statement
    ADD CONSTRAINT statement_explained_by_id_fkey FOREIGN KEY (explained_by_id) REFERENCES staff(id);

ALTER TABLE ONLY statement
    ADD CONSTRAINT statement_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY statement_label
    ADD CONSTRAINT statement_label_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY statement_label
    ADD CONSTRAINT statement_label_taught_by_id_fkey FOREIGN KEY (taught_by_id) REFERENCES staff(id);

ALTER TABLE ONLY statement
    ADD CONSTRAINT statement_paper_id_fkey FOREIGN KEY (paper_id) REFERENCES paper(id) ON DELETE CASCADE;

ALTER TABLE ONLY statement
    ADD CONSTRAINT statement_put_right_by_id_fkey FOREIGN KEY (put_right_by_id) REFERENCES staff(id);

ALTER TABLE ONLY task
    ADD CONSTRAINT task_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id);

ALTER TABLE ONLY task
    ADD CONSTRAINT task_done_by_id_fkey FOREIGN KEY (done_by_id) REFERENCES staff(id);

ALTER TABLE ONLY task
    ADD CONSTRAINT task_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY task
    ADD CONSTRAINT task_item_id_fkey FOREIGN KEY (item_id) REFERENCES item(id) ON DELETE SET NULL;

ALTER TABLE ONLY task
    ADD CONSTRAINT task_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY text_factor
    ADD CONSTRAINT text_factor_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY text_factor
    ADD CONSTRAINT text_factor_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY text_factor
    ADD CONSTRAINT text_factor_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY told_device
    ADD CONSTRAINT told_device_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id);

ALTER TABLE ONLY told_device
    ADD CONSTRAINT told_device_device_id_fkey FOREIGN KEY (device_id) REFERENCES device(id) ON DELETE CASCADE;

ALTER TABLE ONLY told_device
    ADD CONSTRAINT told_device_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY told_device
    ADD CONSTRAINT told_device_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id);

ALTER TABLE ONLY transaction_file
    ADD CONSTRAINT transaction_file_account_id_fkey FOREIGN KEY (account_id) REFERENCES account(id) ON DELETE SET NULL;

ALTER TABLE ONLY transaction_file
    ADD CONSTRAINT transaction_file_brought_by_fkey FOREIGN KEY (brought_by_id) REFERENCES staff(id);

ALTER TABLE ONLY transaction_file
    ADD CONSTRAINT transaction_file_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id) ON DELETE CASCADE;

ALTER TABLE ONLY transaction_file
    ADD CONSTRAINT transaction_file_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY transaction_line
    ADD CONSTRAINT transaction_line_asked_item_fkey FOREIGN KEY (asked_item_id) REFERENCES item(id) ON DELETE SET NULL;

ALTER TABLE ONLY transaction_line
    ADD CONSTRAINT transaction_line_client_id_fkey FOREIGN KEY (client_id) REFERENCES client(id) ON DELETE CASCADE;

ALTER TABLE ONLY transaction_line
    ADD CONSTRAINT transaction_line_file_id_fkey FOREIGN KEY (file_id) REFERENCES transaction_file(id) ON DELETE CASCADE;

ALTER TABLE ONLY transaction_line
    ADD CONSTRAINT transaction_line_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY unfinished_upload
    ADD CONSTRAINT unfinished_upload_contact_id_fkey FOREIGN KEY (contact_id) REFERENCES contact(id) ON DELETE CASCADE;

ALTER TABLE ONLY unfinished_upload
    ADD CONSTRAINT unfinished_upload_firm_id_fkey FOREIGN KEY (firm_id) REFERENCES firm(id);

ALTER TABLE ONLY unfinished_upload
    ADD CONSTRAINT unfinished_upload_staff_id_fkey FOREIGN KEY (staff_id) REFERENCES staff(id) ON DELETE CASCADE;

ALTER TABLE account ENABLE ROW LEVEL SECURITY;

ALTER TABLE answer_passed ENABLE ROW LEVEL SECURITY;

ALTER TABLE ask_sheet ENABLE ROW LEVEL SECURITY;

ALTER TABLE attachment ENABLE ROW LEVEL SECURITY;

ALTER TABLE authenticator ENABLE ROW LEVEL SECURITY;

CREATE POLICY beside_own_items ON attachment FOR SELECT TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (EXISTS ( SELECT
   FROM item i
  WHERE (i.attachments @> ARRAY[attachment.id])))));

ALTER TABLE brand ENABLE ROW LEVEL SECURITY;

ALTER TABLE chase_call ENABLE ROW LEVEL SECURITY;

ALTER TABLE chase_change ENABLE ROW LEVEL SECURITY;

ALTER TABLE chase_hold ENABLE ROW LEVEL SECURITY;

ALTER TABLE client ENABLE ROW LEVEL SECURITY;

ALTER TABLE client_contact ENABLE ROW LEVEL SECURITY;

ALTER TABLE client_form ENABLE ROW LEVEL SECURITY;

ALTER TABLE client_import ENABLE ROW LEVEL SECURITY;

ALTER TABLE client_import_row ENABLE ROW LEVEL SECURITY;

ALTER TABLE client_import_trace ENABLE ROW LEVEL SECURITY;

ALTER TABLE client_look ENABLE ROW LEVEL SECURITY;

ALTER TABLE client_note ENABLE ROW LEVEL SECURITY;

ALTER TABLE client_right ENABLE ROW LEVEL SECURITY;

CREATE POLICY client_rights ON event FOR INSERT TO lantern_app WITH CHECK (((firm_id = ( SELECT current_firm() AS current_firm)) AND ((client_id IS NULL) OR
CASE
    WHEN (verb = ANY (ARRAY['looked_as'::text, 'paper_opened'::text, 'paper_downloaded'::text])) THEN true
    WHEN (verb = ANY (ARRAY['client_locked'::text, 'client_unlocked'::text, 'client_ended'::text, 'client_reopened'::text, 'clients_merged'::text, 'merge_undone'::text, 'client_handed_over'::text, 'client_rights_changed'::text])) THEN (client_id <> ALL (( SELECT not_administered_clients() AS not_administered_clients)::uuid[]))
    ELSE (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))
END)));

ALTER TABLE client_summary ENABLE ROW LEVEL SECURITY;

ALTER TABLE contact ENABLE ROW LEVEL SECURITY;

ALTER TABLE contact_heard ENABLE ROW LEVEL SECURITY;

ALTER TABLE device ENABLE ROW LEVEL SECURITY;

ALTER TABLE engagement ENABLE ROW LEVEL SECURITY;

ALTER TABLE engagement_service ENABLE ROW LEVEL SECURITY;

ALTER TABLE event ENABLE ROW LEVEL SECURITY;

ALTER TABLE fact ENABLE ROW LEVEL SECURITY;

ALTER TABLE fact_definition ENABLE ROW LEVEL SECURITY;

ALTER TABLE filing_rule ENABLE ROW LEVEL SECURITY;

ALTER TABLE firm ENABLE ROW LEVEL SECURITY;

ALTER TABLE folder ENABLE ROW LEVEL SECURITY;

ALTER TABLE folder_contact ENABLE ROW LEVEL SECURITY;

ALTER TABLE former_short_name ENABLE ROW LEVEL SECURITY;

ALTER TABLE holiday ENABLE ROW LEVEL SECURITY;

ALTER TABLE identity_check ENABLE ROW LEVEL SECURITY;

CREATE POLICY in_use_of_firm ON client_form FOR SELECT TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (ended_at IS NULL)));

CREATE POLICY in_use_of_firm ON message_text FOR SELECT TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND in_use));

ALTER TABLE incoming_mail ENABLE ROW LEVEL SECURITY;

ALTER TABLE incoming_text ENABLE ROW LEVEL SECURITY;

ALTER TABLE invitation ENABLE ROW LEVEL SECURITY;

ALTER TABLE invitation_run ENABLE ROW LEVEL SECURITY;

ALTER TABLE item ENABLE ROW LEVEL SECURITY;

ALTER TABLE item_secret ENABLE ROW LEVEL SECURITY;

ALTER TABLE legal_hold ENABLE ROW LEVEL SECURITY;

ALTER TABLE letter ENABLE ROW LEVEL SECURITY;

ALTER TABLE letter_signer ENABLE ROW LEVEL SECURITY;

ALTER TABLE letter_trail ENABLE ROW LEVEL SECURITY;

ALTER TABLE letter_visit ENABLE ROW LEVEL SECURITY;

ALTER TABLE line_paper ENABLE ROW LEVEL SECURITY;

ALTER TABLE list_override ENABLE ROW LEVEL SECURITY;

CREATE POLICY may_work_add ON account AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON answer_passed AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON chase_call AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON chase_change AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((NOT belongs_to_not_worked(contact_id)));

CREATE POLICY may_work_add ON chase_hold AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))) AND ((contact_id IS NULL) OR (NOT belongs_to_not_worked(contact_id))) AND ((item_id IS NULL) OR (EXISTS ( SELECT
   FROM item i
  WHERE ((i.id = chase_hold.item_id) AND (i.client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])))))) AND ((request_id IS NULL) OR (EXISTS ( SELECT
   FROM request r
  WHERE ((r.id = chase_hold.request_id) AND (r.client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))))))));

CREATE POLICY may_work_add ON client_contact AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON client_note AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON client_summary AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON engagement AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON engagement_service AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON fact AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON filing_rule AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON folder AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON folder_contact AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON incoming_mail AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON invitation AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON item AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON item_secret AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON legal_hold AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON letter AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON letter_signer AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON line_paper AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON list_override AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON outside_signer AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON paper AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON payment_authorisation AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON public_answer AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON recurring_request AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON remark AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON request AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON request_draft AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON signature AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON signed_answers AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON statement AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_add ON task AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON transaction_file AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_add ON transaction_line AS RESTRICTIVE FOR INSERT TO lantern_app WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON account AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON answer_passed AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON chase_call AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON chase_change AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((NOT belongs_to_not_worked(contact_id)));

CREATE POLICY may_work_change ON chase_hold AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))) AND ((item_id IS NULL) OR (EXISTS ( SELECT
   FROM item i
  WHERE ((i.id = chase_hold.item_id) AND (i.client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])))))) AND ((request_id IS NULL) OR (EXISTS ( SELECT
   FROM request r
  WHERE ((r.id = chase_hold.request_id) AND (r.client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))))))));

CREATE POLICY may_work_change ON client_contact AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON client_note AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON client_summary AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON engagement AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON engagement_service AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON fact AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON filing_rule AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON folder AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON folder_contact AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON incoming_mail AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON invitation AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON item AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON item_secret AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON legal_hold AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON letter AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON letter_signer AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON line_paper AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON list_override AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON outside_signer AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON paper AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON payment_authorisation AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON public_answer AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON recurring_request AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON remark AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON request AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON request_draft AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON signature AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON signed_answers AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON statement AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK ((client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[])));

CREATE POLICY may_work_change ON task AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON transaction_file AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

CREATE POLICY may_work_change ON transaction_line AS RESTRICTIVE FOR UPDATE TO lantern_app USING (true) WITH CHECK (((client_id IS NULL) OR (client_id <> ALL (( SELECT not_worked_clients() AS not_worked_clients)::uuid[]))));

ALTER TABLE merge ENABLE ROW LEVEL SECURITY;

ALTER TABLE message ENABLE ROW LEVEL SECURITY;

ALTER TABLE message_item ENABLE ROW LEVEL SECURITY;

ALTER TABLE message_text ENABLE ROW LEVEL SECURITY;

ALTER TABLE note_told ENABLE ROW LEVEL SECURITY;

CREATE POLICY of_firm_when_shown ON paper AS RESTRICTIVE TO lantern_contact USING (((given_by_id IS NULL) OR ((shown_at IS NOT NULL) AND ((folder_id IS NULL) OR (folder_id IN ( SELECT f.id
   FROM folder f)))))) WITH CHECK ((given_by_id IS NULL));

CREATE POLICY open_to_me ON folder FOR SELECT TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[])) AND (client_may <> 'nothing'::text) AND ((NOT for_some) OR (id IN ( SELECT c.folder_id
   FROM folder_contact c
  WHERE (c.contact_id = ( SELECT current_contact() AS current_contact)))))));

ALTER TABLE outside_signer ENABLE ROW LEVEL SECURITY;

CREATE POLICY own_clients ON answer_passed TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON client TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (removed_at IS NULL) AND (id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON client_contact TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON client_summary TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON engagement TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON engagement_service TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON fact TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON item TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON item_secret TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON letter TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON letter_signer FOR SELECT TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON paper TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON payment_authorisation FOR INSERT TO lantern_contact WITH CHECK (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON remark TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[])) AND ((with_contact_id IS NULL) OR (with_contact_id = ( SELECT current_contact() AS current_contact)))));

CREATE POLICY own_clients ON request TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON signature TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients ON signed_answers TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_clients_read ON event FOR SELECT TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_firm ON fact_definition FOR SELECT TO lantern_contact USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY own_firm ON firm TO lantern_app USING ((id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY own_firm_of_contact ON firm TO lantern_contact USING ((id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY own_hold_ended ON chase_hold FOR UPDATE TO lantern_contact USING ((contact_id = ( SELECT current_contact() AS current_contact)));

CREATE POLICY own_hold_set ON chase_hold FOR INSERT TO lantern_contact WITH CHECK (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_part ON letter_signer FOR UPDATE TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact)) AND (client_id = ANY (( SELECT my_clients() AS my_clients)::uuid[]))));

CREATE POLICY own_rows ON authenticator TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON device TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON folder_contact FOR SELECT TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON invitation TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON message TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON passkey TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON password_reset TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON recovery_code TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON session TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON text_factor TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON told_device TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

CREATE POLICY own_rows ON unfinished_upload TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id = ( SELECT current_contact() AS current_contact))));

ALTER TABLE paper ENABLE ROW LEVEL SECURITY;

ALTER TABLE paper_announcement ENABLE ROW LEVEL SECURITY;

ALTER TABLE passkey ENABLE ROW LEVEL SECURITY;

ALTER TABLE password_reset ENABLE ROW LEVEL SECURITY;

ALTER TABLE payment_authorisation ENABLE ROW LEVEL SECURITY;

ALTER TABLE picture ENABLE ROW LEVEL SECURITY;

ALTER TABLE portal_look ENABLE ROW LEVEL SECURITY;

ALTER TABLE practice_clearing ENABLE ROW LEVEL SECURITY;

ALTER TABLE proposed_folder ENABLE ROW LEVEL SECURITY;

ALTER TABLE public_answer ENABLE ROW LEVEL SECURITY;

ALTER TABLE public_file ENABLE ROW LEVEL SECURITY;

ALTER TABLE public_page ENABLE ROW LEVEL SECURITY;

ALTER TABLE questionnaire ENABLE ROW LEVEL SECURITY;

ALTER TABLE questionnaire_version ENABLE ROW LEVEL SECURITY;

CREATE POLICY read_heard ON contact_heard FOR SELECT TO lantern_contact USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY read_holds ON chase_hold FOR SELECT TO lantern_contact USING ((firm_id = ( SELECT current_firm() AS current_firm)));

ALTER TABLE recovery_code ENABLE ROW LEVEL SECURITY;

ALTER TABLE recurring_occurrence ENABLE ROW LEVEL SECURITY;

ALTER TABLE recurring_request ENABLE ROW LEVEL SECURITY;

ALTER TABLE remark ENABLE ROW LEVEL SECURITY;

ALTER TABLE request ENABLE ROW LEVEL SECURITY;

ALTER TABLE request_announcement ENABLE ROW LEVEL SECURITY;

ALTER TABLE request_draft ENABLE ROW LEVEL SECURITY;

ALTER TABLE request_list ENABLE ROW LEVEL SECURITY;

ALTER TABLE request_list_version ENABLE ROW LEVEL SECURITY;

CREATE POLICY same_firm ON account TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON answer_passed TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON ask_sheet TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON attachment TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON authenticator TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON brand TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON chase_call TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON chase_change TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id <> ALL (( SELECT unseen_people() AS unseen_people)::uuid[]))));

CREATE POLICY same_firm ON chase_hold TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND ((client_id IS NULL) OR (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))) AND ((contact_id IS NULL) OR (contact_id <> ALL (( SELECT unseen_people() AS unseen_people)::uuid[]))) AND ((item_id IS NULL) OR (EXISTS ( SELECT
   FROM item i
  WHERE (i.id = chase_hold.item_id)))) AND ((request_id IS NULL) OR (EXISTS ( SELECT
   FROM request r
  WHERE (r.id = chase_hold.request_id))))));

CREATE POLICY same_firm ON client TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (removed_at IS NULL) AND (id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON client_contact TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON client_form TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON client_import TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON client_import_row TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON client_import_trace TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON client_look TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON client_note TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON client_right TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON client_summary TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON contact TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (removed_at IS NULL) AND (id <> ALL (( SELECT unseen_people() AS unseen_people)::uuid[]))));

CREATE POLICY same_firm ON contact_heard TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id <> ALL (( SELECT unseen_people() AS unseen_people)::uuid[]))));

CREATE POLICY same_firm ON device TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON engagement TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON engagement_service TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON fact TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON fact_definition TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON filing_rule TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON folder TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON folder_contact TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON former_short_name TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON holiday TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON identity_check TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (EXISTS ( SELECT
   FROM letter_signer s
  WHERE (s.id = identity_check.signer_id)))));

CREATE POLICY same_firm ON incoming_mail TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON incoming_text TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id <> ALL (( SELECT unseen_people() AS unseen_people)::uuid[]))));

CREATE POLICY same_firm ON invitation TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON invitation_run TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON item TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON item_secret TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON legal_hold TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON letter TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON letter_signer TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON letter_trail FOR SELECT TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (EXISTS ( SELECT
   FROM letter l
  WHERE (l.id = letter_trail.letter_id)))));

CREATE POLICY same_firm ON letter_visit TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (EXISTS ( SELECT
   FROM letter_signer s
  WHERE (s.id = letter_visit.signer_id)))));

CREATE POLICY same_firm ON line_paper TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON list_override TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON merge TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON message TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND ((( SELECT cardinality(unseen_clients()) AS cardinality) = 0) OR (((client_id IS NULL) OR (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))) AND ((contact_id IS NULL) OR (contact_id <> ALL (( SELECT unseen_people() AS unseen_people)::uuid[]))) AND (NOT names_unseen(id))))));

CREATE POLICY same_firm ON message_item TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON message_text TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON note_told TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (EXISTS ( SELECT
   FROM client_note n
  WHERE (n.id = note_told.note_id)))));

CREATE POLICY same_firm ON outside_signer TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON paper TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON paper_announcement TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON passkey TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON password_reset TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON payment_authorisation TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON picture TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON portal_look TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (contact_id <> ALL (( SELECT unseen_people() AS unseen_people)::uuid[]))));

CREATE POLICY same_firm ON practice_clearing TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON proposed_folder TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON public_answer TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND ((client_id IS NULL) OR (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[])))));

CREATE POLICY same_firm ON public_file TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON public_page TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON questionnaire TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON questionnaire_version TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON recovery_code TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON recurring_occurrence TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON recurring_request TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON remark TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON request TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON request_announcement TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON request_draft TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON request_list TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON request_list_version TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON seal_certificate TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON service TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON session TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON sign_in_step TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON signature TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON signed_answers TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON staff TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON staff_feed TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON staff_group TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON staff_group_member TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON staff_telling TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON staff_told_client TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON statement TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON statement_label TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON task TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON text_factor TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON told_device TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm ON transaction_file TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON transaction_line TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))));

CREATE POLICY same_firm ON unfinished_upload TO lantern_app USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm_add_by_contact ON event FOR INSERT TO lantern_contact WITH CHECK ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm_of_contact ON brand FOR SELECT TO lantern_contact USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm_of_contact ON holiday TO lantern_contact USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm_of_contact ON picture FOR SELECT TO lantern_contact USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm_of_contact ON seal_certificate TO lantern_contact USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm_of_contact ON staff TO lantern_contact USING ((firm_id = ( SELECT current_firm() AS current_firm)));

CREATE POLICY same_firm_read ON event FOR SELECT TO lantern_app USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND ((client_id IS NULL) OR (client_id <> ALL (( SELECT unseen_clients() AS unseen_clients)::uuid[]))) AND ((contact_id IS NULL) OR (contact_id <> ALL (( SELECT unseen_people() AS unseen_people)::uuid[])))));

ALTER TABLE seal_certificate ENABLE ROW LEVEL SECURITY;

CREATE POLICY self ON contact TO lantern_contact USING (((firm_id = ( SELECT current_firm() AS current_firm)) AND (removed_at IS NULL) AND (id = ( SELECT current_contact() AS current_contact))));

ALTER TABLE service ENABLE ROW LEVEL SECURITY;

ALTER TABLE session ENABLE ROW LEVEL SECURITY;

ALTER TABLE sign_in_step ENABLE ROW LEVEL SECURITY;

ALTER TABLE signature ENABLE ROW LEVEL SECURITY;

ALTER TABLE signed_answers ENABLE ROW LEVEL SECURITY;

ALTER TABLE staff ENABLE ROW LEVEL SECURITY;

ALTER TABLE staff_feed ENABLE ROW LEVEL SECURITY;

ALTER TABLE staff_group ENABLE ROW LEVEL SECURITY;

ALTER TABLE staff_group_member ENABLE ROW LEVEL SECURITY;

ALTER TABLE staff_telling ENABLE ROW LEVEL SECURITY;

ALTER TABLE staff_told_client ENABLE ROW LEVEL SECURITY;

ALTER TABLE statement ENABLE ROW LEVEL SECURITY;

ALTER TABLE statement_label ENABLE ROW LEVEL SECURITY;

ALTER TABLE task ENABLE ROW LEVEL SECURITY;

ALTER TABLE text_factor ENABLE ROW LEVEL SECURITY;

ALTER TABLE told_device ENABLE ROW LEVEL SECURITY;

ALTER TABLE transaction_file ENABLE ROW LEVEL SECURITY;

ALTER TABLE transaction_line ENABLE ROW LEVEL SECURITY;

ALTER TABLE unfinished_upload ENABLE ROW LEVEL SECURITY;

GRANT USAGE ON SCHEMA public TO lantern_app;
GRANT USAGE ON SCHEMA public TO lantern_queue;
GRANT USAGE ON SCHEMA public TO lantern_contact;

REVOKE ALL ON FUNCTION add_ready_made_facts(firm uuid) FROM PUBLIC;

GRANT SELECT,INSERT ON TABLE event TO lantern_app;
GRANT SELECT,INSERT ON TABLE event TO lantern_contact;

REVOKE ALL ON FUNCTION add_to_letter_trails(new event) FROM PUBLIC;

REVOKE ALL ON FUNCTION address_is_taken(address citext) FROM PUBLIC;
GRANT ALL ON FUNCTION address_is_taken(address citext) TO lantern_app;

REVOKE ALL ON FUNCTION all_firms() FROM PUBLIC;
GRANT ALL ON FUNCTION all_firms() TO lantern_app;
GRANT ALL ON FUNCTION all_firms() TO lantern_queue;

REVOKE ALL ON FUNCTION all_likely_doubles(wanted uuid) FROM PUBLIC;

REVOKE ALL ON FUNCTION announce_clock() FROM PUBLIC;
GRANT ALL ON FUNCTION announce_clock() TO lantern_app;
GRANT ALL ON FUNCTION announce_clock() TO lantern_queue;

REVOKE ALL ON FUNCTION announce_event() FROM PUBLIC;
GRANT ALL ON FUNCTION announce_event() TO lantern_app;
GRANT ALL ON FUNCTION announce_event() TO lantern_queue;

REVOKE ALL ON FUNCTION asks_by_link(request uuid, person uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION asks_by_link(request uuid, person uuid) TO lantern_app;

REVOKE ALL ON FUNCTION awaited_letters(letters uuid[]) FROM PUBLIC;
GRANT ALL ON FUNCTION awaited_letters(letters uuid[]) TO lantern_app;

REVOKE ALL ON FUNCTION belongs_to_not_worked(person uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION belongs_to_not_worked(person uuid) TO lantern_app;
GRANT ALL ON FUNCTION belongs_to_not_worked(person uuid) TO lantern_contact;

REVOKE ALL ON FUNCTION clear_practice(kinds text[]) FROM PUBLIC;
GRANT ALL ON FUNCTION clear_practice(kinds text[]) TO lantern_app;

REVOKE ALL ON FUNCTION client_added() FROM PUBLIC;
GRANT ALL ON FUNCTION client_added() TO lantern_app;
GRANT ALL ON FUNCTION client_added() TO lantern_queue;

REVOKE ALL ON FUNCTION client_and_merged(wanted uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION client_and_merged(wanted uuid) TO lantern_app;

REVOKE ALL ON FUNCTION client_changed() FROM PUBLIC;

REVOKE ALL ON FUNCTION client_with_mail_key(key text) FROM PUBLIC;
GRANT ALL ON FUNCTION client_with_mail_key(key text) TO lantern_app;

REVOKE ALL ON FUNCTION clients_below(person uuid, wanted integer) FROM PUBLIC;

REVOKE ALL ON FUNCTION close_letter_links() FROM PUBLIC;

REVOKE ALL ON FUNCTION close_links_of_replaced() FROM PUBLIC;

REVOKE ALL ON FUNCTION colleagues_who_see(client uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION colleagues_who_see(client uuid) TO lantern_app;

REVOKE ALL ON FUNCTION compare_facts(from_name text, into_name text, OUT only_from integer, OUT alike integer, OUT differ integer) FROM PUBLIC;
GRANT ALL ON FUNCTION compare_facts(from_name text, into_name text, OUT only_from integer, OUT alike integer, OUT differ integer) TO lantern_app;

REVOKE ALL ON FUNCTION contacts_with_phone(number text) FROM PUBLIC;
GRANT ALL ON FUNCTION contacts_with_phone(number text) TO lantern_app;

REVOKE ALL ON FUNCTION count_fact(of_name text) FROM PUBLIC;
GRANT ALL ON FUNCTION count_fact(of_name text) TO lantern_app;

REVOKE ALL ON FUNCTION current_contact() FROM PUBLIC;
GRANT ALL ON FUNCTION current_contact() TO lantern_app;
GRANT ALL ON FUNCTION current_contact() TO lantern_queue;
GRANT ALL ON FUNCTION current_contact() TO lantern_contact;

REVOKE ALL ON FUNCTION current_firm() FROM PUBLIC;
GRANT ALL ON FUNCTION current_firm() TO lantern_app;
GRANT ALL ON FUNCTION current_firm() TO lantern_queue;
GRANT ALL ON FUNCTION current_firm() TO lantern_contact;

REVOKE ALL ON FUNCTION enqueue_job(task text, payload jsonb, key text, at timestamp with time zone) FROM PUBLIC;
GRANT ALL ON FUNCTION enqueue_job(task text, payload jsonb, key text, at timestamp with time zone) TO lantern_app;
GRANT ALL ON FUNCTION enqueue_job(task text, payload jsonb, key text, at timestamp with time zone) TO lantern_queue;
GRANT ALL ON FUNCTION enqueue_job(task text, payload jsonb, key text, at timestamp with time zone) TO lantern_contact;

REVOKE ALL ON FUNCTION enqueue_sending(firm uuid, messages uuid[], per_second integer, wait_seconds integer) FROM PUBLIC;
GRANT ALL ON FUNCTION enqueue_sending(firm uuid, messages uuid[], per_second integer, wait_seconds integer) TO lantern_app;
GRANT ALL ON FUNCTION enqueue_sending(firm uuid, messages uuid[], per_second integer, wait_seconds integer) TO lantern_contact;

REVOKE ALL ON FUNCTION find_feed(token bytea) FROM PUBLIC;
GRANT ALL ON FUNCTION find_feed(token bytea) TO lantern_app;

REVOKE ALL ON FUNCTION find_firm_of_invitation(token bytea) FROM PUBLIC;
GRANT ALL ON FUNCTION find_firm_of_invitation(token bytea) TO lantern_app;
GRANT ALL ON FUNCTION find_firm_of_invitation(token bytea) TO lantern_queue;

REVOKE ALL ON FUNCTION find_firm_of_message(wanted uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION find_firm_of_message(wanted uuid) TO lantern_app;
GRANT ALL ON FUNCTION find_firm_of_message(wanted uuid) TO lantern_queue;

REVOKE ALL ON FUNCTION find_firm_of_passkey(wanted text) FROM PUBLIC;
GRANT ALL ON FUNCTION find_firm_of_passkey(wanted text) TO lantern_app;

REVOKE ALL ON FUNCTION find_firm_of_reset(token bytea) FROM PUBLIC;
GRANT ALL ON FUNCTION find_firm_of_reset(token bytea) TO lantern_app;
GRANT ALL ON FUNCTION find_firm_of_reset(token bytea) TO lantern_queue;

REVOKE ALL ON FUNCTION find_firm_of_step(token bytea) FROM PUBLIC;
GRANT ALL ON FUNCTION find_firm_of_step(token bytea) TO lantern_app;

REVOKE ALL ON FUNCTION find_short_name(wanted text) FROM PUBLIC;
GRANT ALL ON FUNCTION find_short_name(wanted text) TO lantern_app;

REVOKE ALL ON FUNCTION find_staff_by_email(wanted text) FROM PUBLIC;
GRANT ALL ON FUNCTION find_staff_by_email(wanted text) TO lantern_app;
GRANT ALL ON FUNCTION find_staff_by_email(wanted text) TO lantern_queue;

REVOKE ALL ON FUNCTION firms_with_stuck_messages(before timestamp with time zone) FROM PUBLIC;
GRANT ALL ON FUNCTION firms_with_stuck_messages(before timestamp with time zone) TO lantern_app;
GRANT ALL ON FUNCTION firms_with_stuck_messages(before timestamp with time zone) TO lantern_queue;

REVOKE ALL ON FUNCTION forget_accounts_of_letter() FROM PUBLIC;

REVOKE ALL ON FUNCTION give_ready_made_facts() FROM PUBLIC;

REVOKE ALL ON FUNCTION hide_merged(what text, gone uuid, at timestamp with time zone) FROM PUBLIC;
GRANT ALL ON FUNCTION hide_merged(what text, gone uuid, at timestamp with time zone) TO lantern_app;

REVOKE ALL ON FUNCTION is_time_taken(wanted uuid, instant text) FROM PUBLIC;
GRANT ALL ON FUNCTION is_time_taken(wanted uuid, instant text) TO lantern_app;
GRANT ALL ON FUNCTION is_time_taken(wanted uuid, instant text) TO lantern_contact;

REVOKE ALL ON FUNCTION item_changed() FROM PUBLIC;
GRANT ALL ON FUNCTION item_changed() TO lantern_app;
GRANT ALL ON FUNCTION item_changed() TO lantern_queue;

REVOKE ALL ON FUNCTION item_updated() FROM PUBLIC;

REVOKE ALL ON FUNCTION keep_letter_trail() FROM PUBLIC;

REVOKE ALL ON FUNCTION last_text_to(number text) FROM PUBLIC;
GRANT ALL ON FUNCTION last_text_to(number text) TO lantern_app;

REVOKE ALL ON FUNCTION letters_say(letters uuid[]) FROM PUBLIC;
GRANT ALL ON FUNCTION letters_say(letters uuid[]) TO lantern_app;

REVOKE ALL ON FUNCTION likely_doubles(wanted uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION likely_doubles(wanted uuid) TO lantern_app;

REVOKE ALL ON FUNCTION look_of_token(token bytea) FROM PUBLIC;
GRANT ALL ON FUNCTION look_of_token(token bytea) TO lantern_app;

REVOKE ALL ON FUNCTION merge_facts(from_name text, into_name text, at timestamp with time zone) FROM PUBLIC;
GRANT ALL ON FUNCTION merge_facts(from_name text, into_name text, at timestamp with time zone) TO lantern_app;

REVOKE ALL ON FUNCTION message_to_answer(message uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION message_to_answer(message uuid) TO lantern_app;

REVOKE ALL ON FUNCTION my_clients() FROM PUBLIC;
GRANT ALL ON FUNCTION my_clients() TO lantern_app;
GRANT ALL ON FUNCTION my_clients() TO lantern_queue;
GRANT ALL ON FUNCTION my_clients() TO lantern_contact;

REVOKE ALL ON FUNCTION name_beside(person uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION name_beside(person uuid) TO lantern_contact;

REVOKE ALL ON FUNCTION names_unseen(message uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION names_unseen(message uuid) TO lantern_app;

REVOKE ALL ON FUNCTION not_administered_clients() FROM PUBLIC;
GRANT ALL ON FUNCTION not_administered_clients() TO lantern_app;

REVOKE ALL ON FUNCTION not_worked_clients() FROM PUBLIC;
GRANT ALL ON FUNCTION not_worked_clients() TO lantern_app;
GRANT ALL ON FUNCTION not_worked_clients() TO lantern_contact;

REVOKE ALL ON FUNCTION note_search_of_paper() FROM PUBLIC;

REVOKE ALL ON FUNCTION note_search_of_papers() FROM PUBLIC;

REVOKE ALL ON FUNCTION note_told(contacts uuid[], at timestamp with time zone) FROM PUBLIC;
GRANT ALL ON FUNCTION note_told(contacts uuid[], at timestamp with time zone) TO lantern_app;
GRANT ALL ON FUNCTION note_told(contacts uuid[], at timestamp with time zone) TO lantern_contact;

GRANT ALL ON FUNCTION paper_query(typed text) TO lantern_app;
GRANT ALL ON FUNCTION paper_query(typed text) TO lantern_contact;

REVOKE ALL ON FUNCTION papers_found(typed text) FROM PUBLIC;
GRANT ALL ON FUNCTION papers_found(typed text) TO lantern_app;

REVOKE ALL ON FUNCTION partners_for(client uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION partners_for(client uuid) TO lantern_app;

REVOKE ALL ON FUNCTION people_beside(item uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION people_beside(item uuid) TO lantern_contact;

GRANT ALL ON FUNCTION plain(words text) TO lantern_app;
GRANT ALL ON FUNCTION plain(words text) TO lantern_contact;

REVOKE ALL ON FUNCTION practice_of_firm(wanted uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION practice_of_firm(wanted uuid) TO lantern_app;

REVOKE ALL ON FUNCTION recount_clients(touched uuid[]) FROM PUBLIC;
GRANT ALL ON FUNCTION recount_clients(touched uuid[]) TO lantern_app;
GRANT ALL ON FUNCTION recount_clients(touched uuid[]) TO lantern_queue;

REVOKE ALL ON FUNCTION refuse_change() FROM PUBLIC;
GRANT ALL ON FUNCTION refuse_change() TO lantern_app;
GRANT ALL ON FUNCTION refuse_change() TO lantern_queue;

REVOKE ALL ON FUNCTION remove_imported(clients uuid[], contacts uuid[], at timestamp with time zone) FROM PUBLIC;
GRANT ALL ON FUNCTION remove_imported(clients uuid[], contacts uuid[], at timestamp with time zone) TO lantern_app;

REVOKE ALL ON FUNCTION requeue_lost_messages(planned_before timestamp with time zone) FROM PUBLIC;
GRANT ALL ON FUNCTION requeue_lost_messages(planned_before timestamp with time zone) TO lantern_app;

REVOKE ALL ON FUNCTION search_all_clients(typed text, digits text, most integer) FROM PUBLIC;

REVOKE ALL ON FUNCTION search_all_things(typed text, most integer) FROM PUBLIC;

REVOKE ALL ON FUNCTION search_clients(typed text, digits text, most integer) FROM PUBLIC;
GRANT ALL ON FUNCTION search_clients(typed text, digits text, most integer) TO lantern_app;

REVOKE ALL ON FUNCTION search_fact_anew(of_name text) FROM PUBLIC;
GRANT ALL ON FUNCTION search_fact_anew(of_name text) TO lantern_app;

REVOKE ALL ON FUNCTION search_things(typed text, most integer) FROM PUBLIC;
GRANT ALL ON FUNCTION search_things(typed text, most integer) TO lantern_app;

GRANT ALL ON FUNCTION search_words(words text) TO lantern_app;
GRANT ALL ON FUNCTION search_words(words text) TO lantern_contact;

REVOKE ALL ON FUNCTION services_of_clients(wanted uuid[]) FROM PUBLIC;
GRANT ALL ON FUNCTION services_of_clients(wanted uuid[]) TO lantern_app;
GRANT ALL ON FUNCTION services_of_clients(wanted uuid[]) TO lantern_contact;

REVOKE ALL ON FUNCTION session_of_token(token bytea) FROM PUBLIC;
GRANT ALL ON FUNCTION session_of_token(token bytea) TO lantern_app;

REVOKE ALL ON FUNCTION set_client_rights(person uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION set_client_rights(person uuid) TO lantern_app;

REVOKE ALL ON FUNCTION show_merged(what text, gone uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION show_merged(what text, gone uuid) TO lantern_app;

REVOKE ALL ON FUNCTION sign_of_life() FROM PUBLIC;
GRANT ALL ON FUNCTION sign_of_life() TO lantern_app;
GRANT ALL ON FUNCTION sign_of_life() TO lantern_queue;

REVOKE ALL ON FUNCTION signable_until(item uuid) FROM PUBLIC;
GRANT ALL ON FUNCTION signable_until(item uuid) TO lantern_app;
GRANT ALL ON FUNCTION signable_until(item uuid) TO lantern_contact;

REVOKE ALL ON FUNCTION similar_clients(wanted text, most integer) FROM PUBLIC;
GRANT ALL ON FUNCTION similar_clients(wanted text, most integer) TO lantern_app;

REVOKE ALL ON FUNCTION similar_to_all_clients(wanted text, most integer) FROM PUBLIC;

GRANT ALL ON FUNCTION to_iso(at timestamp with time zone) TO lantern_app;
GRANT ALL ON FUNCTION to_iso(at timestamp with time zone) TO lantern_contact;

REVOKE ALL ON FUNCTION unseen_clients() FROM PUBLIC;
GRANT ALL ON FUNCTION unseen_clients() TO lantern_app;
GRANT ALL ON FUNCTION unseen_clients() TO lantern_contact;

REVOKE ALL ON FUNCTION unseen_people() FROM PUBLIC;
GRANT ALL ON FUNCTION unseen_people() TO lantern_app;

REVOKE ALL ON FUNCTION values_of_fact(of_name text) FROM PUBLIC;
GRANT ALL ON FUNCTION values_of_fact(of_name text) TO lantern_app;

REVOKE ALL ON FUNCTION wait_for_new_version() FROM PUBLIC;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE remark TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE remark TO lantern_contact;

REVOKE ALL ON FUNCTION who_answers(r remark) FROM PUBLIC;
GRANT ALL ON FUNCTION who_answers(r remark) TO lantern_app;

REVOKE ALL ON FUNCTION worded_drafts(pattern text) FROM PUBLIC;
GRANT ALL ON FUNCTION worded_drafts(pattern text) TO lantern_app;

REVOKE ALL ON FUNCTION worded_items(pattern text, phases text[]) FROM PUBLIC;
GRANT ALL ON FUNCTION worded_items(pattern text, phases text[]) TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE account TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE answer_passed TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE answer_passed TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE ask_sheet TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE attachment TO lantern_app;
GRANT SELECT ON TABLE attachment TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE authenticator TO lantern_app;
GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE authenticator TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE brand TO lantern_app;
GRANT SELECT ON TABLE brand TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE chase_call TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE chase_change TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE chase_hold TO lantern_app;
GRANT INSERT ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(id) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(firm_id) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(contact_id) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(client_id) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(until) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(why) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(set_at) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(ended_at),UPDATE(ended_at) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(item_id) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(request_id) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(ends_with) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(ends_item_id) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT(happened_at) ON TABLE chase_hold TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE client TO lantern_app;
GRANT SELECT ON TABLE client TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE client_contact TO lantern_app;
GRANT SELECT ON TABLE client_contact TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE client_form TO lantern_app;
GRANT SELECT ON TABLE client_form TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE client_import TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE client_import_row TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE client_import_trace TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE client_look TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE client_note TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE client_right TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE client_summary TO lantern_app;
GRANT SELECT ON TABLE client_summary TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE contact TO lantern_app;
GRANT SELECT,UPDATE ON TABLE contact TO lantern_contact;

GRANT SELECT ON TABLE contact_heard TO lantern_app;
GRANT SELECT ON TABLE contact_heard TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE demo_clock TO lantern_app;
GRANT SELECT ON TABLE demo_clock TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE device TO lantern_app;
GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE device TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE session TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE session TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE told_device TO lantern_app;
GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE told_device TO lantern_contact;

GRANT SELECT ON TABLE device_told TO lantern_app;
GRANT SELECT ON TABLE device_told TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE engagement TO lantern_app;

GRANT SELECT(id) ON TABLE engagement TO lantern_contact;

GRANT SELECT(firm_id) ON TABLE engagement TO lantern_contact;

GRANT SELECT(client_id) ON TABLE engagement TO lantern_contact;

GRANT SELECT(ended_on) ON TABLE engagement TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE engagement_service TO lantern_app;
GRANT SELECT ON TABLE engagement_service TO lantern_contact;

GRANT USAGE ON SEQUENCE event_id_seq TO lantern_app;
GRANT USAGE ON SEQUENCE event_id_seq TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE fact TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE fact TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE fact_definition TO lantern_app;
GRANT SELECT ON TABLE fact_definition TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE filing_rule TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE firm TO lantern_app;
GRANT SELECT ON TABLE firm TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE folder TO lantern_app;
GRANT SELECT ON TABLE folder TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE folder_contact TO lantern_app;
GRANT SELECT ON TABLE folder_contact TO lantern_contact;

GRANT SELECT,INSERT,DELETE ON TABLE former_short_name TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE holiday TO lantern_app;
GRANT SELECT ON TABLE holiday TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE identity_check TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE identity_service TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE incoming_mail TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE incoming_text TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE invitation TO lantern_app;
GRANT SELECT,UPDATE ON TABLE invitation TO lantern_contact;

GRANT SELECT,INSERT ON TABLE invitation_run TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE item TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE item TO lantern_contact;

GRANT SELECT ON TABLE item_hold TO lantern_app;
GRANT SELECT ON TABLE item_hold TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE item_secret TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE item_secret TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE legal_hold TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE letter TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE letter TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE letter_signer TO lantern_app;
GRANT SELECT ON TABLE letter_signer TO lantern_contact;

GRANT UPDATE(state) ON TABLE letter_signer TO lantern_contact;

GRANT UPDATE(shown_whole_at) ON TABLE letter_signer TO lantern_contact;

GRANT UPDATE(on_paper_at) ON TABLE letter_signer TO lantern_contact;

GRANT SELECT ON TABLE letter_trail TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE letter_visit TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE line_paper TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE list_override TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE merge TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE message TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE message TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE message_item TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE message_text TO lantern_app;
GRANT SELECT ON TABLE message_text TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE migration TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE note_told TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE outside_signer TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE paper TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE paper TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE paper_announcement TO lantern_app;

GRANT SELECT ON TABLE paper_keeping TO lantern_app;

GRANT SELECT ON TABLE paper_of_line TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE statement TO lantern_app;

GRANT SELECT ON TABLE paper_of_payment TO lantern_app;

GRANT SELECT ON TABLE paper_signer TO lantern_app;
GRANT SELECT ON TABLE paper_signer TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE passkey TO lantern_app;
GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE passkey TO lantern_contact;

GRANT SELECT,INSERT,DELETE ON TABLE passkey_challenge TO lantern_app;
GRANT SELECT,INSERT,DELETE ON TABLE passkey_challenge TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE password_reset TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE password_reset TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE payment_authorisation TO lantern_app;
GRANT INSERT ON TABLE payment_authorisation TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE picture TO lantern_app;
GRANT SELECT ON TABLE picture TO lantern_contact;

GRANT SELECT ON TABLE placed_statement TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE portal_look TO lantern_app;

GRANT SELECT,INSERT ON TABLE practice_clearing TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE proposed_folder TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE public_answer TO lantern_app;

GRANT SELECT,INSERT,DELETE ON TABLE public_file TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE public_page TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE questionnaire TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE questionnaire_version TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE rate_limit TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE recovery_code TO lantern_app;
GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE recovery_code TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE recurring_occurrence TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE recurring_request TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE request TO lantern_app;
GRANT SELECT,INSERT ON TABLE request TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE request_announcement TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE request_draft TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE request_list TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE request_list_version TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE seal_certificate TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE service TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE sign_in_step TO lantern_app;

GRANT SELECT,INSERT,UPDATE ON TABLE signature TO lantern_app;
GRANT SELECT,INSERT,UPDATE ON TABLE signature TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE signed_answers TO lantern_app;
GRANT SELECT,INSERT ON TABLE signed_answers TO lantern_contact;

GRANT SELECT,INSERT,UPDATE ON TABLE staff TO lantern_app;

GRANT SELECT(id) ON TABLE staff TO lantern_contact;

GRANT SELECT(firm_id) ON TABLE staff TO lantern_contact;

GRANT SELECT(name) ON TABLE staff TO lantern_contact;

GRANT SELECT(email) ON TABLE staff TO lantern_contact;

GRANT SELECT(role) ON TABLE staff TO lantern_contact;

GRANT SELECT(suspended_at) ON TABLE staff TO lantern_contact;

GRANT SELECT(practice_of_id) ON TABLE staff TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE staff_feed TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE staff_group TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE staff_group_member TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE staff_telling TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE staff_told_client TO lantern_app;

GRANT SELECT,INSERT,DELETE ON TABLE statement_label TO lantern_app;

GRANT SELECT ON TABLE stopped_signer TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE transaction_file TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE task TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE text_factor TO lantern_app;
GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE text_factor TO lantern_contact;

GRANT SELECT ON TABLE tied_person TO lantern_app;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE transaction_line TO lantern_app;

GRANT SELECT,INSERT,DELETE ON TABLE unfinished_upload TO lantern_app;
GRANT SELECT,INSERT,DELETE ON TABLE unfinished_upload TO lantern_contact;

GRANT SELECT,INSERT,DELETE,UPDATE ON TABLE worker_beat TO lantern_app;
