-- A person may be known before their address is: nothing goes to them until it is added.
alter table contact alter column email drop not null;
alter table contact drop constraint contact_mail_problem_check;
alter table contact
	add constraint contact_mail_problem_check check (mail_problem in ('bounced', 'opted_out', 'no_address')),
	add constraint contact_address_or_none check ((email is null) = (mail_problem is not distinct from 'no_address'));

-- Events name clients and people for ever, so what an undone import had added stays as a row, and is seen by nobody.
alter table client add column removed_at timestamptz;
alter table contact add column removed_at timestamptz;
alter table contact drop constraint contact_firm_id_email_key;
create unique index contact_by_email on contact (firm_id, email) where removed_at is null;
create index contact_without_address on contact (firm_id, created_at, id) where mail_problem = 'no_address' and removed_at is null;

drop policy same_firm on client;
create policy same_firm on client to lantern_app using (firm_id = (select current_firm()) and removed_at is null);
drop policy own_clients on client;
create policy own_clients on client to lantern_contact
	using (firm_id = (select current_firm()) and removed_at is null and id = any ((select my_clients())::uuid[]));
drop policy same_firm on contact;
create policy same_firm on contact to lantern_app using (firm_id = (select current_firm()) and removed_at is null);
drop policy self on contact;
create policy self on contact to lantern_contact
	using (firm_id = (select current_firm()) and removed_at is null and id = (select current_contact()));

-- A list that was brought in: its file's columns, what each row would do, and what was done, so that it can be undone.
create table client_import (
	id uuid primary key,
	firm_id uuid not null references firm,
	file_name text not null,
	-- what the file turned out to be, in words: "semicolons, Windows-1252"
	format text not null,
	header text[] not null,
	-- by position in the file: the name of a column of core, or null for one that is left out
	columns text[] not null,
	state text not null check (state in ('ready', 'running', 'done', 'undone', 'left')),
	counts jsonb not null,
	-- rows done so far while it runs
	progress int not null default 0,
	stop_wanted boolean not null default false,
	trouble text,
	-- tells one plan from another: what was looked at is what is done
	plan_mark text not null,
	begun_by uuid not null references staff,
	begun_at timestamptz not null,
	done_by text,
	done_at timestamptz,
	undone_by text,
	undone_at timestamptz
);
create index client_import_by_time on client_import (firm_id, begun_at desc);

create table client_import_row (
	firm_id uuid not null references firm,
	import_id uuid not null references client_import,
	-- the row as a spreadsheet counts it
	line int not null,
	cells text[] not null,
	-- what a person decided about it: leave it out, it is new, or the id of the client it is
	decision text,
	outcome text not null check (outcome in ('create', 'update', 'same', 'ask', 'skip', 'wrong')),
	plan jsonb not null,
	primary key (import_id, line)
);
create index client_import_row_by_outcome on client_import_row (import_id, outcome, line);

-- What an import changed, one row each, for undoing it.
create table client_import_trace (
	firm_id uuid not null references firm,
	import_id uuid not null references client_import,
	kind text not null check (kind in ('client', 'contact', 'link', 'fact', 'engagement', 'client_before', 'contact_before', 'role_before')),
	client_id uuid references client,
	contact_id uuid references contact,
	fact_id uuid references fact,
	engagement_id uuid references engagement,
	before jsonb
);
create index client_import_trace_by_import on client_import_trace (import_id, kind, client_id, contact_id);

do $$
declare
	t text;
begin
	foreach t in array array['client_import', 'client_import_row', 'client_import_trace'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()))', t);
		execute format('grant select, insert, update, delete on %I to lantern_app', t);
	end loop;
end $$;

-- Takes out of sight what an import had added. Row-level security would refuse an update to a row nobody may see.
create function remove_imported(clients uuid[], contacts uuid[], at timestamptz) returns void
language plpgsql security definer set search_path = public as $$
begin
	update client set removed_at = at where firm_id = current_firm() and id = any (clients) and removed_at is null;
	update contact set removed_at = at where firm_id = current_firm() and id = any (contacts) and removed_at is null and password_hash is null;
	delete from client_position where firm_id = current_firm() and client_id = any (clients);
end $$;
revoke execute on function remove_imported from public;
grant execute on function remove_imported to lantern_app;
grant delete on fact, engagement to lantern_app;
