-- One name, one meaning: foreign keys end in _id, keys against doing a thing twice are idempotency keys, what repeats is recurring,
-- what is counted for the list of clients is a summary. Only names change.
create temporary table renamed (word text primary key, becomes text not null) on commit drop;
insert into renamed values
	('client_position', 'client_summary'), ('standing_request', 'recurring_request'), ('standing_occurrence', 'recurring_occurrence'),
	('once_key', 'idempotency_key'), ('unique_key', 'idempotency_key'), ('standing_id', 'recurring_id'),
	('noted_by', 'noted_by_id'), ('added_by', 'added_by_id'), ('changed_by', 'changed_by_id'), ('begun_by', 'begun_by_id'),
	('written_by', 'written_by_id'), ('practice_of', 'practice_of_id'), ('sent_by', 'sent_by_id'), ('by_contact', 'contact_id'),
	('by_staff', 'staff_id'), ('given_by', 'given_by_id'), ('shown_to_contact', 'shown_to_contact_id'), ('decided_by', 'decided_by_id'),
	('made_by', 'made_by_id'), ('uploaded_by_contact', 'uploaded_by_contact_id'), ('created_by', 'created_by_id'),
	('raised_by', 'raised_by_id'), ('kept_by', 'kept_by_id'), ('brought_by', 'brought_by_id'), ('asked_item', 'asked_item_id');

-- the columns
do $$
declare it record;
begin
	for it in
		select c.table_name, c.column_name, r.becomes from information_schema.columns c join renamed r on r.word = c.column_name
		join information_schema.tables t using (table_schema, table_name)
		where c.table_schema = 'public' and t.table_type = 'BASE TABLE'
	loop
		execute format('alter table %I rename column %I to %I', it.table_name, it.column_name, it.becomes);
	end loop;
end $$;
alter table merge rename column by to by_id;

-- the tables, and what is named after them
alter table client_position rename to client_summary;
alter table standing_request rename to recurring_request;
alter table standing_occurrence rename to recurring_occurrence;
do $$
declare
	it record;
	said text;
begin
	for it in select conrelid::regclass at, conname name from pg_constraint where connamespace = 'public'::regnamespace and conrelid <> 0 loop
		said := replace(replace(it.name, 'client_position', 'client_summary'), 'standing', 'recurring');
		said := replace(replace(said, 'once_key', 'idempotency_key'), 'unique_key', 'idempotency_key');
		if said <> it.name then execute format('alter table %s rename constraint %I to %I', it.at, it.name, said); end if;
	end loop;
	for it in
		select indexname name from pg_indexes where schemaname = 'public' and indexname ~ '(client_position|standing)'
	loop
		execute format('alter index %I rename to %I', it.name, replace(replace(it.name, 'client_position', 'client_summary'), 'standing', 'recurring'));
	end loop;
end $$;

-- what functions say in their bodies
do $$
declare
	it record;
	word record;
	body text;
begin
	for it in select p.oid, p.prosrc, pg_get_functiondef(p.oid) whole from pg_proc p where p.pronamespace = 'public'::regnamespace and p.prokind = 'f' loop
		body := it.prosrc;
		for word in select * from renamed loop
			body := regexp_replace(body, '\m' || word.word || '\M', word.becomes, 'g');
		end loop;
		if body <> it.prosrc then execute replace(it.whole, it.prosrc, body); end if;
	end loop;
end $$;

-- what rows say of tables and columns
update clearing c set table_name = r.becomes from renamed r where c.table_name = r.word;
do $$
declare word record;
begin
	for word in select * from renamed loop
		update merge set moved = regexp_replace(moved::text, '("[a-z_]+\.)' || word.word || '"', '\1' || word.becomes || '"', 'g')::jsonb
			where moved::text ~ ('\.' || word.word || '"');
		update merge set moved = regexp_replace(moved::text, '"' || word.word || '\.', '"' || word.becomes || '.', 'g')::jsonb
			where moved::text ~ ('"' || word.word || '\.');
	end loop;
end $$;
