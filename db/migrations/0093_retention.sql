-- How long papers are kept, and how they end: somebody says that they are to go, thirty days later they are destroyed, and what is left is the
-- record of it. A hold keeps everything of a client.
alter table firm add column papers_keep_years int check (papers_keep_years between 1 and 100);
comment on column firm.papers_keep_years is 'How long papers in folders that do not say it are kept, in years after the one in which they came; null without end';
alter table proposed_folder add column keep_years int check (keep_years between 1 and 100);
alter table folder add column keep_years int check (keep_years between 1 and 100);
comment on column proposed_folder.keep_years is 'How long papers in it are kept, in years after the one in which they came; null as the firm keeps others';
comment on column folder.keep_years is 'How long papers in it are kept, in years after the one in which they came; null as the firm keeps others';

create table legal_hold (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	reason text not null check (length(reason) between 1 and 300),
	set_at timestamptz not null,
	set_by_id uuid not null references staff,
	ended_at timestamptz,
	ended_by_id uuid references staff,
	check ((ended_at is null) = (ended_by_id is null))
);
comment on table legal_hold is 'While it lasts nothing of a client is destroyed, however old it is';
create index legal_hold_of_client on legal_hold (client_id) where ended_at is null;
create index legal_hold_by_firm on legal_hold (firm_id, set_at desc);
alter table legal_hold enable row level security;
create policy same_firm on legal_hold to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on legal_hold as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on legal_hold as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on legal_hold for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on legal_hold to lantern_app;
insert into clearing (kind, place, table_name) values ('clients', 201, 'legal_hold');

alter table paper add column destroy_on date, add column destroy_asked_by_id uuid references staff, add column destroyed_at timestamptz,
	add column file_gone_at timestamptz,
	add constraint paper_to_be_destroyed check ((destroy_on is null) = (destroy_asked_by_id is null)),
	add constraint paper_destroyed check (destroyed_at is null or (removed_at is not null and destroy_on is not null)),
	add constraint paper_file_gone check (file_gone_at is null or destroyed_at is not null);
comment on column paper.destroy_on is 'The day on which it is destroyed, unless somebody stops that';
comment on column paper.destroy_asked_by_id is 'Who said that it is to be destroyed';
comment on column paper.destroyed_at is 'When it was destroyed; the row stays as the record of it';
comment on column paper.file_gone_at is 'When its file was taken out of the store after that';
create index paper_to_be_destroyed on paper (firm_id, destroy_on) where destroy_on is not null and destroyed_at is null;
create index paper_destroyed on paper (firm_id, destroyed_at desc) where destroyed_at is not null;

-- How long each paper that is here is kept. Where nothing is said it is kept without end.
create view paper_keeping with (security_invoker = true) as
	select p.id, p.firm_id, p.client_id,
		make_date(extract(year from p.uploaded_at at time zone f.time_zone)::int + coalesce(d.keep_years, f.papers_keep_years), 12, 31) kept_until,
		exists (select from legal_hold h where h.client_id = p.client_id and h.ended_at is null) held_back
	from paper p join firm f on f.id = p.firm_id left join folder d on d.id = p.folder_id
	where p.removed_at is null;
comment on view paper_keeping is 'The last day on which each paper that is here has to be kept, and whether a hold keeps it beyond';
grant select on paper_keeping to lantern_app;

create or replace view stored_file as
	select firm_id, storage_key, sha256 from paper where destroyed_at is null
	union all select firm_id, storage_key, sha256 from letter
	union all select firm_id, sealed_key, sealed_sha256 from letter where sealed_key is not null
	union all select firm_id, sealed_key, sealed_sha256 from signed_answers where sealed_key is not null
	union all select firm_id, storage_key, sha256 from attachment
	union all select firm_id, first_page::text, null from attachment where first_page is not null
	union all select firm_id, storage_key, null from transaction_file
	union all select firm_id, storage_key, sha256 from public_file;

-- A month whose statement was destroyed in time is not missing.
create or replace view placed_statement with (security_invoker = true) as
	select s.id, s.firm_id, s.client_id, s.paper_id, s.covers_from, s.covers_to, s.opening, s.closing, s.currency, s.last_four, s.explained, s.put_right_at,
		coalesce(s.account_id,
			(select (array_agg(a.id))[1] from account a where a.client_id = s.client_id and a.last_four = s.last_four having count(*) = 1),
			i.account_id) account_id,
		p.item_id, p.kept or coalesce(i.state = 'accepted', false) or p.destroyed_at is not null settled
	from statement s join paper p on p.id = s.paper_id left join item i on i.id = p.item_id
	-- what a client has not handed in yet, or was sent back, is not here
	where (p.removed_at is null or p.destroyed_at is not null) and not p.held and (p.put_away_at is null or p.kept or p.destroyed_at is not null)
		and (p.item_id is null or i.state in ('handed_in', 'accepted'));
