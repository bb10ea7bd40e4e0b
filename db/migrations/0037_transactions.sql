-- Files of a bank or a ledger that were brought in for a client, and their lines, of which some are asked about.
create table transaction_file (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client on delete cascade,
	account_id uuid references account on delete set null,
	name text not null,
	format text not null check (format in ('csv', 'ofx', 'qif', 'camt')),
	-- what the cells of its lines are
	header text[] not null,
	-- how a table is read: columns, order of dates, signs; what was found out and what a person chose
	reading jsonb not null,
	lines int not null,
	unread int not null,
	-- the first of those that could not be read
	unread_lines jsonb not null default '[]',
	-- the file itself, so that it can be read in another way
	storage_key text not null,
	brought_by uuid not null references staff,
	brought_at timestamptz not null
);
create index transaction_file_by_client on transaction_file (client_id, brought_at desc);
create table transaction_line (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client on delete cascade,
	file_id uuid not null references transaction_file on delete cascade,
	position int not null,
	day date not null,
	amount numeric(19, 6) not null,
	currency text not null,
	who text not null,
	words text not null,
	category text not null,
	uncategorised boolean not null,
	reference text not null,
	-- null where the file has no place for a document
	document text,
	account text not null,
	original text[] not null,
	-- by which the same line is known again in another file
	identity text not null,
	content text not null,
	-- the thing that asks about it
	asked_item uuid references item on delete set null,
	unique (file_id, position)
);
create index transaction_line_asked_identity on transaction_line (client_id, identity) where asked_item is not null;
create index transaction_line_asked_content on transaction_line (client_id, content) where asked_item is not null;
create index transaction_line_asked_amount on transaction_line (client_id, amount, day) where asked_item is not null;
create index transaction_line_by_item on transaction_line (asked_item) where asked_item is not null;

do $$
declare
	t text;
begin
	foreach t in array array['transaction_file', 'transaction_line'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]))', t);
		execute format('grant select, insert, update, delete on %I to lantern_app', t);
	end loop;
end $$;

alter table item drop constraint item_kind_check;
alter table item add constraint item_kind_check
	check (kind in ('paper', 'question', 'questionnaire', 'letter', 'read', 'approve', 'book', 'do', 'access', 'transactions'));

create or replace function clear_practice(kinds text[]) returns setof text
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
			union all select sealed_key from letter where firm_id = firm and sealed_key is not null
			union all select storage_key from attachment where firm_id = firm
			union all select storage_key from transaction_file where firm_id = firm;
		delete from event where firm_id = firm and (request_id is not null or item_id is not null or paper_id is not null);
		delete from message_item where firm_id = firm;
		update message set request_id = null where firm_id = firm and request_id is not null;
		delete from transaction_line where firm_id = firm;
		delete from transaction_file where firm_id = firm;
		delete from signature where firm_id = firm;
		delete from paper where firm_id = firm;
		delete from letter where firm_id = firm;
		delete from item_remark where firm_id = firm;
		delete from item_secret where firm_id = firm;
		delete from item where firm_id = firm;
		delete from request_announcement where firm_id = firm;
		delete from standing_occurrence where firm_id = firm;
		delete from request where firm_id = firm;
		delete from standing_request where firm_id = firm;
		delete from request_draft where firm_id = firm;
		delete from attachment where firm_id = firm;
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
		delete from list_override where firm_id = firm;
		delete from engagement_service where firm_id = firm;
		delete from engagement where firm_id = firm;
		delete from client_contact where firm_id = firm;
		delete from client_position where firm_id = firm;
		delete from client where firm_id = firm;
		delete from contact where firm_id = firm;
	end if;
end $$;
