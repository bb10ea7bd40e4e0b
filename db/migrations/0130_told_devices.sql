-- A device on which somebody wants to be told, by way of its browser's push service (RFC 8030), that there is something new.
create table told_device (
	device_id uuid primary key references device on delete cascade,
	firm_id uuid not null references firm,
	staff_id uuid references staff,
	contact_id uuid references contact,
	endpoint text not null,
	p256dh text not null,
	auth text not null,
	since timestamptz not null,
	told_at timestamptz,
	told_of uuid,
	check (num_nonnulls(staff_id, contact_id) = 1)
);
comment on table told_device is 'A device on which somebody is told that there is something new; what it says holds nothing of a client';
comment on column told_device.endpoint is 'Where its browser''s push service takes what is for it (RFC 8030)';
comment on column told_device.p256dh is 'The public key of the browser (RFC 8291), base64url';
comment on column told_device.auth is 'What the browser and we share besides (RFC 8291), base64url';
comment on column told_device.told_at is 'When it was told last';
comment on column told_device.told_of is 'The message of which it was told last';
create index told_device_of_person on told_device (coalesce(staff_id, contact_id));
create index session_by_device on session (device_id, created_at);
create index told_device_of_firm on told_device (firm_id);
alter table told_device enable row level security;
create policy same_firm on told_device to lantern_app using (firm_id = (select current_firm()));
create policy own_rows on told_device to lantern_contact using (firm_id = (select current_firm()) and contact_id = (select current_contact()));
grant select, insert, update, delete on told_device to lantern_app, lantern_contact;
insert into clearing (kind, place, table_name, only_where) values ('clients', 85, 'told_device', 'contact_id is not null');

-- Whoever has signed out on a device is not told there; whoever's session has only run out still is, for nothing of a client is said.
create view device_told with (security_invoker = true) as
	select t.device_id from told_device t join device d on d.id = t.device_id and d.forgotten_at is null
		cross join lateral (select s.ended_at from session s where s.device_id = t.device_id order by s.created_at desc, s.id limit 1) s
	where s.ended_at is null;
comment on view device_told is 'Devices on which somebody is told now: they have not signed out there since';
grant select on device_told to lantern_app, lantern_contact;
