-- Public pages: anybody who has the address answers a questionnaire there. It is never the address at which it is written.
create table public_page (
	id uuid primary key,
	firm_id uuid not null references firm (id),
	questionnaire_id uuid not null unique references questionnaire (id),
	name text not null check (name ~ '^[a-z0-9]+(-[a-z0-9]+)*$' and length(name) <= 60),
	sites text[] not null default '{}',
	who text not null check (who in ('asked', 'optional')),
	thanks text not null default '',
	opened_by_id uuid not null references staff (id),
	opened_at timestamptz not null,
	closed_at timestamptz
);
comment on table public_page is 'The page on which anybody answers a questionnaire';
comment on column public_page.name is 'The last part of its address';
comment on column public_page.sites is 'Origins of the websites that may show it in a frame';
comment on column public_page.who is 'Whether whoever answers must say who they are';
create unique index public_page_by_name on public_page (firm_id, name);

-- What somebody sent there, until a person of the firm says whose it is.
create table public_answer (
	id uuid primary key,
	firm_id uuid not null references firm (id),
	page_id uuid not null references public_page (id),
	questionnaire_id uuid not null references questionnaire (id),
	once uuid not null,
	version int not null,
	title text not null,
	questions jsonb not null,
	answers jsonb not null,
	name text not null default '',
	business text not null default '',
	email citext,
	phone text,
	locale text not null check (locale in ('en', 'fr')),
	came_at timestamptz not null,
	receipt_hash bytea not null unique,
	code_hash bytea,
	code_asked_at timestamptz,
	code_tries int not null default 0,
	confirmed_at timestamptz,
	outcome text check (outcome in ('client', 'joined', 'kept', 'put_away')),
	dealt_at timestamptz,
	dealt_by_id uuid references staff (id),
	client_id uuid references client (id),
	item_id uuid references item (id) on delete set null,
	unique (firm_id, once),
	check ((outcome is null) = (dealt_at is null) and (outcome is null) = (dealt_by_id is null)),
	check ((outcome in ('client', 'joined')) = (client_id is not null) or outcome is null)
);
comment on table public_answer is 'What somebody answered on a public page';
comment on column public_answer.once is 'Which opening of the page it came from: sent twice, it is one answer';
comment on column public_answer.receipt_hash is 'Of the address that whoever answered was led to; with it a copy is asked for';
comment on column public_answer.confirmed_at is 'When they proved by a code that the address is theirs';
create index public_answer_waiting on public_answer (firm_id, came_at, id) where outcome is null;
create index public_answer_of_questionnaire on public_answer (questionnaire_id, came_at) where item_id is null;
create index public_answer_of_client on public_answer (client_id) where client_id is not null;

alter table public_page enable row level security;
alter table public_answer enable row level security;
create policy same_firm on public_page to lantern_app using (firm_id = (select current_firm()));
create policy same_firm on public_answer to lantern_app using (firm_id = (select current_firm())
	and (client_id is null or client_id <> all ((select unseen_clients())::uuid[])));
-- whoever may only look at a client changes nothing of it
create policy may_work_add on public_answer as restrictive for insert to lantern_app
	with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on public_answer as restrictive for update to lantern_app using (true)
	with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on public_answer for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on public_page, public_answer to lantern_app;

insert into clearing (table_name, kind, because) values ('public_page', 'kept', 'what the firm asks its clients is its own');
insert into clearing (kind, place, table_name, only_where) values ('clients', 5, 'public_answer', 'true');

-- mail to somebody who answered and is nobody the firm knows
alter table message add column public_answer_id uuid references public_answer (id) on delete set null;
create index message_of_public_answer on message (public_answer_id) where public_answer_id is not null;
insert into message_kind (name) values ('answer_code'), ('answer_copy');
