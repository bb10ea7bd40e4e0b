-- How somebody wants to be written to. Reminders follow reminded_by; the rule stands in core/messages/ways.ts, and a test
-- compares the two for every combination.
alter table contact
	add column channels text not null default 'email' check (channels in ('email', 'text', 'both')),
	add column text_problem text check (text_problem in ('failed', 'stopped')),
	add column text_problem_detail text;
alter table contact
	add column reminded_by text not null generated always as (
		case
			when mail_problem in ('opted_out', 'no_address') then 'none'
			when phone is null or text_problem is not null or channels = 'email' then case when mail_problem is null then 'email' else 'none' end
			when channels = 'both' and mail_problem is null then 'both'
			else 'text'
		end) stored;
drop index contact_unreachable;
create index contact_unreachable on contact (firm_id) where reminded_by = 'none' or suspended_at is not null;
create index contact_by_phone on contact (phone) where phone is not null;

alter table message add column channel text not null default 'email' check (channel in ('email', 'text'));
create index message_text_by_number on message (to_address, planned_at desc) where channel = 'text';

-- What people answer by text. The gateway's id keeps one that is delivered twice from standing here twice.
create table incoming_text (
	id uuid primary key,
	firm_id uuid not null references firm,
	gateway_id text not null,
	contact_id uuid not null references contact,
	words text not null,
	came_at timestamptz not null,
	seen_at timestamptz,
	seen_by text,
	unique (firm_id, gateway_id)
);
create index incoming_text_unseen on incoming_text (firm_id, came_at) where seen_at is null;
alter table incoming_text enable row level security;
create policy same_firm on incoming_text to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update on incoming_text to lantern_app;

-- Before it is known whose it is: everybody with a number, and who was last written to there.
create function contacts_with_phone(number text) returns table (firm_id uuid, contact_id uuid)
language sql stable security definer set search_path = public as
$$ select c.firm_id, c.id from contact c where c.phone = number and c.removed_at is null $$;
create function last_text_to(number text) returns table (firm_id uuid, contact_id uuid)
language sql stable security definer set search_path = public as
$$ select m.firm_id, m.contact_id from message m where m.channel = 'text' and m.to_address = number and m.contact_id is not null
	order by m.planned_at desc limit 1 $$;
revoke execute on function contacts_with_phone, last_text_to from public;
grant execute on function contacts_with_phone, last_text_to to lantern_app;

-- A phone that gets codes for the second step. One a person; the one being set up stands beside it until its code was right.
create table text_factor (
	id uuid primary key,
	firm_id uuid not null references firm,
	staff_id uuid references staff,
	contact_id uuid references contact,
	phone text not null check (phone ~ '^\+[1-9][0-9]{6,14}$'),
	begun_at timestamptz not null,
	expires_at timestamptz not null,
	confirmed_at timestamptz,
	code_hash bytea,
	tries int not null default 0,
	check ((staff_id is null) <> (contact_id is null))
);
create unique index text_factor_of_person on text_factor (coalesce(staff_id, contact_id), (confirmed_at is null));
alter table text_factor enable row level security;
create policy same_firm on text_factor to lantern_app using (firm_id = (select current_firm()));
create policy own_rows on text_factor to lantern_contact using (firm_id = (select current_firm()) and contact_id = (select current_contact()));
grant select, insert, update, delete on text_factor to lantern_app, lantern_contact;

-- A contact's acts plan messages too.
grant execute on function enqueue_sending to lantern_contact;
