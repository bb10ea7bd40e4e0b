-- Which row of an imported list holds its headings can be said: so that row and those above it are kept, as no client.
alter table client_import add column heading_line int;
-- lists that were read before kept only what stands below
update client_import i set heading_line = 1 where not exists (select from client_import_row r where r.import_id = i.id and r.line = 1);
alter table client_import_row drop constraint client_import_row_outcome_check,
	add constraint client_import_row_outcome_check check (outcome in ('create', 'update', 'same', 'ask', 'skip', 'wrong', 'above'));
