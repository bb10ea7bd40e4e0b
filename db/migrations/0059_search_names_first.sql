-- Searching clients without looking at every name that holds a common word. Names that hold all words come first and are found by one
-- look into the index; in whoever else is meant, one word at least stands in another field, and these are few. The plain names are kept, since
-- writing them anew for every name that an index proposes costs more than all the rest.
alter table client add column plain_name text not null generated always as (plain(name)) stored;
alter table contact add column plain_name text not null generated always as (plain(name)) stored;
drop index client_plain_name, contact_plain_name;
create index client_plain_name on client using gin (plain_name gin_trgm_ops);
create index contact_plain_name on contact using gin (plain_name gin_trgm_ops);

create or replace function search_all_clients(typed text, digits text, most int) returns table (client_id uuid, reason int, found text)
language plpgsql stable security definer rows 20 set search_path = public set pg_trgm.word_similarity_threshold = 0.45 as $$
declare
	firm uuid := current_firm();
	words text[] := array(select word from (
		select word, min(place) place from regexp_split_to_table(btrim(plain(typed)), '[\s,;]+') with ordinality as t (word, place) where word <> ''
		group by word order by 2 limit 6) w);
	parts text[] := array(select '%' || replace(replace(replace(w, '\', '\\'), '%', '\%'), '_', '\_') || '%' from unnest(words) w);
	longest text := (select w from unnest(words) w order by length(w) desc, w limit 1);
	as_typed text := '%' || replace(replace(replace(btrim(plain(typed)), '\', '\\'), '%', '\%'), '_', '\_') || '%';
	is_it text;
	looks text[] := '{}';
	look text;
	answers int;
	named int := 0;
begin
	if longest is null then
		return;
	end if;
	-- the words as they stand, those that begin so first, then in any order; who has left after all others
	foreach is_it in array array['<>', '='] loop
		looks := looks || format('c.state %s ''ended'' and c.plain_name like %L order by not starts_with(c.plain_name, $2), lower(c.name), c.id', is_it, as_typed);
		if cardinality(parts) > 1 then
			looks := looks || format('c.state %s ''ended'' and %s and c.plain_name not like %L order by lower(c.name), c.id', is_it,
				(select string_agg(format('c.plain_name like %L', part), ' and ') from unnest(parts) part), as_typed);
		end if;
	end loop;
	foreach look in array looks loop
		return query execute 'select c.id, 1, c.name from client c where c.firm_id = $1 and c.removed_at is null and ' || look || ' limit $3'
			using firm, plain(typed), most - named;
		get diagnostics answers = row_count;
		named := named + answers;
		if named >= most then
			return;
		end if;
	end loop;
	return query
	with word as (
		select w, part from unnest(words, parts) as t (w, part)
	), hit as (
		select cc.client_id id, word.w, 2 reason, c.name found from word join contact c on c.plain_name like word.part join client_contact cc on cc.contact_id = c.id
			where c.firm_id = firm
		union all
		select cc.client_id, word.w, 3, c.email::text from word join contact c on lower(c.email::text) like word.part
			join client_contact cc on cc.contact_id = c.id where c.firm_id = firm
		union all
		select f.client_id, word.w, 5, f.value from word join fact f on lower(f.value) like word.part
			where f.firm_id = firm and f.name = 'tax_number' and f.replaced_at is null
	), best as (
		select distinct on (hit.id, hit.w) hit.id, hit.w, hit.reason, hit.found from hit order by hit.id, hit.w, hit.reason
	), gathered as (
		select best.id, array_agg(best.w) held, max(best.reason) reason, (array_agg(best.found order by best.reason desc))[1] found from best group by best.id
	), answer as (
		select g.id, g.reason, g.found from gathered g join client c on c.id = g.id and c.removed_at is null
			where not exists (select from word where word.w <> all (g.held) and c.plain_name not like word.part)
				and exists (select from word where c.plain_name not like word.part)
		union all
		(select cc.client_id, 4, c.phone from contact c join client_contact cc on cc.contact_id = c.id
			where digits <> '' and c.firm_id = firm and c.phone like '%' || digits || '%' limit greatest(most, 60))
	)
	select distinct on (a.id) a.id, a.reason, a.found from (select * from answer order by answer.reason limit greatest(most, 60) * 4) a order by a.id, a.reason;
	get diagnostics answers = row_count;
	if named + answers > 0 or length(longest) < 4 then
		return;
	end if;
	return query
	select distinct on (near.id) near.id, near.reason, near.name from (
		(select c.id, 1 reason, c.name, word_similarity(longest, c.plain_name) likeness from client c
			where c.firm_id = firm and c.removed_at is null and longest <% c.plain_name
				and not exists (select from unnest(words) w where length(w) >= 4 and not w <% c.plain_name)
			order by 4 desc limit 8)
		union all
		(select cc.client_id, 2, c.name, word_similarity(longest, c.plain_name) from contact c join client_contact cc on cc.contact_id = c.id
			where c.firm_id = firm and longest <% c.plain_name
				and not exists (select from unnest(words) w where length(w) >= 4 and not w <% c.plain_name)
			order by 4 desc limit 8)
	) near order by near.id, near.reason;
end $$;

create or replace function search_clients(typed text, digits text, most int) returns table (client_id uuid, reason int, found text)
language sql stable security definer rows 20 set search_path = public as
$$ select f.client_id, f.reason, f.found from search_all_clients(typed, digits, most + cardinality(unseen_clients())) f where f.client_id <> all (unseen_clients()) $$;

-- As in 0057, by the kept names.
create or replace function worded_items(pattern text, states text[]) returns setof uuid
language sql stable security definer set search_path = public rows 300 as $$
	select i.id from item i where plain(i.title) like plain(pattern) and i.firm_id = current_firm() and i.state = any (states)
	union
	select i.id from request r join item i on i.request_id = r.id where plain(r.title) like plain(pattern) and r.firm_id = current_firm() and i.state = any (states)
	union
	select i.id from client c join item i on i.client_id = c.id where c.plain_name like plain(pattern) and c.firm_id = current_firm() and i.state = any (states)
$$;

-- The drafts that a word means, by their title, their client's or their list's name; see worded_items.
create function worded_drafts(pattern text) returns setof uuid
language sql stable security definer set search_path = public rows 300 as $$
	select d.id from request_draft d where plain(d.title) like plain(pattern) and d.firm_id = current_firm() and d.removed_at is null
	union
	select d.id from client c join request_draft d on d.client_id = c.id where c.plain_name like plain(pattern) and c.firm_id = current_firm() and d.removed_at is null
	union
	select d.id from request_list l join request_draft d on d.list_id = l.id where plain(l.name) like plain(pattern) and l.firm_id = current_firm() and d.removed_at is null
$$;
revoke execute on function worded_drafts from public;
grant execute on function worded_drafts to lantern_app;
