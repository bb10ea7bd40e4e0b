create extension if not exists citext;

create table firm (
	id uuid primary key,
	slug text not null unique check (slug ~ '^[a-z0-9][a-z0-9-]{1,60}$'),
	name text not null,
	time_zone text not null,
	country text not null,
	locale text not null default 'en',
	brand_color text not null check (brand_color ~ '^#[0-9a-f]{6}$'),
	welcome text not null default '',
	address text not null default '',
	mail_from text not null,
	business_days int[] not null default '{1,2,3,4,5}',
	send_from text not null default '09:00',
	send_to text not null default '17:00',
	chase_steps jsonb not null,
	chase_plan_name text not null,
	is_demo boolean not null default false,
	created_at timestamptz not null
);

create table holiday (
	firm_id uuid not null references firm,
	day date not null,
	name text not null,
	primary key (firm_id, day)
);

create table staff (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null,
	email citext not null unique,
	role text not null check (role in ('administrator', 'partner', 'coordinator', 'bookkeeper', 'filing')),
	password_hash text not null,
	suspended_at timestamptz,
	last_looked_at timestamptz,
	created_at timestamptz not null
);
create index staff_by_firm on staff (firm_id);

create table contact (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null,
	email citext not null,
	locale text not null default 'en',
	password_hash text,
	mail_problem text check (mail_problem in ('bounced', 'opted_out')),
	mail_problem_detail text,
	last_chased_on date,
	last_seen_at timestamptz,
	suspended_at timestamptz,
	created_at timestamptz not null,
	unique (firm_id, email)
);

create table client (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null,
	kind text not null check (kind in ('business', 'person')),
	responsible_id uuid not null references staff,
	created_at timestamptz not null
);
create index client_by_name on client (firm_id, lower(name), id);

create table client_contact (
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	contact_id uuid not null references contact,
	rank int not null,
	primary key (client_id, contact_id)
);
create index client_contact_by_contact on client_contact (contact_id, client_id);

create table session (
	id uuid primary key,
	firm_id uuid not null references firm,
	staff_id uuid references staff,
	contact_id uuid references contact,
	token_hash bytea not null unique,
	previous_token_hash bytea unique,
	rotated_at timestamptz not null,
	created_at timestamptz not null,
	last_used_at timestamptz not null,
	expires_at timestamptz not null,
	ended_at timestamptz,
	ip text not null,
	user_agent text not null,
	check ((staff_id is null) <> (contact_id is null))
);
create index session_by_staff on session (staff_id) where ended_at is null;
create index session_by_contact on session (contact_id) where ended_at is null;

create table password_reset (
	id uuid primary key,
	firm_id uuid not null references firm,
	contact_id uuid references contact,
	staff_id uuid references staff,
	token_hash bytea not null unique,
	created_at timestamptz not null,
	expires_at timestamptz not null,
	used_at timestamptz,
	check ((staff_id is null) <> (contact_id is null))
);

create table demo_clock (
	one boolean primary key default true check (one),
	offset_ms bigint not null,
	moving_to timestamptz
);
