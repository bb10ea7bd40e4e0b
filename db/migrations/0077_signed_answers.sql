-- A questionnaire may be signed: whoever is asked signs their answers as they hand them in.
alter table questionnaire add column signed boolean not null default false;

-- Answers as somebody signed them. They are kept as they were, whatever is answered or corrected later; signed once more, there is one more.
create table signed_answers (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	item_id uuid not null references item,
	contact_id uuid not null references contact,
	name text not null,
	email text not null,
	mark jsonb not null,
	consent text not null,
	signed_at timestamptz not null,
	ip text not null,
	user_agent text not null,
	-- what was signed, in the language in which it was read
	locale text not null,
	title text not null,
	questions jsonb not null,
	answers jsonb not null,
	-- keys of questions whose answer they said they do not know
	unknown text[] not null,
	sealed_key text,
	sealed_sha256 bytea,
	sealed_at timestamptz,
	check ((sealed_key is null) = (sealed_at is null) and (sealed_key is null) = (sealed_sha256 is null))
);
comment on table signed_answers is 'Answers to a questionnaire as somebody signed them, with the sealed file';
create index signed_answers_of_item on signed_answers (item_id, signed_at desc);
create index signed_answers_of_client on signed_answers (client_id);
create index signed_answers_of_contact on signed_answers (contact_id);
alter table signed_answers enable row level security;
create policy same_firm on signed_answers to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on signed_answers as restrictive for insert to lantern_app
	with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on signed_answers as restrictive for update to lantern_app using (true)
	with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on signed_answers for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
create policy own_clients on signed_answers to lantern_contact
	using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[]));
grant select, insert, update, delete on signed_answers to lantern_app;
grant select, insert on signed_answers to lantern_contact;
insert into clearing (kind, place, table_name, only_where, files) values ('requests', 65, 'signed_answers', 'true', '{sealed_key}');

create or replace view stored_file as
	select firm_id, storage_key, sha256 from paper
	union all select firm_id, storage_key, sha256 from letter
	union all select firm_id, sealed_key, sealed_sha256 from letter where sealed_key is not null
	union all select firm_id, sealed_key, sealed_sha256 from signed_answers where sealed_key is not null
	union all select firm_id, storage_key, sha256 from attachment
	union all select firm_id, first_page::text, null from attachment where first_page is not null
	union all select firm_id, storage_key, null from transaction_file;
