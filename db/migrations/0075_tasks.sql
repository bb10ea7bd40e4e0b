-- What somebody of the firm has to do because of what was answered. The key of what brought it about keeps it from being there twice.
create table task (
	id uuid primary key,
	firm_id uuid not null references firm (id),
	client_id uuid not null references client (id),
	item_id uuid references item (id) on delete set null,
	once text not null,
	words text not null,
	because text not null,
	staff_id uuid not null references staff (id),
	made_at timestamptz not null,
	done_at timestamptz,
	done_by_id uuid references staff (id),
	unique (firm_id, once),
	check ((done_at is null) = (done_by_id is null))
);
comment on table task is 'Something for a person of the firm to do about a client';
comment on column task.because is 'The question whose answer brought it about';
create index task_open on task (firm_id, made_at, id) where done_at is null;
create index task_of_client on task (client_id);
create index task_of_item on task (item_id) where item_id is not null;
alter table task enable row level security;
create policy same_firm on task to lantern_app using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on task as restrictive for insert to lantern_app
	with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on task as restrictive for update to lantern_app using (true)
	with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on task for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on task to lantern_app;
insert into clearing (kind, place, table_name, only_where) values ('clients', 6, 'task', 'true');
insert into message_kind (name) values ('answer_told');
