-- Papers by mail: each client has an address of their own, of which this is the secret part.
alter table client add column mail_key text not null default left(replace(gen_random_uuid()::text, '-', ''), 20) check (mail_key ~ '^[0-9a-f]{20}$');
comment on column client.mail_key is 'The secret part of the address at which their papers come in by mail';
create unique index client_by_mail_key on client (mail_key);

-- Before it is known whose it is.
create function client_with_mail_key(key text) returns table (firm_id uuid, client_id uuid)
language sql stable security definer set search_path = public as
$$ select c.firm_id, c.id from client c where c.mail_key = key $$;
revoke execute on function client_with_mail_key from public;
grant execute on function client_with_mail_key to lantern_app;

create table incoming_mail (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	-- of its head, or of its content where it has none
	message_id text not null check (length(message_id) between 1 and 300),
	from_address text not null check (length(from_address) <= 320),
	from_name text not null check (length(from_name) <= 120),
	subject text not null check (length(subject) <= 300),
	words text not null check (length(words) <= 4000),
	came_at timestamptz not null,
	authentication jsonb not null default '{}',
	held text check (held in ('unknown', 'contradicted')),
	let_in_at timestamptz,
	let_in_by_id uuid references staff,
	left_out jsonb not null default '[]',
	check ((let_in_at is null) = (let_in_by_id is null) and (let_in_at is null or held is not null))
);
comment on table incoming_mail is 'A mail that brought papers of a client';
comment on column incoming_mail.authentication is 'What the servers on the way say of the sender, by method (RFC 8601)';
comment on column incoming_mail.held is 'Why its papers wait to be let in; null if they do not have to';
comment on column incoming_mail.left_out is 'The files that were not kept, each with its name and why';
-- a server that did not hear our answer sends a mail again
create unique index incoming_mail_once on incoming_mail (client_id, message_id);
alter table incoming_mail enable row level security;
create policy same_firm on incoming_mail to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on incoming_mail as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on incoming_mail as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on incoming_mail for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on incoming_mail to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 65, 'incoming_mail');

alter table paper add column mail_id uuid references incoming_mail on delete set null;
alter table paper add column held boolean not null default false;
alter table paper add constraint paper_held check (not held or (mail_id is not null and item_id is null));
comment on column paper.mail_id is 'The mail that brought it';
comment on column paper.held is 'It came by mail, and nobody has let it in yet';
create index paper_of_mail on paper (mail_id) where mail_id is not null;

-- What waits to be let in does not count as here.
create or replace view placed_statement with (security_invoker = true) as
	select s.id, s.firm_id, s.client_id, s.paper_id, s.covers_from, s.covers_to, s.opening, s.closing, s.currency, s.last_four, s.explained, s.put_right_at,
		coalesce(s.account_id,
			(select (array_agg(a.id))[1] from account a where a.client_id = s.client_id and a.last_four = s.last_four having count(*) = 1),
			i.account_id) account_id,
		p.item_id, p.kept or coalesce(i.state = 'accepted', false) settled
	from statement s join paper p on p.id = s.paper_id left join item i on i.id = p.item_id
	-- what a client has not handed in yet, or was sent back, is not here
	where p.removed_at is null and not p.held and (p.put_away_at is null or p.kept) and (p.item_id is null or i.state in ('handed_in', 'accepted'));
