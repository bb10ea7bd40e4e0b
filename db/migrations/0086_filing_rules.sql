-- Statements of an account that find their place by themselves, where somebody of the firm has allowed it.
create table filing_rule (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	account_id uuid not null references account on delete cascade,
	made_by_id uuid not null references staff,
	made_at timestamptz not null,
	off_at timestamptz,
	taken_back int not null default 0
);
comment on table filing_rule is 'Statements of an account file themselves under what is asked for them';
comment on column filing_rule.taken_back is 'How many of the papers that it filed a person has taken out again';
create unique index filing_rule_of_account on filing_rule (account_id) where off_at is null;
create index filing_rule_of_client on filing_rule (client_id);
alter table filing_rule enable row level security;
create policy same_firm on filing_rule to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on filing_rule as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on filing_rule as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on filing_rule for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on filing_rule to lantern_app;
insert into clearing (kind, place, table_name) values ('clients', 204, 'filing_rule');

alter table paper add column filed_by_rule_id uuid references filing_rule on delete set null;
comment on column paper.filed_by_rule_id is 'The rule that gave it its place, if it found that by itself';
create index paper_by_rule on paper (filed_by_rule_id) where filed_by_rule_id is not null;
