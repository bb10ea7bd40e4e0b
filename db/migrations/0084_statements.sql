-- What a bank statement says of itself: read from the paper, put right by a person where it was read wrongly or not at all.
create table statement (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	paper_id uuid not null references paper on delete cascade,
	-- which one of the file, from 0
	number int not null check (number between 0 and 99),
	account_id uuid references account on delete set null,
	last_four text check (last_four ~ '^\d{4}$'),
	covers_from date,
	covers_to date,
	opening numeric(18, 2),
	closing numeric(18, 2),
	currency text check (currency ~ '^[A-Z]{3}$'),
	payments int,
	payments_sum numeric(18, 2),
	spots jsonb not null default '{}',
	put_right_by_id uuid references staff,
	put_right_at timestamptz,
	explained text not null default '' check (length(explained) <= 300),
	explained_by_id uuid references staff,
	explained_at timestamptz,
	check ((covers_from is null) = (covers_to is null) and covers_from <= covers_to),
	check ((put_right_by_id is null) = (put_right_at is null)),
	check ((explained = '') = (explained_by_id is null) and (explained_by_id is null) = (explained_at is null))
);
comment on table statement is 'A statement in a paper of a client: the account, the days it covers and its balances';
comment on column statement.account_id is 'The account that a person chose; else it is known by its last four digits or by what the paper was asked for';
comment on column statement.spots is 'Where each value stands in the paper: page, and a box in parts of it';
comment on column statement.payments is 'How many payments could be read; null where they could not';
comment on column statement.explained is 'Why it does not begin where the one before it ended';
create unique index statement_of_paper on statement (paper_id, number);
create index statement_of_client on statement (client_id);
create index statement_of_account on statement (account_id) where account_id is not null;
alter table statement enable row level security;
create policy same_firm on statement to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on statement as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on statement as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on statement for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on statement to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 5, 'statement');

alter table paper add column pages int;
alter table paper add column words_read_at timestamptz;
-- dealt with, and kept among the papers of the client though it answers nothing that was asked
alter table paper add column kept boolean not null default false;
alter table paper add constraint paper_kept check (not kept or put_away_at is not null);
comment on column paper.put_away_at is 'When a person of the firm said that it answers nothing that was asked';
comment on column paper.kept is 'It is put away among the papers of the client, where it counts; else it needs no place at all';
comment on column paper.pages is 'Of a PDF; null where it is none, was not read yet or cannot be opened';
comment on column paper.words_read_at is 'When its words were looked for';

-- Which account a statement belongs to: as a person chose; as its number says, if one account of the client has it; as the paper was asked for.
create view placed_statement with (security_invoker = true) as
	select s.id, s.firm_id, s.client_id, s.paper_id, s.covers_from, s.covers_to, s.opening, s.closing, s.currency, s.last_four, s.explained, s.put_right_at,
		coalesce(s.account_id,
			(select (array_agg(a.id))[1] from account a where a.client_id = s.client_id and a.last_four = s.last_four having count(*) = 1),
			i.account_id) account_id,
		p.item_id, p.kept or coalesce(i.state = 'accepted', false) settled
	from statement s join paper p on p.id = s.paper_id left join item i on i.id = p.item_id
	-- what a client has not handed in yet, or was sent back, is not here
	where p.removed_at is null and (p.put_away_at is null or p.kept) and (p.item_id is null or i.state in ('handed_in', 'accepted'));
comment on view placed_statement is 'Statements that count, with the account that each belongs to';
grant select on placed_statement to lantern_app;

-- How an institution names its sums, as people of the firm have shown by putting one right.
create table statement_label (
	firm_id uuid not null references firm,
	institution text not null check (length(institution) between 1 and 80),
	value text not null check (value in ('opening', 'closing')),
	label text not null check (length(label) between 3 and 80),
	taught_by_id uuid not null references staff,
	taught_at timestamptz not null,
	primary key (firm_id, institution, value, label)
);
comment on table statement_label is 'What a balance is called on the statements of an institution, beside the words that are known anyway';
alter table statement_label enable row level security;
create policy same_firm on statement_label to lantern_app using (firm_id = (select current_firm()));
grant select, insert, delete on statement_label to lantern_app;
insert into clearing (kind, place, table_name) values ('clients', 206, 'statement_label');
