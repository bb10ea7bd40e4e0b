-- Who of the firm is told what by mail: at once, in a summary, or not; as they choose, or as the firm usually does it.
alter table firm add column usual_telling jsonb;
comment on column firm.usual_telling is 'What the firm''s people are told who have not chosen for themselves; null: nothing';

create table staff_telling (
	staff_id uuid primary key references staff,
	firm_id uuid not null references firm,
	settings jsonb,
	summary_at timestamptz not null,
	told_at timestamptz not null,
	at_once_at timestamptz
);
comment on table staff_telling is 'What somebody of the firm is told by mail, and up to when they have been';
comment on column staff_telling.settings is 'As they chose; null: as the firm usually does it';
comment on column staff_telling.summary_at is 'When the last summary was due or made, or when they first chose: the next tells what came after';
comment on column staff_telling.told_at is 'Up to when they have been told at once';
comment on column staff_telling.at_once_at is 'When something was told at once last';
create index staff_telling_of_firm on staff_telling (firm_id);
alter table staff_telling enable row level security;
create policy same_firm on staff_telling to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update, delete on staff_telling to lantern_app;

-- A client of whom somebody is told besides, or is not told. Whoever may see a client chooses that for themselves.
create table staff_told_client (
	staff_id uuid not null references staff,
	client_id uuid not null references client,
	firm_id uuid not null references firm,
	told boolean not null,
	primary key (staff_id, client_id)
);
comment on table staff_told_client is 'A client of whom somebody of the firm is told though they are told of others only, or the other way round';
create index staff_told_client_by_client on staff_told_client (client_id);
alter table staff_told_client enable row level security;
create policy same_firm on staff_told_client to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
grant select, insert, update, delete on staff_told_client to lantern_app;
insert into clearing (kind, place, table_name) values ('clients', 151, 'staff_told_client');
insert into clearing (kind, table_name, because) values ('kept', 'staff_telling', 'the firm''s people');

-- What clients and the machine did, by time: what summaries are made of.
create index event_told on event (firm_id, at) where actor_kind <> 'staff';
insert into message_kind (name) values ('summary'), ('told_at_once');
