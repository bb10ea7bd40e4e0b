-- The roles that do the daily work own nothing: the app and the worker's use cases run as
-- lantern_app, the job queue as lantern_queue. Roles belong to the whole server, so a second
-- database on it finds them already there.
do $$
begin
	if not exists (select from pg_roles where rolname = 'lantern_app') then
		create role lantern_app nologin;
	end if;
	if not exists (select from pg_roles where rolname = 'lantern_queue') then
		create role lantern_queue nologin;
	end if;
exception when duplicate_object or unique_violation then null;
end $$;
grant lantern_app to current_user;
grant lantern_queue to current_user;

create schema graphile_worker authorization lantern_queue;
do $$ begin
	execute format('grant create on database %I to lantern_queue', current_database());
end $$;
revoke create on schema public from public;
grant usage on schema public to lantern_app, lantern_queue;

-- Whose data a transaction may see. Set with set_config(…, true), so they end with the transaction.
create function current_firm() returns uuid language sql stable
	return nullif(current_setting('app.firm_id', true), '')::uuid;
create function current_contact() returns uuid language sql stable
	return nullif(current_setting('app.contact_id', true), '')::uuid;
