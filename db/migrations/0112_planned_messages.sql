-- A reminder that is planned can be left out, or say other words for this once.
create table chase_change (
	firm_id uuid not null references firm,
	contact_id uuid not null references contact,
	on_day date not null,
	left_out boolean not null default false,
	subject text check (length(subject) between 1 and 200),
	body text check (length(body) between 1 and 4000),
	changed_at timestamptz not null,
	changed_by_id uuid not null references staff,
	primary key (contact_id, on_day),
	check ((subject is null) = (body is null)),
	check (left_out or body is not null)
);
comment on table chase_change is 'What is changed for this once in a reminder that is planned';
comment on column chase_change.on_day is 'The day on which it would go when it was changed';
comment on column chase_change.left_out is 'It does not go: what fell due by then is behind us';
create index chase_change_of_firm on chase_change (firm_id, on_day);
create index chase_change_by_staff on chase_change (changed_by_id);
alter table chase_change enable row level security;
create policy same_firm on chase_change to lantern_app
	using (firm_id = (select current_firm()) and contact_id <> all ((select unseen_people())::uuid[]));
create policy may_work_add on chase_change as restrictive for insert to lantern_app with check (not belongs_to_not_worked(contact_id));
create policy may_work_change on chase_change as restrictive for update to lantern_app using (true) with check (not belongs_to_not_worked(contact_id));
grant select, insert, update, delete on chase_change to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 3, 'chase_change');
