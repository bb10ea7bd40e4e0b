-- People of the firm are invited by mail and choose their own password; until then nobody can sign in with theirs.
alter table staff alter column password_hash drop not null;
alter table message drop constraint message_kind_check;
alter table message add constraint message_kind_check
	check (kind in ('invitation', 'invitation_chase', 'request', 'chase', 'sent_back', 'signed_copy', 'password_reset', 'password_changed', 'sign_in_code', 'new_device', 'second_step_changed', 'staff_invitation'));

-- Somebody of the firm looks at the portal as a contact sees it. Kept for good: who looked, when.
create table portal_look (
	id uuid primary key,
	firm_id uuid not null references firm,
	staff_id uuid not null references staff,
	contact_id uuid not null references contact,
	token_hash bytea not null unique,
	begun_at timestamptz not null,
	expires_at timestamptz not null,
	ended_at timestamptz
);
alter table portal_look enable row level security;
create policy same_firm on portal_look to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update on portal_look to lantern_app;

create function look_of_token(token bytea) returns table (
	look_id uuid, firm_id uuid, slug text, contact_id uuid, contact_name text, email text, locale text, staff_name text, expires_at timestamptz
) language sql stable security definer set search_path = public as $$
	select l.id, l.firm_id, f.slug, c.id, c.name, c.email::text, c.locale, s.name, l.expires_at
	from portal_look l join firm f on f.id = l.firm_id join staff s on s.id = l.staff_id and s.suspended_at is null
		join contact c on c.id = l.contact_id and c.removed_at is null
	where l.token_hash = token and l.ended_at is null
$$;
revoke execute on function look_of_token from public;
grant execute on function look_of_token to lantern_app;
