create extension if not exists pg_trgm;

-- A client may be locked (nothing new is asked, nobody is chased) or ended (only read), and come back.
alter table client
	add column state text not null default 'active' check (state in ('active', 'locked', 'ended')),
	add column state_at timestamptz,
	add column state_by text,
	add column state_reason text;

create index client_closed on client (firm_id) where state <> 'active';

alter table contact
	add column phone text check (phone ~ '^\+[1-9][0-9]{6,14}$');
alter table client_contact add column role text not null default '';
-- the list of clients reads people by client and in their order
create index client_contact_by_rank on client_contact (client_id, rank);

-- What is known about a client: a correction is a new row, the old one stays with the day it was replaced.
create table fact (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	name text not null check (name ~ '^[a-z][a-z_]{1,40}$'),
	value text not null,
	said_by_kind text not null check (said_by_kind in ('staff', 'contact', 'machine')),
	said_by uuid,
	said_by_name text not null,
	said_at timestamptz not null,
	replaced_at timestamptz
);
create unique index fact_current on fact (client_id, name) where replaced_at is null;
create index fact_history on fact (client_id, name, said_at desc);

-- The firm's own list of what it does, and the engagements in which it does it for a client.
create table service (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null,
	position int not null,
	created_at timestamptz not null,
	ended_at timestamptz
);
create unique index service_by_name on service (firm_id, lower(name)) where ended_at is null;

create table engagement (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	name text not null,
	began_on date not null,
	created_at timestamptz not null,
	ended_on date,
	ended_by text,
	end_reason text
);
create index engagement_by_client on engagement (client_id, began_on);

create table engagement_service (
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	engagement_id uuid not null references engagement,
	service_id uuid not null references service,
	primary key (engagement_id, service_id)
);
create index engagement_service_by_client on engagement_service (client_id);

-- Notes are the firm's alone: the role of contacts gets nothing here.
create table client_note (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	words text not null,
	written_by uuid not null references staff,
	written_at timestamptz not null,
	removed_at timestamptz
);
create index client_note_by_client on client_note (client_id, written_at desc) where removed_at is null;

-- Which clients somebody opened last, for finding them again.
create table client_look (
	firm_id uuid not null references firm,
	staff_id uuid not null references staff,
	client_id uuid not null references client,
	at timestamptz not null,
	primary key (staff_id, client_id)
);
create index client_look_by_time on client_look (staff_id, at desc);

do $$
declare
	t text;
begin
	foreach t in array array['fact', 'service', 'engagement', 'engagement_service', 'client_note', 'client_look'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()))', t);
		execute format('grant select, insert, update on %I to lantern_app', t);
	end loop;
	foreach t in array array['fact', 'engagement_service'] loop
		execute format('create policy own_clients on %I to lantern_contact using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[]))', t);
		execute format('grant select on %I to lantern_contact', t);
	end loop;
end $$;
grant delete on client_contact, engagement_service to lantern_app;

-- The list of clients shows who has ended; their name and who looks after them follow the client.
alter table client_position add column state text not null default 'active';
create function client_changed() returns trigger language plpgsql security definer set search_path = public as $$
begin
	update client_position p set name = c.name, responsible_id = c.responsible_id, state = c.state
		from changed c where c.id = p.client_id and (p.name, p.responsible_id, p.state) is distinct from (c.name, c.responsible_id, c.state);
	return null;
end $$;
revoke execute on function client_changed from public;
create trigger client_updated after update on client referencing new table as changed
	for each statement execute function client_changed();
drop index client_position_by_wait, client_position_by_name, client_position_to_look_at;
create index client_position_by_wait on client_position (firm_id, wait_key, client_id) where state <> 'ended';
create index client_position_by_name on client_position (firm_id, lower(name), client_id) where state <> 'ended';
create index client_position_to_look_at on client_position (firm_id, wait_key) where to_look_at > 0 and state <> 'ended';
create index client_position_ended on client_position (firm_id, lower(name), client_id) where state = 'ended';

-- Searching by any part of a word. Patterns are not leakproof, so that row-level security would keep them from
-- the indexes: the question is asked here, within the firm of the transaction, and answers ids only.
create index client_name_parts on client using gin (lower(name) gin_trgm_ops);
create index contact_name_parts on contact using gin (lower(name) gin_trgm_ops);
create index contact_email_parts on contact using gin (lower(email::text) gin_trgm_ops);
create index contact_phone_parts on contact using gin (phone gin_trgm_ops) where phone is not null;
create index fact_number_parts on fact using gin (lower(value) gin_trgm_ops) where name = 'tax_number' and replaced_at is null;

-- Which clients match a pattern (of like, in lower case), and by what: 1 name, 2 contact, 3 e-mail, 4 phone, 5 tax number.
create function search_clients(pattern text, digits text, most int) returns table (client_id uuid, reason int, found text)
language plpgsql stable security definer set search_path = public as $$
declare
	firm uuid := current_firm();
begin
	return query
	select distinct on (m.client_id) m.client_id, m.reason, m.found from (
		(select c.id client_id, 1 reason, c.name found from client c where c.firm_id = firm and lower(c.name) like pattern limit most)
		union all
		(select cc.client_id, 2, c.name from contact c join client_contact cc on cc.contact_id = c.id where c.firm_id = firm and lower(c.name) like pattern limit most)
		union all
		(select cc.client_id, 3, c.email::text from contact c join client_contact cc on cc.contact_id = c.id where c.firm_id = firm and lower(c.email::text) like pattern limit most)
		union all
		(select cc.client_id, 4, c.phone from contact c join client_contact cc on cc.contact_id = c.id
			where digits <> '' and c.firm_id = firm and c.phone like '%' || digits || '%' limit most)
		union all
		(select f.client_id, 5, f.value from fact f where f.firm_id = firm and f.name = 'tax_number' and f.replaced_at is null and lower(f.value) like pattern limit most)
	) m order by m.client_id, m.reason;
end $$;
revoke execute on function search_clients from public;
grant execute on function search_clients to lantern_app;
