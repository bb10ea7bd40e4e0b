create table request (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	contact_id uuid not null references contact,
	title text not null,
	once_key uuid not null,
	created_by uuid not null references staff,
	sent_at timestamptz not null,
	unique (firm_id, once_key)
);
create index request_by_client on request (client_id, sent_at desc);

create table item (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	request_id uuid not null references request,
	contact_id uuid not null references contact,
	position int not null,
	kind text not null check (kind in ('paper', 'question', 'letter')),
	title text not null,
	why text,
	required boolean not null,
	due_on date,
	state text not null check (state in ('drafted', 'asked', 'seen', 'started', 'handed_in', 'accepted', 'sent_back', 'waived', 'answered_no', 'declined')),
	state_at timestamptz not null,
	answer text,
	reason text,
	-- counts every change, so that the later of two people is told
	version int not null default 1,
	-- chase steps on or before this day lie behind the item
	chased_through date not null,
	-- the day of the next step by core's nextStep; null when the plan has run out or nothing is to chase
	next_chase_on date,
	chases_sent int not null default 0
);
create index item_by_client on item (client_id, due_on, position);
create index item_by_request on item (request_id, position);
create index item_by_contact on item (contact_id) where state in ('asked', 'seen', 'started', 'sent_back');
create index item_chase_due on item (firm_id, next_chase_on, contact_id) where next_chase_on is not null;
create index item_to_look_at on item (firm_id, state_at) where state in ('handed_in', 'answered_no', 'declined');
create index item_ran_out on item (firm_id, client_id)
	where state in ('asked', 'seen', 'started', 'sent_back') and next_chase_on is null and due_on is not null;

create table paper (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	item_id uuid references item,
	name text not null,
	bytes bigint not null,
	sha256 bytea not null,
	content_type text not null,
	storage_key text not null unique,
	uploaded_by_contact uuid references contact,
	uploaded_at timestamptz not null,
	removed_at timestamptz
);
create index paper_by_item on paper (item_id, uploaded_at);
create index paper_by_client on paper (client_id, uploaded_at desc);

create table letter (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	item_id uuid not null unique references item,
	document jsonb not null,
	state text not null check (state in ('sent', 'signed', 'sealed', 'declined', 'withdrawn')),
	storage_key text not null,
	sha256 bytea not null,
	pages int not null,
	signature_page int not null,
	signature_top double precision not null,
	shown_whole_at timestamptz,
	sealed_key text,
	sealed_sha256 bytea,
	sealed_at timestamptz
);
create index letter_to_countersign on letter (firm_id) where state = 'signed';

create table signature (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	letter_id uuid not null references letter,
	rank int not null,
	contact_id uuid references contact,
	staff_id uuid references staff,
	name text not null,
	email text not null,
	mark jsonb not null,
	consent text not null,
	signed_at timestamptz not null,
	ip text not null,
	user_agent text not null,
	unique (letter_id, rank),
	check ((staff_id is null) <> (contact_id is null))
);

-- The firm's signing certificates; the key is encrypted with a key kept outside the database.
create table seal_certificate (
	firm_id uuid primary key references firm,
	root_pem text not null,
	leaf_pem text not null,
	encrypted_key bytea not null,
	created_at timestamptz not null
);
