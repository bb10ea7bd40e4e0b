-- Somebody can be asked to show who they are before they see a letter: by questions of a service that checks identities, after the code.
alter table letter_signer drop constraint letter_signer_signs_by_check;
alter table letter_signer add constraint letter_signer_signs_by_check check (signs_by in ('portal', 'link', 'link_mail', 'link_text', 'link_check'));
alter table signature drop constraint signature_signed_by_way_check;
alter table signature add constraint signature_signed_by_way_check check (signed_by_way in ('portal', 'link', 'link_mail', 'link_text', 'link_check'));
comment on column letter_signer.signs_by is 'How they come to it: signed in to their portal, or by a link of their own, alone, with a code by mail or by text, or with a code by mail and an identity check';

create function identity_check_tries() returns int language sql immutable as $$ select 2 $$;
comment on function identity_check_tries is 'How often somebody may be asked who they are before the firm has to let them try again';
alter table letter_signer
	add column checks_left int not null default identity_check_tries() check (checks_left >= 0),
	add column check_stopped_at timestamptz;
comment on column letter_signer.checks_left is 'How often they may still be asked who they are';
comment on column letter_signer.check_stopped_at is 'Since when they cannot go on because they did not show who they are, until somebody of the firm lets them try again';
create index letter_signer_check_stopped on letter_signer (firm_id, check_stopped_at) where check_stopped_at is not null;
comment on column item.asks_us is 'Somebody of the client wrote something about it that nobody of the firm has seen yet, or cannot go on until the firm acts: until then nobody is reminded of it';

create view stopped_signer with (security_invoker = true) as
	select s.id, s.firm_id, s.client_id, s.item_id, s.name, s.check_stopped_at from letter_signer s join letter l on l.id = s.letter_id
	where s.check_stopped_at is not null and s.state = 'asked' and l.state in ('sent', 'signed');
grant select on stopped_signer to lantern_app;
comment on view stopped_signer is 'Who is asked to sign a letter and cannot go on: they did not show who they are';

alter table letter_visit add column code_given_at timestamptz;
comment on column letter_visit.code_given_at is 'When the right code was given in this browser, where more is asked after it';

create table identity_check (
	id uuid primary key,
	firm_id uuid not null references firm (id),
	signer_id uuid not null references letter_signer (id) on delete cascade,
	visit_id uuid references letter_visit (id) on delete set null,
	service text not null,
	price numeric(12, 2),
	currency text,
	begun_at timestamptz not null,
	service_key text,
	questions jsonb,
	ended_at timestamptz,
	outcome text check (outcome in ('passed', 'failed', 'unknown', 'expired')),
	score int check (score between 0 and 100),
	check ((outcome is null) = (ended_at is null)),
	check (outcome is null or questions is null)
);
comment on table identity_check is 'One time that somebody was asked who they are, before a letter was shown to them';
comment on column identity_check.service is 'What the service that asked calls itself';
comment on column identity_check.price is 'What the service said that it asks for it; null for nothing';
comment on column identity_check.service_key is 'By which the service knows it; null while it is asked for';
comment on column identity_check.questions is 'The service''s questions, while they wait for answers; they are about a person, and kept no longer. Answers are not kept';
comment on column identity_check.outcome is 'unknown: the service knows too little of them to ask anything';
create index identity_check_of_signer on identity_check (signer_id, begun_at);
create index identity_check_of_visit on identity_check (visit_id);
create index identity_check_open on identity_check (firm_id, begun_at) where outcome is null;
alter table identity_check enable row level security;
create policy same_firm on identity_check to lantern_app
	using (firm_id = (select current_firm()) and exists (select from letter_signer s where s.id = signer_id));
grant select, insert, update, delete on identity_check to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 50, 'identity_check');

create table identity_service (
	one boolean primary key default true check (one),
	name text not null,
	price numeric(12, 2),
	currency text,
	asked_at timestamptz not null,
	check ((price is null) = (currency is null))
);
comment on table identity_service is 'The service that checks identities, as it last described itself; empty where none is set up';
grant select, insert, update, delete on identity_service to lantern_app;

-- whoever stands in somebody's place, or comes by another way, begins anew
create or replace function close_links_of_replaced() returns trigger
language plpgsql security definer set search_path = public as $$
begin
	delete from letter_visit where signer_id = old.id;
	new.checks_left := identity_check_tries();
	new.check_stopped_at := null;
	if old.contact_id is distinct from new.contact_id or new.signs_by = 'portal' then
		new.link_hash := null;
	end if;
	return new;
end $$;
