-- Somebody can sign without signing in: by a link of their own, and if it is set a code that goes to their address or phone.
alter table letter_signer
	add column signs_by text not null default 'portal' check (signs_by in ('portal', 'link', 'link_mail', 'link_text')),
	add column link_hash bytea unique;
comment on column letter_signer.signs_by is 'How they come to it: signed in to their portal, or by a link of their own, alone or with a code by mail or by text';
comment on column letter_signer.link_hash is 'SHA-256 of the token in their link; null until a message with it was written, and once their address changes';

alter table signature
	add column signed_by_way text not null default 'portal' check (signed_by_way in ('portal', 'link', 'link_mail', 'link_text'));
comment on column signature.signed_by_way is 'How whoever signed had come to it, where they are of the client';

create table letter_visit (
	id uuid primary key,
	firm_id uuid not null references firm (id),
	signer_id uuid not null references letter_signer (id) on delete cascade,
	token_hash bytea not null unique,
	begun_at timestamptz not null,
	sent_to text,
	code_hash bytea,
	tries int not null default 0,
	let_in_at timestamptz
);
comment on table letter_visit is 'A browser that came by the link of somebody who signs without signing in';
comment on column letter_visit.token_hash is 'SHA-256 of the token in the browser''s cookie';
comment on column letter_visit.sent_to is 'The address or number that the code went to; null where none is asked for';
comment on column letter_visit.let_in_at is 'When they were let in to the letter';
create index letter_visit_of_signer on letter_visit (signer_id);
alter table letter_visit enable row level security;
create policy same_firm on letter_visit to lantern_app
	using (firm_id = (select current_firm()) and exists (select from letter_signer s where s.id = signer_id));
grant select, insert, update, delete on letter_visit to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 51, 'letter_visit');
insert into message_kind (name) values ('letter_code');

/*
 * Whether a request asks somebody to sign by a link of their own: of it they can be told though they have no way into the portal.
 */
create function asks_by_link(request uuid, person uuid) returns boolean
language sql stable security definer set search_path = public as $$
	select exists (select from item i join letter_signer s on s.item_id = i.id
		where i.request_id = request and s.contact_id = person and s.signs_by <> 'portal' and s.state = 'asked' and i.firm_id = current_firm())
$$;
revoke execute on function asks_by_link from public;
grant execute on function asks_by_link to lantern_app;

-- somebody else in their place does not come in by a link that went to them
create function close_links_of_replaced() returns trigger
language plpgsql security definer set search_path = public as $$
begin
	delete from letter_visit where signer_id = old.id;
	new.link_hash := null;
	return new;
end $$;
revoke execute on function close_links_of_replaced from public;
create trigger close_links_of_replaced before update of contact_id on letter_signer for each row
	when (old.contact_id is distinct from new.contact_id) execute function close_links_of_replaced();

-- a link that went to an address which is not theirs any more leads nowhere
create function close_letter_links() returns trigger
language plpgsql security definer set search_path = public as $$
begin
	delete from letter_visit v using letter_signer s where s.id = v.signer_id and s.contact_id = new.id;
	update letter_signer set link_hash = null where contact_id = new.id and link_hash is not null;
	return null;
end $$;
revoke execute on function close_letter_links from public;
create trigger close_letter_links after update of email, phone, suspended_at, removed_at on contact for each row
	when (old.email is distinct from new.email or old.phone is distinct from new.phone or old.suspended_at is distinct from new.suspended_at or old.removed_at is distinct from new.removed_at)
	execute function close_letter_links();
