-- What a contact's sign-in may see is a question of its own role, not of one policy for everybody:
-- so the planner sees how many rows a person of the firm will get, and a forgotten setting hides
-- rows instead of showing them. Neither role is a member of the other, since policies are inherited.
do $$
begin
	if not exists (select from pg_roles where rolname = 'lantern_contact') then
		create role lantern_contact nologin;
	end if;
exception when duplicate_object or unique_violation then null;
end $$;
grant lantern_contact to current_user;
grant usage on schema public to lantern_contact;
do $$
declare
	login text;
begin
	-- sign-ins that step down to the app's role step down to this one too
	for login in select m.rolname from pg_auth_members a join pg_roles r on r.oid = a.roleid join pg_roles m on m.oid = a.member
		where r.rolname = 'lantern_app' and m.rolcanlogin and m.rolname <> current_user
	loop
		execute format('grant lantern_contact to %I', login);
	end loop;
end $$;

do $$
declare
	p record;
begin
	for p in select tablename, policyname from pg_policies where schemaname = 'public' and policyname in ('same_firm_own_clients', 'same_firm_own_rows', 'same_firm_self') loop
		execute format('drop policy %I on %I', p.policyname, p.tablename);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()))', p.tablename);
	end loop;
end $$;
drop policy same_firm on message_item;
create policy same_firm on message_item to lantern_app using (firm_id = (select current_firm()));
drop policy same_firm_read on event;
create policy same_firm_read on event for select to lantern_app using (firm_id = (select current_firm()));

do $$
declare
	t text;
begin
	foreach t in array array['client_contact', 'request', 'item', 'paper', 'letter', 'signature', 'client_position'] loop
		execute format('create policy own_clients on %I to lantern_contact using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[]))', t);
	end loop;
	foreach t in array array['session', 'password_reset', 'message', 'invitation'] loop
		execute format('create policy own_rows on %I to lantern_contact using (firm_id = (select current_firm()) and contact_id = (select current_contact()))', t);
	end loop;
	foreach t in array array['holiday', 'staff', 'seal_certificate'] loop
		execute format('create policy same_firm_of_contact on %I to lantern_contact using (firm_id = (select current_firm()))', t);
	end loop;
end $$;
create policy own_firm_of_contact on firm to lantern_contact using (id = (select current_firm()));
create policy own_clients on client to lantern_contact using (firm_id = (select current_firm()) and id = any ((select my_clients())::uuid[]));
create policy self on contact to lantern_contact using (firm_id = (select current_firm()) and id = (select current_contact()));
create policy own_clients_read on event for select to lantern_contact using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[]));
create policy same_firm_add_by_contact on event for insert to lantern_contact with check (firm_id = (select current_firm()));

-- A contact writes only what a contact's acts write.
grant select on firm, holiday, staff, contact, client, client_contact, request, item, paper, letter, signature, client_position, session, password_reset, message, invitation, event, demo_clock to lantern_contact;
grant insert, update on session, password_reset, item, paper, letter, signature, message to lantern_contact;
grant update on contact, invitation to lantern_contact;
grant insert on event to lantern_contact;
grant usage on all sequences in schema public to lantern_contact;
grant execute on function current_firm, current_contact, my_clients, enqueue_job, to_iso to lantern_contact;

-- What every page of the desk asks.
create index contact_unreachable on contact (firm_id) where mail_problem is not null or suspended_at is not null;
create index client_position_to_look_at on client_position (firm_id, wait_key) where to_look_at > 0;
