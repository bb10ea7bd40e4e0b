-- What a service costs, usually and as agreed with a client; a letter shows it as a table.
alter table service
	add column fee text check (fee ~ '^\d{1,12}(\.\d{1,4})?$'),
	add column fee_every text not null default 'month' check (fee_every in ('month', 'quarter', 'year', 'once', 'hour'));
comment on column service.fee is 'What it usually costs, in the currency of the firm, with a point; null where that is agreed each time';
comment on column service.fee_every is 'How often its fee falls due';
alter table engagement_service
	add column fee text check (fee ~ '^\d{1,12}(\.\d{1,4})?$'),
	add column fee_every text check (fee_every in ('month', 'quarter', 'year', 'once', 'hour')),
	add constraint engagement_service_fee_whole check ((fee is null) = (fee_every is null));
comment on column engagement_service.fee is 'What was agreed with the client; null where the usual fee of the service counts';
comment on column engagement_service.fee_every is 'How often what was agreed falls due';

-- The account from which fees may be collected, as somebody gave it while they signed.
create table payment_authorisation (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	letter_id uuid not null references letter on delete cascade,
	contact_id uuid not null references contact,
	given_at timestamptz not null,
	encrypted bytea not null,
	handed_on_at timestamptz
);
comment on table payment_authorisation is 'The account that somebody of a client named in a letter, encrypted, for fees to be collected from';
comment on column payment_authorisation.encrypted is 'Holder and numbers of the account';
comment on column payment_authorisation.handed_on_at is 'When it first went into a file for whoever collects; null while it did not';
create index payment_authorisation_of_letter on payment_authorisation (letter_id);
create index payment_authorisation_of_client on payment_authorisation (client_id);
create index payment_authorisation_of_contact on payment_authorisation (contact_id);
create index payment_authorisation_by_time on payment_authorisation (firm_id, given_at);

alter table payment_authorisation enable row level security;
create policy same_firm on payment_authorisation to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on payment_authorisation as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on payment_authorisation as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on payment_authorisation for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
-- they give it, and nobody of the client reads it again
create policy own_clients on payment_authorisation for insert to lantern_contact
	with check (firm_id = (select current_firm()) and contact_id = (select current_contact()) and client_id = any ((select my_clients())::uuid[]));
grant select, insert, update, delete on payment_authorisation to lantern_app;
grant insert on payment_authorisation to lantern_contact;
insert into clearing (kind, place, table_name) values ('requests', 53, 'payment_authorisation');

-- What ends a letter ends what was authorised with it, whoever ends it.
create function forget_accounts_of_letter() returns trigger
language plpgsql security definer set search_path = public as $$
begin
	delete from payment_authorisation where letter_id = new.id;
	return null;
end;
$$;
revoke all on function forget_accounts_of_letter() from public;
create trigger forget_accounts after update of state on letter for each row
	when (new.state in ('declined', 'withdrawn', 'lapsed')) execute function forget_accounts_of_letter();
