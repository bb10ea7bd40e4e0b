-- Folders of a client's papers, papers that the firm adds, what of it all the client sees, and search over all of them.

-- The firm's own scheme: folders that each client is proposed.
create table proposed_folder (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null check (length(name) between 1 and 60),
	place int not null,
	client_may text not null default 'see' check (client_may in ('nothing', 'see', 'add')),
	services uuid[] not null default '{}'
);
comment on table proposed_folder is 'A folder that the papers of each client are proposed';
comment on column proposed_folder.client_may is 'What people of the client may do in it once it is there';
comment on column proposed_folder.services is 'The services of whose clients it is proposed; empty for all';
create unique index proposed_folder_by_name on proposed_folder (firm_id, lower(name));
alter table proposed_folder enable row level security;
create policy same_firm on proposed_folder to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update, delete on proposed_folder to lantern_app;
insert into clearing (table_name, kind, because) values ('proposed_folder', 'kept', 'the Library');

create table folder (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	name text not null check (length(name) between 1 and 60),
	client_may text not null default 'see' check (client_may in ('nothing', 'see', 'add')),
	for_some boolean not null default false
);
comment on table folder is 'A folder of the papers of a client';
comment on column folder.client_may is 'What people of the client may do in it: nothing, see what is shown there, or add as well';
comment on column folder.for_some is 'Only for the people who are named, not for all of the client';
create unique index folder_by_name on folder (client_id, lower(name));
alter table folder enable row level security;
create policy same_firm on folder to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on folder as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on folder as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on folder for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on folder to lantern_app;
insert into clearing (kind, place, table_name) values ('clients', 203, 'folder');

create table folder_contact (
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	folder_id uuid not null references folder on delete cascade,
	contact_id uuid not null references contact,
	primary key (folder_id, contact_id)
);
comment on table folder_contact is 'The people of a client for whom a folder is, where it is not for all of them';
create index folder_contact_by_contact on folder_contact (contact_id);
create index folder_contact_by_client on folder_contact (client_id);
alter table folder_contact enable row level security;
create policy same_firm on folder_contact to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on folder_contact as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on folder_contact as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on folder_contact for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
create policy own_rows on folder_contact for select to lantern_contact
	using (firm_id = (select current_firm()) and contact_id = (select current_contact()));
grant select, insert, update, delete on folder_contact to lantern_app;
grant select on folder_contact to lantern_contact;
insert into clearing (kind, place, table_name) values ('clients', 202, 'folder_contact');

-- A contact knows of the folders that are open to them, of no others.
create policy open_to_me on folder for select to lantern_contact
	using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[]) and client_may <> 'nothing'
		and (not for_some or id in (select c.folder_id from folder_contact c where c.contact_id = (select current_contact()))));
grant select on folder to lantern_contact;

alter table paper add column folder_id uuid references folder on delete set null;
alter table paper add column given_by_id uuid references staff;
alter table paper add column shown_at timestamptz;
alter table paper add column shown_by_id uuid references staff;
alter table paper add column newer_id uuid references paper on delete set null;
alter table paper add column language text check (language in ('en', 'fr', 'de'));
alter table paper add column search tsvector;
alter table paper drop constraint paper_has_its_item;
alter table paper add constraint paper_has_its_item check (item_id is not null or unasked or given_by_id is not null);
alter table paper add constraint paper_given check (given_by_id is null or (not unasked and item_id is null));
alter table paper add constraint paper_shown check ((shown_at is null) = (shown_by_id is null) and (shown_at is null or not held));
alter table paper add column place text not null generated always as (case when item_id is not null then 'item' when kept then 'kept'
	when put_away_at is not null then 'away' when held then 'held' when unasked then 'waits' else 'kept' end) stored;
alter table paper add column waits boolean not null generated always as
	(unasked and item_id is null and removed_at is null and put_away_at is null) stored;
comment on column paper.folder_id is 'The folder of the client in which it lies';
comment on column paper.given_by_id is 'Who of the firm added it; null for what came from the client';
comment on column paper.shown_at is 'When it was shown to the client; null while it is for the firm only';
comment on column paper.newer_id is 'The newest version, which took its place; null for that one';
comment on column paper.language is 'In which its words are written, where that could be told';
comment on column paper.search is 'What it is found by: name, note, who sent it, what it answers, its folder, and the words inside';
comment on column paper.place is 'Where it is: it answers what was asked, is kept, is put away, waits to be let in, or waits for its place';
comment on column paper.waits is 'It is here and waits for its place, or to be let in';
drop index paper_waiting;
create index paper_waiting on paper (firm_id, uploaded_at, id) where waits;
create index paper_of_firm on paper (firm_id, uploaded_at desc, id desc) where removed_at is null and newer_id is null;
create index paper_of_folder on paper (folder_id) where folder_id is not null;
create index paper_shown_to on paper (client_id) where shown_at is not null;
create index paper_of_newer on paper (newer_id) where newer_id is not null;
create index event_by_paper on event (paper_id, id) where paper_id is not null;

-- What the firm adds is not a contact's to see until it is shown to them, and never theirs to write.
create policy of_firm_when_shown on paper as restrictive to lantern_contact
	using (given_by_id is null or (shown_at is not null and (folder_id is null or folder_id in (select f.id from folder f))))
	with check (given_by_id is null);

-- Who is still to be told of a paper that was shown to them.
create table paper_announcement (
	firm_id uuid not null references firm,
	paper_id uuid not null references paper on delete cascade,
	contact_id uuid not null references contact,
	told_at timestamptz,
	primary key (paper_id, contact_id)
);
comment on table paper_announcement is 'Who is still to be told of a paper that was shown to them, in one message a day';
comment on column paper_announcement.told_at is 'When a message named it, or they had found it by themselves';
create index paper_announcement_due on paper_announcement (firm_id, contact_id) where told_at is null;
create index paper_announcement_by_contact on paper_announcement (contact_id);
alter table paper_announcement enable row level security;
create policy same_firm on paper_announcement to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update, delete on paper_announcement to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 55, 'paper_announcement');
insert into message_kind (name) values ('papers_shown');

-- Words as they are searched: in lower case, sums as one word however their thousands and cents are written.
create function search_words(words text) returns text language sql immutable strict parallel safe set search_path = public as $$
	select btrim(regexp_replace(regexp_replace(regexp_replace(lower(words),
		'(\d)[.,''’](?=\d{3}(\D|$))', '\1', 'g'),
		'(\d)[.,](\d{2})(?!\d)', '\1c\2', 'g'),
		'[^[:alnum:]]+', ' ', 'g'))
$$;
grant execute on function search_words to lantern_app, lantern_contact;

create function stemming(language text) returns regconfig language sql immutable parallel safe
as $$ select case language when 'fr' then 'french'::regconfig when 'de' then 'german'::regconfig else 'english'::regconfig end $$;

create function note_search_of_paper() returns trigger language plpgsql security definer set search_path = public as $$
declare
	head text := concat_ws(' ', new.name, new.note,
		(select c.name from contact c where c.id = new.uploaded_by_contact_id), (select s.name from staff s where s.id = new.given_by_id),
		(select concat_ws(' ', m.from_name, m.from_address) from incoming_mail m where m.id = new.mail_id),
		(select i.title from item i where i.id = new.item_id), (select f.name from folder f where f.id = new.folder_id));
	words text := search_words(concat_ws(' ', head, new.first_words));
begin
	-- as they stand without their marks, and in the forms of their language, which go by the marks
	new.search := to_tsvector('simple', plain(words)) || to_tsvector(stemming(new.language), words);
	return new;
end $$;
create trigger note_search before insert or update of name, note, uploaded_by_contact_id, mail_id, item_id, folder_id, first_words, language, search on paper
	for each row execute function note_search_of_paper();

-- Papers are found by names that stand elsewhere: when these change, they are noted anew.
create function note_search_of_papers() returns trigger language plpgsql security definer set search_path = public as $$
begin
	execute format('update paper set search = null where %I = $1', tg_argv[0]) using new.id;
	return null;
end $$;
create trigger note_search after update of name on contact for each row when (old.name <> new.name) execute function note_search_of_papers('uploaded_by_contact_id');
create trigger note_search after update of title on item for each row when (old.title <> new.title) execute function note_search_of_papers('item_id');
create trigger note_search after update of name on folder for each row when (old.name <> new.name) execute function note_search_of_papers('folder_id');
revoke execute on function note_search_of_paper, note_search_of_papers from public;

-- What is typed, as a question to the column: each word begins one that is there, or is another form of it.
create function paper_query(typed text) returns tsquery language sql immutable strict parallel safe set search_path = public as $$
	select string_agg('(' || concat_ws(' | ', quote_literal(plain(w)) || ':*', nullif(to_tsquery('english', quote_literal(w))::text, ''),
		nullif(to_tsquery('french', quote_literal(w))::text, ''), nullif(to_tsquery('german', quote_literal(w))::text, '')) || ')', ' & ')::tsquery
	from (select w from regexp_split_to_table(search_words(typed), ' ') with ordinality t (w, n) where w <> '' order by n limit 8) t
$$;
grant execute on function paper_query to lantern_app, lantern_contact;

update paper set search = null;
create index paper_search on paper using gin (search) where removed_at is null;
