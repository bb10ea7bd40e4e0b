-- Uploads that were begun and have not come whole: what they take on the disk is bounded for each person.
create table unfinished_upload (
	id uuid primary key,
	firm_id uuid not null references firm,
	contact_id uuid not null references contact on delete cascade,
	bytes bigint not null,
	begun_at timestamptz not null default clock_timestamp()
);
create index unfinished_upload_of_contact on unfinished_upload (contact_id);
alter table unfinished_upload enable row level security;
create policy same_firm on unfinished_upload to lantern_app using (firm_id = (select current_firm()));
create policy own_rows on unfinished_upload to lantern_contact
	using (firm_id = (select current_firm()) and contact_id = (select current_contact()));
grant select, insert, delete on unfinished_upload to lantern_app, lantern_contact;

-- Challenges of passkeys that nobody answered go when others are made.
create index passkey_challenge_by_expiry on passkey_challenge (expires_at);
