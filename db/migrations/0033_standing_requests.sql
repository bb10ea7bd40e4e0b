-- Requests that repeat: by an iCalendar rule, each time for a period. What is asked each time is a copy of its own, so that
-- changing a list of the Library changes nothing here.
create table standing_request (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client on delete cascade,
	contact_id uuid not null references contact,
	others uuid[] not null default '{}',
	list_id uuid references request_list on delete set null,
	-- may hold {period}
	title text not null,
	message text not null,
	lines jsonb not null,
	rule text not null,
	-- what the editor made the rule of; null for a rule written by hand
	pattern jsonb,
	starts_on date not null,
	ends_on date,
	-- local time of day
	appears_at text not null,
	roll text not null,
	period_kind text not null check (period_kind in ('none', 'week', 'month', 'quarter', 'year')),
	period_shift int not null,
	skipped date[] not null default '{}',
	moved jsonb not null default '{}',
	quiet boolean not null default false,
	-- what happens after a pause with occurrences that lie behind: all of them, the last one, or none
	catch_up text not null default 'last' check (catch_up in ('all', 'last', 'none')),
	state text not null default 'running' check (state in ('running', 'paused', 'ended')),
	state_reason text,
	-- when it last went on after a pause: what lies before follows catch_up
	resumed_at timestamptz,
	-- the last day of the rule that was dealt with
	done_through date,
	-- the occurrence that comes next, by core; null when none will
	next_rule_day date,
	next_at timestamptz,
	-- why the last attempt made nothing
	problem text,
	made_by uuid not null references staff,
	made_at timestamptz not null,
	changed_by uuid not null references staff,
	changed_at timestamptz not null,
	version int not null default 1
);
create index standing_request_by_client on standing_request (client_id);
create index standing_request_due on standing_request (firm_id, next_at) where state = 'running' and next_at is not null;
create index standing_request_by_list on standing_request (list_id) where list_id is not null;

-- Each occurrence once, however many workers there are and wherever one is cut off.
create table standing_occurrence (
	firm_id uuid not null references firm,
	standing_id uuid not null references standing_request on delete cascade,
	rule_day date not null,
	outcome text not null check (outcome in ('made', 'skipped', 'passed_over')),
	request_id uuid references request on delete set null,
	at timestamptz not null,
	primary key (standing_id, rule_day)
);
create index standing_occurrence_by_request on standing_occurrence (request_id) where request_id is not null;

-- Who is still to be told of a request: everything of one person in one message a day.
create table request_announcement (
	firm_id uuid not null references firm,
	request_id uuid not null references request on delete cascade,
	contact_id uuid not null references contact,
	told_at timestamptz,
	primary key (request_id, contact_id)
);
create index request_announcement_due on request_announcement (firm_id, contact_id) where told_at is null;
alter table contact add column last_announced_on date;

alter table request add column standing_id uuid references standing_request on delete set null;
alter table request add column period_kind text;
alter table request add column period_from date;
alter table request add column period_to date;
create index request_by_standing on request (standing_id) where standing_id is not null;
-- a machine sends what a person set up
alter table request alter column created_by drop not null;

do $$
declare
	t text;
begin
	foreach t in array array['standing_request', 'standing_occurrence', 'request_announcement'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm())%s)', t,
			case when t = 'standing_request' then ' and client_id <> all ((select unseen_clients())::uuid[])' else '' end);
		execute format('grant select, insert, update, delete on %I to lantern_app', t);
	end loop;
end $$;

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
			union all select storage_key from attachment where firm_id = firm;
		delete from event where firm_id = firm and (request_id is not null or item_id is not null or paper_id is not null);
		delete from message_item where firm_id = firm;
		update message set request_id = null where firm_id = firm and request_id is not null;
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
