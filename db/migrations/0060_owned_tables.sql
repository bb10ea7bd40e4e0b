-- What is cleared from a practice workspace is a list of tables, to which a migration that adds a table adds a line; the function only
-- follows it. A table of a firm that is not in it is found by a test.
create table clearing (
	table_name text not null,
	-- what is cleared with it, or 'kept'
	kind text not null check (kind in ('requests', 'messages', 'clients', 'kept')),
	-- the order within a kind: what refers to another table goes before it
	place int not null default 0,
	-- which of a firm's rows, where not all of them; written by migrations only
	only_where text not null default 'true',
	-- columns that name files of the store, which go with the rows
	files text[] not null default '{}',
	because text,
	primary key (table_name, kind),
	check ((kind = 'kept') = (because is not null))
);
comment on table clearing is 'What clearing a practice workspace deletes, and what it keeps and why';

insert into clearing (kind, place, table_name, only_where, files) values
	('requests', 10, 'event', 'request_id is not null or item_id is not null or paper_id is not null', '{}'),
	('requests', 20, 'message_item', 'true', '{}'),
	('requests', 30, 'transaction_line', 'true', '{}'),
	('requests', 40, 'transaction_file', 'true', '{storage_key}'),
	('requests', 50, 'signature', 'true', '{}'),
	('requests', 60, 'paper', 'true', '{storage_key}'),
	('requests', 70, 'letter', 'true', '{storage_key,sealed_key}'),
	('requests', 80, 'item_remark', 'true', '{}'),
	('requests', 90, 'item_secret', 'true', '{}'),
	('requests', 100, 'item', 'true', '{}'),
	('requests', 110, 'request_announcement', 'true', '{}'),
	('requests', 120, 'standing_occurrence', 'true', '{}'),
	('requests', 130, 'request', 'true', '{}'),
	('requests', 140, 'standing_request', 'true', '{}'),
	('requests', 150, 'request_draft', 'true', '{}'),
	('requests', 160, 'attachment', 'true', '{storage_key}'),
	('messages', 10, 'event', 'message_id is not null or verb like ''invitation%'' or verb like ''text%''', '{}'),
	('messages', 20, 'incoming_text', 'true', '{}'),
	('messages', 30, 'invitation', 'true', '{}'),
	('messages', 40, 'invitation_run', 'true', '{}'),
	('messages', 50, 'message_item', 'true', '{}'),
	('messages', 60, 'message', 'true', '{}'),
	('clients', 10, 'event', 'client_id is not null or contact_id is not null', '{}'),
	('clients', 20, 'client_import_trace', 'true', '{}'),
	('clients', 30, 'client_import_row', 'true', '{}'),
	('clients', 40, 'client_import', 'true', '{}'),
	('clients', 50, 'merge', 'true', '{}'),
	('clients', 60, 'portal_look', 'true', '{}'),
	('clients', 70, 'session', 'contact_id is not null', '{}'),
	('clients', 80, 'sign_in_step', 'contact_id is not null', '{}'),
	('clients', 90, 'device', 'contact_id is not null', '{}'),
	('clients', 100, 'authenticator', 'contact_id is not null', '{}'),
	('clients', 110, 'text_factor', 'contact_id is not null', '{}'),
	('clients', 120, 'recovery_code', 'contact_id is not null', '{}'),
	('clients', 130, 'passkey', 'contact_id is not null', '{}'),
	('clients', 140, 'password_reset', 'contact_id is not null', '{}'),
	('clients', 145, 'unfinished_upload', 'true', '{}'),
	('clients', 150, 'client_look', 'true', '{}'),
	('clients', 160, 'client_note', 'true', '{}'),
	('clients', 170, 'fact', 'true', '{}'),
	('clients', 180, 'list_override', 'true', '{}'),
	('clients', 190, 'engagement_service', 'true', '{}'),
	('clients', 200, 'engagement', 'true', '{}'),
	('clients', 205, 'account', 'true', '{}'),
	('clients', 210, 'client_right', 'true', '{}'),
	('clients', 220, 'client_contact', 'true', '{}'),
	('clients', 230, 'client_position', 'true', '{}'),
	('clients', 240, 'client', 'true', '{}'),
	('clients', 250, 'contact', 'true', '{}');
insert into clearing (kind, table_name, because) values
	('kept', 'holiday', 'the firm''s calendar'),
	('kept', 'staff', 'the firm''s people'),
	('kept', 'staff_group', 'the firm''s people'),
	('kept', 'staff_group_member', 'the firm''s people'),
	('kept', 'practice_clearing', 'says what was cleared'),
	('kept', 'message_text', 'the Library'),
	('kept', 'request_list', 'the Library'),
	('kept', 'request_list_version', 'the Library'),
	('kept', 'client_form', 'the Library'),
	('kept', 'seal_certificate', 'the firm''s seal'),
	('kept', 'service', 'what the firm offers'),
	('kept', 'former_short_name', 'addresses that were given out'),
	('kept', 'picture', 'how the firm looks'),
	('kept', 'brand', 'how the firm looks');
revoke all on clearing from public;

create or replace function clear_practice(kinds text[]) returns setof text
language plpgsql security definer set search_path = public as $$
declare
	firm uuid := current_firm();
	step clearing;
begin
	if not exists (select from firm f where f.id = firm and f.practice_of is not null) then
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
end $$;

-- What a merge has moved is kept by column: two columns of one table may name a person.
update merge set moved = coalesce((
	select jsonb_object_agg(
		case when key in ('links', 'added', 'fact') then key
			when kind = 'client' then key || '.client_id'
			else key || '.' || case key when 'paper' then 'uploaded_by_contact' when 'item_remark' then 'by_contact' when 'item_secret' then 'given_by' else 'contact_id' end
		end, value)
	from jsonb_each(moved)), '{}');
