-- Which paper is the document of which line of a bank or a ledger, and which a person has said is none.
alter table transaction_line add column wants_paper boolean not null generated always as (case when document is null then amount < 0 else document = '' end) stored;
comment on column transaction_line.wants_paper is 'Nothing in the file names a document for it: the ledger’s own place is empty, or a bank paid and has no such place';

create table line_paper (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client on delete cascade,
	-- of the line, so that it is known again in a file that is brought in later
	identity text not null,
	paper_id uuid not null references paper on delete cascade,
	fits boolean not null,
	said_by_id uuid references staff,
	said_at timestamptz not null,
	unique (client_id, identity, paper_id)
);
comment on table line_paper is 'That a paper is the document of a line, or that it is not';
comment on column line_paper.identity is 'By which the line is known, in whatever file it comes';
comment on column line_paper.fits is 'False: somebody has said that these two do not belong together';
comment on column line_paper.said_by_id is 'Who said so; null where it was sure by itself';
create index line_paper_by_paper on line_paper (paper_id);
create index transaction_line_by_identity on transaction_line (client_id, identity) where wants_paper;
alter table line_paper enable row level security;
create policy same_firm on line_paper to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on line_paper as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on line_paper as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on line_paper for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on line_paper to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 54, 'line_paper');

-- Papers that may be the document of a payment: they are here as a whole, are no statement themselves, and answer no question about another line.
create view paper_of_payment with (security_invoker = true) as
	select p.id, p.firm_id, p.client_id, p.name, p.note, p.first_words, p.search, p.uploaded_at
	from paper p left join item i on i.id = p.item_id
	where p.removed_at is null and p.newer_id is null and p.place in ('item', 'kept', 'waits') and (p.scan is null or p.scan = 'clean')
		and (p.item_id is null or p.unasked or i.state in ('handed_in', 'accepted')) and i.account_id is null and i.kind is distinct from 'transactions'
		and not exists (select from statement s where s.paper_id = p.id);
comment on view paper_of_payment is 'Receipts, invoices and whatever else is here and can be the document of a payment';
grant select on paper_of_payment to lantern_app;

-- The paper of each line that has one that is still here.
create view paper_of_line with (security_invoker = true) as
	select distinct on (l.client_id, l.identity) l.firm_id, l.client_id, l.identity, p.id paper_id, p.name, p.uploaded_at, l.said_by_id
	from line_paper l join paper p on p.id = l.paper_id where l.fits and p.removed_at is null
	order by l.client_id, l.identity, l.said_at desc, l.id;
comment on view paper_of_line is 'The paper that was found for each line';
grant select on paper_of_line to lantern_app;
