-- Who proves twice who they are. Staff must by default, unless the firm says otherwise.
alter table firm
	add column second_step_staff boolean not null default true,
	add column second_step_contacts boolean not null default false;

-- The secret of an authenticator app (RFC 6238), encrypted with a key kept outside the database. One a person; the one
-- being set up stands beside it until its first code was right.
create table authenticator (
	id uuid primary key,
	firm_id uuid not null references firm,
	staff_id uuid references staff,
	contact_id uuid references contact,
	secret bytea not null,
	begun_at timestamptz not null,
	confirmed_at timestamptz,
	-- the newest time step a code was taken from: none is taken twice
	last_step bigint not null default 0,
	check ((staff_id is null) <> (contact_id is null))
);
create unique index authenticator_of_person on authenticator (coalesce(staff_id, contact_id), (confirmed_at is null));

create table recovery_code (
	id uuid primary key,
	firm_id uuid not null references firm,
	staff_id uuid references staff,
	contact_id uuid references contact,
	hash bytea not null,
	made_at timestamptz not null,
	used_at timestamptz,
	check ((staff_id is null) <> (contact_id is null))
);
create index recovery_code_of_person on recovery_code (coalesce(staff_id, contact_id));

-- Passkeys (WebAuthn): public keys only.
create table passkey (
	id uuid primary key,
	firm_id uuid not null references firm,
	staff_id uuid references staff,
	contact_id uuid references contact,
	credential_id text not null unique,
	public_key bytea not null,
	counter bigint not null,
	transports text[] not null,
	name text not null,
	made_at timestamptz not null,
	last_used_at timestamptz,
	check ((staff_id is null) <> (contact_id is null))
);
create index passkey_of_person on passkey (coalesce(staff_id, contact_id));

-- Browsers that somebody has signed in with. A trusted one is not asked for the second step until then.
create table device (
	id uuid primary key,
	firm_id uuid not null references firm,
	staff_id uuid references staff,
	contact_id uuid references contact,
	token_hash bytea not null unique,
	user_agent text not null,
	first_seen_at timestamptz not null,
	last_seen_at timestamptz not null,
	trusted_until timestamptz,
	forgotten_at timestamptz,
	check ((staff_id is null) <> (contact_id is null))
);
create index device_of_person on device (coalesce(staff_id, contact_id)) where forgotten_at is null;

-- A sign-in that has passed the first step and waits for the second, or waits for a code that was mailed.
create table sign_in_step (
	id uuid primary key,
	firm_id uuid not null references firm,
	staff_id uuid references staff,
	contact_id uuid references contact,
	kind text not null check (kind in ('second', 'mailed')),
	token_hash bytea not null unique,
	code_hash bytea,
	challenge text,
	tries int not null default 0,
	begun_at timestamptz not null,
	expires_at timestamptz not null,
	done_at timestamptz,
	check ((staff_id is null) <> (contact_id is null))
);
create index sign_in_step_of_person on sign_in_step (coalesce(staff_id, contact_id), begun_at desc);

-- Challenges of passkeys asked for before it is known who answers, or while one is made. Used once.
create table passkey_challenge (
	id uuid primary key,
	challenge text not null,
	-- the person who makes a passkey; null at sign-in
	person_id uuid,
	expires_at timestamptz not null
);
grant select, insert, delete on passkey_challenge to lantern_app, lantern_contact;

do $$
declare
	t text;
begin
	foreach t in array array['authenticator', 'recovery_code', 'passkey', 'device', 'sign_in_step'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()))', t);
		execute format('grant select, insert, update, delete on %I to lantern_app', t);
		if t <> 'sign_in_step' then
			execute format('create policy own_rows on %I to lantern_contact using (firm_id = (select current_firm()) and contact_id = (select current_contact()))', t);
			execute format('grant select, insert, update, delete on %I to lantern_contact', t);
		end if;
	end loop;
end $$;

alter table session
	add column device_id uuid references device,
	-- the second step must be set up before anything else is done
	add column must_set_up boolean not null default false;

drop function session_of_token;
create function session_of_token(token bytea) returns table (
	session_id uuid, firm_id uuid, slug text, is_current boolean, rotated_at timestamptz, last_used_at timestamptz, expires_at timestamptz,
	ended_at timestamptz, kind text, person_id uuid, name text, email text, role text, locale text, suspended_at timestamptz, must_set_up boolean
) language plpgsql stable security definer set search_path = public as $$
begin
	-- plpgsql, since it keeps its plan; two look-ups, since one with "or" cannot use both indexes cheaply
	return query select s.id, s.firm_id, f.slug, s.token_hash = token, s.rotated_at, s.last_used_at, s.expires_at, s.ended_at,
		case when s.staff_id is null then 'contact' else 'staff' end, coalesce(st.id, c.id), coalesce(st.name, c.name), coalesce(st.email, c.email)::text,
		st.role, coalesce(c.locale, f.locale), coalesce(st.suspended_at, c.suspended_at, c.removed_at), s.must_set_up
	from session s join firm f on f.id = s.firm_id left join staff st on st.id = s.staff_id left join contact c on c.id = s.contact_id
	where s.id = coalesce((select c.id from session c where c.token_hash = token), (select p.id from session p where p.previous_token_hash = token));
end $$;
create function find_firm_of_step(token bytea) returns uuid
language sql stable security definer set search_path = public as
$$ select s.firm_id from sign_in_step s where s.token_hash = token $$;
create function find_firm_of_passkey(wanted text) returns uuid
language sql stable security definer set search_path = public as
$$ select p.firm_id from passkey p where p.credential_id = wanted $$;
revoke execute on function session_of_token, find_firm_of_step, find_firm_of_passkey from public;
grant execute on function session_of_token, find_firm_of_step, find_firm_of_passkey to lantern_app;

alter table message drop constraint message_kind_check;
alter table message add constraint message_kind_check
	check (kind in ('invitation', 'invitation_chase', 'request', 'chase', 'sent_back', 'signed_copy', 'password_reset', 'password_changed', 'sign_in_code', 'new_device', 'second_step_changed'));
