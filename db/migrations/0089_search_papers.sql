-- Every paper that is here is found by its name, wherever it lies, and leads to itself.
drop index paper_plain_name;
create index paper_plain_name on paper using gin (plain(name) gin_trgm_ops) where removed_at is null;

create or replace function search_all_things(typed text, most integer) RETURNS TABLE(kind text, id uuid, client_id uuid, client_name text, title text, state text, at timestamp with time zone)
language plpgsql stable security definer set search_path = public as $$
declare
	firm uuid := current_firm();
	words text[] := array(select distinct '%' || replace(replace(replace(w, '\', '\\'), '%', '\%'), '_', '\_') || '%'
		from regexp_split_to_table(btrim(plain(typed)), '[\s,;]+') w where w <> '' limit 6);
	anchor text;
begin
	foreach anchor in array array(select w from unnest(words) w where length(w) >= 5 order by length(w) desc, w limit 3) loop
		return query
		select found.* from (
			(select 'item', i.id, i.client_id, cl.name, i.title, i.state, i.state_at from item i join client cl on cl.id = i.client_id
				where plain(i.title) like anchor and i.firm_id = firm
					and not exists (select from unnest(words) w where plain(i.title || ' ' || cl.name) not like w) limit 1000)
			union all
			(select 'request', r.id, r.client_id, cl.name, r.title, null, r.sent_at from request r join client cl on cl.id = r.client_id
				where plain(r.title) like anchor and r.firm_id = firm
					and not exists (select from unnest(words) w where plain(r.title || ' ' || cl.name) not like w) limit 1000)
			union all
			(select 'paper', p.id, p.client_id, cl.name, p.name, null, p.uploaded_at from paper p join client cl on cl.id = p.client_id left join item i on i.id = p.item_id
				where plain(p.name) like anchor and p.firm_id = firm and p.removed_at is null and p.newer_id is null
					and (p.item_id is null or p.unasked or i.state not in ('asked', 'seen', 'started'))
					and not exists (select from unnest(words) w where plain(p.name || ' ' || cl.name) not like w) limit 1000)
		) as found (kind, id, client_id, client_name, title, state, at)
		order by found.state is not distinct from 'accepted' or found.state is not distinct from 'waived', found.at desc, found.id limit most;
		if found then
			return;
		end if;
	end loop;
end $$;
