-- Files that somebody adds to what they answered on a public page, once they have proved by a code that their address is theirs. They become
-- papers of a client when the answers are taken over.
create table public_file (
	id uuid primary key,
	firm_id uuid not null references firm (id),
	answer_id uuid not null references public_answer (id) on delete cascade,
	slot text not null,
	name text not null,
	bytes bigint not null,
	sha256 bytea not null,
	content_type text not null,
	storage_key text not null,
	added_at timestamptz not null
);
comment on table public_file is 'A file that somebody added to their answers on a public page';
comment on column public_file.slot is 'The key of the question that it answers';
create index public_file_of_answer on public_file (answer_id, added_at);
alter table public_file enable row level security;
create policy same_firm on public_file to lantern_app using (firm_id = (select current_firm()));
grant select, insert, delete on public_file to lantern_app;
insert into clearing (kind, place, table_name, only_where, files) values ('clients', 4, 'public_file', 'true', '{storage_key}');

create or replace view stored_file as
	select firm_id, storage_key, sha256 from paper
	union all select firm_id, storage_key, sha256 from letter
	union all select firm_id, sealed_key, sealed_sha256 from letter where sealed_key is not null
	union all select firm_id, sealed_key, sealed_sha256 from signed_answers where sealed_key is not null
	union all select firm_id, storage_key, sha256 from attachment
	union all select firm_id, first_page::text, null from attachment where first_page is not null
	union all select firm_id, storage_key, null from transaction_file
	union all select firm_id, storage_key, sha256 from public_file;
