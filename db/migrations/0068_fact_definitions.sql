-- What a firm wants to know about its clients is the firm's own: facts are defined by rows, no longer by the code.
create table fact_definition (
	firm_id uuid not null references firm (id),
	name text not null check (name ~ '^[a-z][a-z0-9_]{1,40}$'),
	label text not null,
	hint text not null default '',
	heading text not null,
	kind jsonb not null,
	position int not null,
	ready_made boolean not null default false,
	client_may text not null default 'correct' check (client_may in ('nothing', 'read', 'correct')),
	seen_by text not null default 'all' check (seen_by in ('all', 'keepers', 'leaders')),
	secret boolean not null default false,
	confirm_after int check (confirm_after between 1 and 120),
	retired_at timestamptz,
	merged_into text,
	primary key (firm_id, name),
	foreign key (firm_id, merged_into) references fact_definition (firm_id, name)
);
comment on table fact_definition is 'What the firm wants to know about its clients; those that ship with the product are handed out when a firm is made';
comment on column fact_definition.name is 'By which values, conditions and merge fields know it; it stays when the label is changed';
comment on column fact_definition.kind is 'How it is written down: core''s FactKind';
comment on column fact_definition.ready_made is 'Ships with the product, which may give it a meaning: its kind stays';
comment on column fact_definition.client_may is 'What clients may do with a fact of theirs';
comment on column fact_definition.seen_by is 'Who of the firm may see it: everybody, whoever may write facts, or whoever runs clients';
comment on column fact_definition.secret is 'Shown only when somebody asks to see it, and in no list, letter or file';
comment on column fact_definition.confirm_after is 'So many months after it was said or confirmed it is to be confirmed; null for never';
comment on column fact_definition.retired_at is 'Since when it is kept, and no longer asked';
comment on column fact_definition.merged_into is 'The name of the fact that took its place';
create unique index fact_definition_label on fact_definition (firm_id, lower(label)) where retired_at is null and merged_into is null;

alter table fact_definition enable row level security;
create policy same_firm on fact_definition to lantern_app using (firm_id = (select current_firm()));
create policy own_firm on fact_definition for select to lantern_contact using (firm_id = (select current_firm()));
grant select, insert, update, delete on fact_definition to lantern_app;
grant select on fact_definition to lantern_contact;

-- what every firm begins with; core's READY_MADE_FACTS is held against it by a test
create function add_ready_made_facts(firm uuid) returns void language sql security definer set search_path = public as $$
	insert into fact_definition (firm_id, name, label, hint, heading, kind, position, ready_made)
	select firm, f.name, f.label, f.hint, f.heading, f.kind::jsonb, f.position, true from (values
		(1, 'legal_form', 'Legal form', '', 'The business', '{"kind":"choice","choices":[{"key":"sole_trader","words":"sole trader"},{"key":"partnership","words":"partnership"},{"key":"company","words":"company"},{"key":"cooperative","words":"co-operative"},{"key":"non_profit","words":"non-profit"}]}'),
		(2, 'tax_number', 'Tax number', '', 'The business', '{"kind":"tax_number","check":""}'),
		(3, 'address', 'Address', '', 'The business', '{"kind":"address"}'),
		(4, 'year_end', 'Year end', 'the last day of the fiscal year', 'The books', '{"kind":"day_of_year"}'),
		(5, 'method', 'Method', '', 'The books', '{"kind":"choice","choices":[{"key":"accrual","words":"accrual"},{"key":"cash","words":"cash"}]}'),
		(6, 'sales_tax', 'Registered for sales tax', '', 'Tax and payroll', '{"kind":"yes_no"}'),
		(7, 'sales_tax_period', 'Files sales tax', '', 'Tax and payroll', '{"kind":"choice","choices":[{"key":"monthly","words":"monthly"},{"key":"quarterly","words":"quarterly"},{"key":"yearly","words":"yearly"}]}'),
		(8, 'payroll', 'Runs payroll', '', 'Tax and payroll', '{"kind":"yes_no"}'),
		(9, 'employees', 'Employees', '', 'Tax and payroll', '{"kind":"number","unit":"","whole":true}'),
		(10, 'bank_accounts', 'Bank and card accounts', '', 'The books', '{"kind":"number","unit":"","whole":true}'),
		(11, 'software', 'Connected software', '', 'The books', '{"kind":"words","max":120}'),
		(12, 'books_from', 'We keep the books from', '', 'The books', '{"kind":"date"}')
	) f (position, name, label, hint, heading, kind)
$$;
revoke all on function add_ready_made_facts from public;
create function give_ready_made_facts() returns trigger language plpgsql security definer set search_path = public as $$
begin
	perform add_ready_made_facts(new.id);
	return new;
end $$;
revoke all on function give_ready_made_facts from public;
create trigger ready_made_facts after insert on firm for each row execute function give_ready_made_facts();
select add_ready_made_facts(id) from firm;

-- a value that was kept under a name that no definition has would be lost: it becomes a retired one, to be seen and merged
insert into fact_definition (firm_id, name, label, heading, kind, position, retired_at)
select distinct f.firm_id, f.name, initcap(replace(f.name, '_', ' ')), 'The business', '{"kind":"lines","max":4000}'::jsonb, 100, now() from fact f
where not exists (select from fact_definition d where d.firm_id = f.firm_id and d.name = f.name);

alter table fact drop constraint fact_name_check,
	add constraint fact_definition_of foreign key (firm_id, name) references fact_definition (firm_id, name),
	add column confirmed_at timestamptz,
	add column confirmed_by_name text,
	add column answers_item_id uuid references item (id),
	add column searched boolean not null default false,
	add constraint fact_confirmed check ((confirmed_at is null) = (confirmed_by_name is null));
comment on column fact.confirmed_at is 'When somebody last said that it is still right';
comment on column fact.answers_item_id is 'In answer to what a client said it; null for what was said by itself';
comment on column fact.searched is 'Whether search finds its client by it: a number, a name or an address that is no secret';
create function is_fact_searched(secret boolean, kind jsonb) returns boolean language sql immutable as $$
	select not secret and kind ->> 'kind' in ('words', 'address', 'email', 'phone', 'web', 'tax_number')
$$;
create function mark_searched_fact() returns trigger language plpgsql as $$
begin
	select is_fact_searched(d.secret, d.kind) into new.searched from fact_definition d where d.firm_id = new.firm_id and d.name = new.name;
	return new;
end $$;
create trigger searched before insert on fact for each row execute function mark_searched_fact();
update fact f set searched = true from fact_definition d where d.firm_id = f.firm_id and d.name = f.name and is_fact_searched(d.secret, d.kind);
create index fact_by_item on fact (answers_item_id) where answers_item_id is not null;

drop index fact_number_parts;
create index fact_searched_parts on fact using gin (lower(value) gin_trgm_ops) where searched and replaced_at is null;
create index fact_tax_number on fact (firm_id, lower(value)) where name = 'tax_number' and replaced_at is null;
do $$
declare it record;
begin
	for it in select p.oid, p.prosrc, pg_get_functiondef(p.oid) whole from pg_proc p join pg_namespace n on n.oid = p.pronamespace
		where n.nspname = 'public' and p.prosrc like '%where f.firm_id = firm and f.name = ''tax_number'' and f.replaced_at is null%'
	loop
		execute replace(it.whole, it.prosrc, replace(it.prosrc,
			'where f.firm_id = firm and f.name = ''tax_number'' and f.replaced_at is null', 'where f.firm_id = firm and f.searched and f.replaced_at is null'));
	end loop;
end $$;

insert into clearing (table_name, kind, because) values ('fact_definition', 'kept', 'what the firm wants to know of its clients is its own');

-- over all clients of the firm, also those that are closed to whoever changes a definition: what is known must read the same afterwards
create function values_of_fact(of_name text) returns setof text language sql stable security definer set search_path = public as $$
	select distinct value from fact where firm_id = current_firm() and name = of_name and replaced_at is null
$$;
create function count_fact(of_name text) returns int language sql stable security definer set search_path = public as $$
	select count(*)::int from fact f join client c on c.id = f.client_id and c.removed_at is null
	where f.firm_id = current_firm() and f.name = of_name and f.replaced_at is null
$$;
create function search_fact_anew(of_name text) returns void language sql security definer set search_path = public as $$
	update fact f set searched = is_fact_searched(d.secret, d.kind) from fact_definition d
	where f.firm_id = current_firm() and f.name = of_name and d.firm_id = f.firm_id and d.name = f.name and f.searched <> is_fact_searched(d.secret, d.kind)
$$;
-- where both are known, what the second says holds, and what the first said becomes its history
create function merge_facts(from_name text, into_name text, at timestamptz) returns void language sql security definer set search_path = public as $$
	update fact f set replaced_at = at where f.firm_id = current_firm() and f.name = from_name and f.replaced_at is null
		and exists (select from fact k where k.client_id = f.client_id and k.name = into_name and k.replaced_at is null);
	update fact set name = into_name where firm_id = current_firm() and name = from_name;
$$;
-- how often both are known of a client, and how often they differ
create function compare_facts(from_name text, into_name text, out only_from int, out alike int, out differ int) language sql stable security definer set search_path = public as $$
	select count(*) filter (where k.id is null)::int, count(*) filter (where k.value = f.value)::int, count(*) filter (where k.value <> f.value)::int
	from fact f left join fact k on k.client_id = f.client_id and k.name = into_name and k.replaced_at is null
	where f.firm_id = current_firm() and f.name = from_name and f.replaced_at is null
$$;
revoke all on function values_of_fact, count_fact, search_fact_anew, merge_facts, compare_facts from public;
grant execute on function values_of_fact, count_fact, search_fact_anew, merge_facts, compare_facts to lantern_app;
