-- The accounts of a client: each gives statements, one for each of its cycles, as long as it is open.
create table account (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client on delete cascade,
	kind text not null check (kind in ('bank', 'card', 'loan', 'payment')),
	institution text not null,
	last_four text not null default '',
	currency text not null,
	-- the day of the month on which a statement closes; 31 is the last day
	closing_day int not null check (closing_day between 1 and 31),
	opened_on date,
	closed_on date,
	noted_by uuid not null references staff,
	noted_at timestamptz not null
);
create index account_by_client on account (client_id);
alter table account enable row level security;
create policy same_firm on account to lantern_app using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
grant select, insert, update on account to lantern_app;

-- which statement an item asks for
alter table item add column account_id uuid references account on delete set null;
alter table item add column period_from date;
alter table item add column period_to date;
create index item_by_account on item (account_id, period_to) where account_id is not null;
