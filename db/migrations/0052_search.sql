-- Searching as people write: without accents, words in any order and in several fields, and with a slip of the finger.
create extension if not exists unaccent;
-- Names as they are compared: small letters without accents. The dictionary is named, so that the answer depends on the words alone.
create function plain(words text) returns text language sql immutable strict parallel safe
	as $$ select lower(public.unaccent('public.unaccent'::regdictionary, words)) $$;
create index client_plain_name on client using gin (plain(name) gin_trgm_ops);
create index contact_plain_name on contact using gin (plain(name) gin_trgm_ops);

drop function search_clients;
drop function search_all_clients;
-- Which clients hold every word typed, each in whatever field, and by what: 1 name, 2 contact, 3 e-mail, 4 phone, 5 tax number. Of several
-- fields the one that the name does not hold is told. If there are none, those whose name or person is written nearly so.
create function search_all_clients(typed text, digits text, most int) returns table (client_id uuid, reason int, found text)
language plpgsql stable security definer set search_path = public set pg_trgm.word_similarity_threshold = 0.45 as $$
declare
	firm uuid := current_firm();
	words text[] := array(select word from (
		select word, min(place) place from regexp_split_to_table(btrim(plain(typed)), '[\s,;]+') with ordinality as t (word, place) where word <> ''
		group by word order by 2 limit 6) w);
	answers int;
	longest text := (select w from unnest(words) w order by length(w) desc, w limit 1);
begin
	if longest is null then
		return;
	end if;
	return query
	with word as (
		select w, '%' || replace(replace(replace(w, '\', '\\'), '%', '\%'), '_', '\_') || '%' as part from unnest(words) w
	), hit as (
		select c.id, word.w, 1 reason, c.name found from word join client c on plain(c.name) like word.part where c.firm_id = firm
		union all
		select cc.client_id, word.w, 2, c.name from word join contact c on plain(c.name) like word.part join client_contact cc on cc.contact_id = c.id
			where c.firm_id = firm
		union all
		select cc.client_id, word.w, 3, c.email::text from word join contact c on lower(c.email::text) like word.part
			join client_contact cc on cc.contact_id = c.id where c.firm_id = firm
		union all
		select f.client_id, word.w, 5, f.value from word join fact f on lower(f.value) like word.part
			where f.firm_id = firm and f.name = 'tax_number' and f.replaced_at is null
	), best as (
		select distinct on (hit.id, hit.w) hit.id, hit.w, hit.reason, hit.found from hit order by hit.id, hit.w, hit.reason
	), answer as (
		select best.id, max(best.reason) reason, (array_agg(best.found order by best.reason desc))[1] found from best group by best.id
			having count(*) = cardinality(words)
		union all
		(select cc.client_id, 4, c.phone from contact c join client_contact cc on cc.contact_id = c.id
			where digits <> '' and c.firm_id = firm and c.phone like '%' || digits || '%' limit most)
	)
	select distinct on (a.id) a.id, a.reason, a.found from (select * from answer order by answer.reason limit most * 4) a order by a.id, a.reason;
	get diagnostics answers = row_count;
	if answers > 0 or length(longest) < 4 then
		return;
	end if;
	return query
	select distinct on (near.id) near.id, near.reason, near.name from (
		(select c.id, 1 reason, c.name, word_similarity(longest, plain(c.name)) likeness from client c
			where c.firm_id = firm and longest <% plain(c.name)
				and not exists (select from unnest(words) w where length(w) >= 4 and not w <% plain(c.name))
			order by 4 desc limit 8)
		union all
		(select cc.client_id, 2, c.name, word_similarity(longest, plain(c.name)) from contact c join client_contact cc on cc.contact_id = c.id
			where c.firm_id = firm and longest <% plain(c.name)
				and not exists (select from unnest(words) w where length(w) >= 4 and not w <% plain(c.name))
			order by 4 desc limit 8)
	) near order by near.id, near.reason;
end $$;
create function search_clients(typed text, digits text, most int) returns table (client_id uuid, reason int, found text)
language sql stable security definer set search_path = public as
$$ select f.client_id, f.reason, f.found from search_all_clients(typed, digits, most) f where f.client_id <> all (unseen_clients()) $$;
revoke execute on function search_clients, search_all_clients from public;
revoke execute on function search_all_clients from lantern_app;
grant execute on function search_clients to lantern_app;
grant execute on function plain to lantern_app, lantern_contact;
