-- Many can be asked by a file: a row for each request, with what its words say for that client.
create table ask_sheet (
	id uuid primary key,
	firm_id uuid not null references firm (id),
	file_name text not null,
	format text not null,
	header text[] not null,
	columns text[] not null,
	rows jsonb not null,
	made_by_id uuid not null references staff (id),
	made_at timestamptz not null,
	list_name text,
	used_at timestamptz,
	check ((used_at is null) = (list_name is null))
);
comment on table ask_sheet is 'A file by which many are asked, a request for each row; only whoever brought it reads it';
comment on column ask_sheet.columns is 'What each column holds: client, email or the name of a field; null where it is left out';
comment on column ask_sheet.rows is 'Its rows as `{ line, cells }`, and once it was used `stays`: why nothing was made of a row';
comment on column ask_sheet.list_name is 'How the list was called by which its rows were asked';
create index ask_sheet_of_person on ask_sheet (firm_id, made_by_id, made_at desc);
create index ask_sheet_by_age on ask_sheet (firm_id, made_at);
alter table ask_sheet enable row level security;
create policy same_firm on ask_sheet to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update, delete on ask_sheet to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 149, 'ask_sheet');

alter table request_draft add column sheet_line int;
comment on column request_draft.sheet_line is 'The row of the file that it was made from, where its run is a file';
