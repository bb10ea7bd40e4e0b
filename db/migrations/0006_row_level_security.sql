-- Every row belongs to one firm; a contact's sign-in sees only the clients they belong to.
create function my_clients() returns uuid[] language sql stable security definer set search_path = public
	as $$ select coalesce(array_agg(client_id), '{}') from client_contact where contact_id = current_contact() $$;

do $$
declare
	t text;
begin
	foreach t in array array['holiday', 'staff', 'seal_certificate'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()))', t);
	end loop;
	foreach t in array array['client_contact', 'request', 'item', 'paper', 'letter', 'signature', 'client_position'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm_own_clients on %I to lantern_app using (firm_id = (select current_firm())
			and ((select current_contact()) is null or client_id = any ((select my_clients())::uuid[])))', t);
	end loop;
	foreach t in array array['session', 'password_reset', 'message', 'invitation'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm_own_rows on %I to lantern_app using (firm_id = (select current_firm())
			and ((select current_contact()) is null or contact_id = (select current_contact())))', t);
	end loop;
end $$;

alter table firm enable row level security;
create policy own_firm on firm to lantern_app using (id = (select current_firm()));
alter table client enable row level security;
create policy same_firm_own_clients on client to lantern_app using (firm_id = (select current_firm())
	and ((select current_contact()) is null or id = any ((select my_clients())::uuid[])));
alter table contact enable row level security;
create policy same_firm_self on contact to lantern_app using (firm_id = (select current_firm())
	and ((select current_contact()) is null or id = (select current_contact())));
alter table message_item enable row level security;
create policy same_firm on message_item to lantern_app using (firm_id = (select current_firm())
	and (select current_contact()) is null);
alter table event enable row level security;
create policy same_firm_read on event for select to lantern_app using (firm_id = (select current_firm())
	and ((select current_contact()) is null or client_id = any ((select my_clients())::uuid[])));
create policy same_firm_add on event for insert to lantern_app with check (firm_id = (select current_firm()));

grant select, insert, update on all tables in schema public to lantern_app;
revoke update on event from lantern_app;
grant usage on all sequences in schema public to lantern_app;

-- The few questions that must be answered before it is known whose data they concern. Each answers
-- ids only, and only to somebody who holds the secret or names the address.
create function find_staff_by_email(wanted text) returns table (firm_id uuid, staff_id uuid)
language sql stable security definer set search_path = public as
$$ select s.firm_id, s.id from staff s where s.email = wanted::citext $$;
create function find_firm_by_slug(wanted text) returns uuid
language sql stable security definer set search_path = public as
$$ select id from firm where slug = wanted $$;
create function find_session(token bytea) returns table (firm_id uuid, session_id uuid, staff_id uuid, contact_id uuid)
language sql stable security definer set search_path = public as
$$ select s.firm_id, s.id, s.staff_id, s.contact_id from session s where s.token_hash = token or s.previous_token_hash = token $$;
create function find_firm_of_invitation(token bytea) returns uuid
language sql stable security definer set search_path = public as
$$ select i.firm_id from invitation i where i.token_hash = token $$;
create function find_firm_of_reset(token bytea) returns uuid
language sql stable security definer set search_path = public as
$$ select r.firm_id from password_reset r where r.token_hash = token $$;
create function find_firm_of_message(wanted uuid) returns uuid
language sql stable security definer set search_path = public as
$$ select m.firm_id from message m where m.id = wanted $$;
create function all_firms() returns setof uuid
language sql stable security definer set search_path = public as
$$ select id from firm order by id $$;
create function firms_with_stuck_messages(before timestamptz) returns setof uuid
language sql stable security definer set search_path = public as
$$ select distinct firm_id from message where state = 'sending' and sending_since < before $$;

-- Jobs are put into the queue by the transaction that causes them.
create function enqueue_job(task text, payload jsonb, key text default null, at timestamptz default null) returns void
language plpgsql security definer set search_path = public as $$
begin
	perform graphile_worker.add_job(task, payload::json, run_at => at, job_key => key, max_attempts => 12);
end $$;

-- Only who needs them may call them.
revoke execute on all functions in schema public from public;
grant execute on all functions in schema public to lantern_app;
grant execute on all functions in schema public to lantern_queue;
