-- Somebody of the firm who may only see a client changes nothing of theirs. So far this was asked when an event was added; now every row of
-- a client is asked for it, so that a change without an event, or one that comes before it, is refused as well.
create function keep_rows_not_worked() returns trigger language plpgsql as $$
begin
	if old.client_id = any (not_worked_clients()) then
		raise insufficient_privilege using message = 'may_work: a client that may only be seen';
	end if;
	return old;
end $$;
do $$
declare
	t text;
begin
	foreach t in array array['account', 'client_contact', 'client_note', 'client_position', 'engagement', 'engagement_service', 'fact', 'invitation', 'item',
		'item_remark', 'item_secret', 'letter', 'list_override', 'paper', 'request', 'request_draft', 'signature', 'standing_request', 'transaction_file',
		'transaction_line'] loop
		execute format('create policy may_work_add on %I as restrictive for insert to lantern_app
			with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]))', t);
		execute format('create policy may_work_change on %I as restrictive for update to lantern_app using (true)
			with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]))', t);
		-- what a policy keeps from being removed is passed over in silence; it is to be refused
		execute format($trigger$create trigger may_work before delete on %I for each row
			when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked()$trigger$, t);
	end loop;
end $$;
