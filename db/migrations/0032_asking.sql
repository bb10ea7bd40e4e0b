-- What is asked has more kinds, each with a description of its own that core reads; lines stand under headings, may carry
-- files of the firm, and may be accepted by themselves.
alter table item drop constraint item_kind_check;
alter table item add constraint item_kind_check
	check (kind in ('paper', 'question', 'questionnaire', 'letter', 'read', 'approve', 'book', 'do', 'access'));
alter table item add column heading text not null default '';
alter table item add column spec jsonb not null default '{}';
-- what the client answered where it is more than words
alter table item add column answer_data jsonb;
alter table item add column attachments uuid[] not null default '{}';
alter table item add column accepts_itself boolean not null default false;
-- the day until which the client asked for time, and what they said
alter table item add column asked_time_until date;
create index item_by_attachment on item using gin (attachments) where attachments <> '{}';

-- Lists of the Library: everything one might ask. Each change keeps the version before; what was sent never changes.
create table request_list (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null,
	about text not null default '',
	title text not null,
	message text not null default '',
	folder text not null default '',
	tags text[] not null default '{}',
	shared text not null default 'all' check (shared in ('all', 'group', 'person')),
	group_id uuid references staff_group on delete set null,
	lines jsonb not null,
	-- goes by itself once it was made to fit, or waits for a person
	goes_by_itself boolean not null default false,
	-- services whose clients it is proposed for
	services text[] not null default '{}',
	made_by uuid not null references staff,
	made_at timestamptz not null,
	changed_by uuid not null references staff,
	changed_at timestamptz not null,
	ended_at timestamptz,
	version int not null default 1
);
create index request_list_by_name on request_list (firm_id, lower(name)) where ended_at is null;
create table request_list_version (
	firm_id uuid not null references firm,
	list_id uuid not null references request_list on delete cascade,
	version int not null,
	content jsonb not null,
	kept_at timestamptz not null,
	kept_by uuid not null references staff,
	primary key (list_id, version)
);
-- What a person decided about a line of a list for one client, kept for the next time.
create table list_override (
	firm_id uuid not null references firm,
	client_id uuid not null references client on delete cascade,
	list_id uuid not null references request_list on delete cascade,
	line_key text not null,
	decision text not null check (decision in ('in', 'out')),
	decided_by uuid not null references staff,
	decided_at timestamptz not null,
	primary key (client_id, list_id, line_key)
);

-- Requests that are being written, or were made by a list and wait for a person.
create table request_draft (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client on delete cascade,
	list_id uuid references request_list on delete set null,
	list_version int,
	title text not null,
	content jsonb not null,
	lines int not null,
	-- made for many at once, not by somebody who is writing it
	waits boolean not null default false,
	run_id uuid,
	made_by uuid not null references staff,
	made_at timestamptz not null,
	changed_by uuid not null references staff,
	changed_at timestamptz not null,
	version int not null default 1
);
create index request_draft_by_firm on request_draft (firm_id, changed_at desc);
create index request_draft_by_client on request_draft (client_id);
create index request_draft_waiting on request_draft (firm_id, made_at) where waits;

-- Files of the firm that stand beside what is asked: to read, to approve, or as an example.
create table attachment (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null,
	bytes bigint not null,
	sha256 bytea not null,
	content_type text not null,
	storage_key text not null,
	added_by uuid not null references staff,
	added_at timestamptz not null
);
create index attachment_by_firm on attachment (firm_id, added_at);

alter table request add column list_id uuid references request_list on delete set null;
alter table request add column list_version int;
alter table request add column message text not null default '';
-- put up quietly: nobody was told
alter table request add column quiet boolean not null default false;
alter table request add column withdrawn_at timestamptz;
alter table paper add column slot text;
create index request_by_list on request (list_id) where list_id is not null;

-- What was written on an item: a question of the client's, an answer of the firm's.
create table item_remark (
	id uuid primary key,
	-- in the order in which they were written
	number bigint generated always as identity,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	item_id uuid not null references item on delete cascade,
	-- a place on a page of a file, in shares of its width and height
	attachment_id uuid references attachment,
	page int,
	x double precision,
	y double precision,
	words text not null,
	by_staff uuid references staff,
	by_contact uuid references contact,
	written_at timestamptz not null,
	-- when somebody of the other side saw it
	seen_at timestamptz,
	check ((by_staff is null) <> (by_contact is null)),
	check ((attachment_id is null) = (page is null))
);
create index item_remark_by_item on item_remark (item_id, written_at);
create index item_remark_unseen on item_remark (firm_id, written_at) where seen_at is null and by_contact is not null;

-- Secrets that a client gives away: encrypted with a key that is not in the database, shown once per look with a record, gone in time.
create table item_secret (
	id uuid primary key default gen_random_uuid(),
	item_id uuid not null unique references item on delete cascade,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	encrypted bytea not null,
	given_by uuid not null references contact,
	given_at timestamptz not null,
	expires_at timestamptz not null
);
create index item_secret_by_expiry on item_secret (expires_at);

do $$
declare
	t text;
begin
	foreach t in array array['request_list', 'request_list_version', 'attachment'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()))', t);
		execute format('grant select, insert, update, delete on %I to lantern_app', t);
	end loop;
	foreach t in array array['list_override', 'request_draft', 'item_remark', 'item_secret'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]))', t);
		execute format('grant select, insert, update, delete on %I to lantern_app', t);
	end loop;
	foreach t in array array['item_remark', 'item_secret'] loop
		execute format('create policy own_clients on %I to lantern_contact using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[]))', t);
		execute format('grant select, insert, update on %I to lantern_contact', t);
	end loop;
end $$;
-- the firm's thanks may follow at once on what a client hands in, where nobody looks at it
create policy in_use_of_firm on message_text for select to lantern_contact using (firm_id = (select current_firm()) and in_use);
grant select on message_text to lantern_contact;
-- a client sees a file of the firm that stands beside something asked of them
create policy beside_own_items on attachment for select to lantern_contact
	using (firm_id = (select current_firm()) and exists (select from item i where i.attachments @> array[attachment.id]));
grant select on attachment to lantern_contact;

alter table message drop constraint message_kind_check;
alter table message add constraint message_kind_check
	check (kind in ('invitation', 'invitation_chase', 'request', 'chase', 'sent_back', 'signed_copy', 'password_reset', 'password_changed', 'sign_in_code', 'new_device', 'second_step_changed', 'staff_invitation', 'thanks', 'remark'));

-- Whether somebody else of any client has booked a time that is offered here too: a client must not see whose it is.
create function is_time_taken(wanted uuid, instant text) returns boolean
language sql stable security definer set search_path = public as $$
	select exists (select from item i join item mine on mine.id = wanted and mine.firm_id = i.firm_id
		where i.kind = 'book' and i.id <> wanted and i.answer_data ->> 'time' = instant and i.state in ('handed_in', 'accepted')
			and i.firm_id = current_firm())
$$;
revoke execute on function is_time_taken from public;
grant execute on function is_time_taken to lantern_app, lantern_contact;
create index item_booked on item (firm_id, (answer_data ->> 'time')) where kind = 'book';
