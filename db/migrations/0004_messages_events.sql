create table message (
	id uuid primary key,
	firm_id uuid not null references firm,
	-- one row per planned message, whoever plans it how often: see core/messages
	unique_key text not null,
	kind text not null check (kind in ('invitation', 'request', 'chase', 'sent_back', 'signed_copy', 'password_reset', 'password_changed')),
	contact_id uuid references contact,
	staff_id uuid references staff,
	client_id uuid references client,
	request_id uuid references request,
	to_address text not null,
	subject text,
	body_text text,
	body_html text,
	-- what is needed to write the message when it is sent
	content jsonb not null,
	message_id text not null unique,
	thread_id text,
	state text not null check (state in ('planned', 'sending', 'sent', 'held_back', 'failed', 'unclear')),
	reason text,
	tries int not null default 0,
	planned_at timestamptz not null,
	sending_at timestamptz,
	-- wall time, not the demo clock's: how long the mail server has been spoken to
	sending_since timestamptz,
	sent_at timestamptz,
	settled_at timestamptz,
	seen_by_staff_at timestamptz,
	unique (firm_id, unique_key)
);
create index message_by_time on message (firm_id, planned_at desc, id desc);
create index message_by_contact on message (contact_id, planned_at desc);
create index message_sending on message (sending_since) where state = 'sending';
create index message_trouble on message (firm_id) where state in ('failed', 'unclear') and seen_by_staff_at is null;

create table message_item (
	firm_id uuid not null references firm,
	message_id uuid not null references message,
	item_id uuid not null references item,
	-- the step of the chase plan that made it go out; null for items that only went along
	step int,
	primary key (message_id, item_id)
);
create index message_item_by_item on message_item (item_id);

create table invitation (
	id uuid primary key,
	firm_id uuid not null references firm,
	contact_id uuid not null references contact,
	client_id uuid not null references client,
	message_id uuid not null references message,
	token_hash bytea not null unique,
	sent_by uuid not null references staff,
	sent_at timestamptz not null,
	expires_at timestamptz not null,
	opened_at timestamptz,
	taken_up_at timestamptz,
	withdrawn_at timestamptz,
	replaced_at timestamptz,
	put_aside_at timestamptz
);
create index invitation_by_contact on invitation (contact_id, sent_at desc);
create index invitation_open on invitation (firm_id, sent_at)
	where taken_up_at is null and withdrawn_at is null and replaced_at is null;

create table event (
	id bigint generated always as identity primary key,
	firm_id uuid not null references firm,
	at timestamptz not null,
	actor_kind text not null check (actor_kind in ('staff', 'contact', 'machine', 'nobody')),
	actor_id uuid,
	actor_name text not null,
	verb text not null,
	client_id uuid references client,
	contact_id uuid references contact,
	request_id uuid references request,
	item_id uuid references item,
	paper_id uuid references paper,
	message_id uuid references message,
	details jsonb not null default '{}',
	ip text
);
create index event_by_client on event (client_id, id desc);
create index event_by_item on event (item_id, id) where item_id is not null;
create index event_by_firm on event (firm_id, id desc);

create function refuse_change() returns trigger language plpgsql as $$
begin
	raise exception 'events are only ever added';
end $$;
create trigger event_append_only before update or delete on event
	for each row execute function refuse_change();

-- Screens listen for these; ids only, the rest is read through row-level security.
create function announce_event() returns trigger language plpgsql as $$
begin
	perform pg_notify('lantern_events', new.firm_id || ' ' || new.id || ' ' || coalesce(new.contact_id::text, ''));
	return null;
end $$;
create trigger event_announced after insert on event
	for each row execute function announce_event();

create function announce_clock() returns trigger language plpgsql as $$
begin
	perform pg_notify('lantern_clock', '');
	return null;
end $$;
create trigger demo_clock_announced after insert or update on demo_clock
	for each statement execute function announce_clock();
