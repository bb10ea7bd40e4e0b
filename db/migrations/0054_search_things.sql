-- What was asked for and what came in, found by its words: lines, requests and the names of papers.
create index item_plain_title on item using gin (plain(title) gin_trgm_ops);
create index request_plain_title on request using gin (plain(title) gin_trgm_ops);
create index paper_plain_name on paper using gin (plain(name) gin_trgm_ops) where item_id is not null and removed_at is null;

-- What holds the longest word typed, and every other word in its title or in the name of its client; a word shorter than three letters
-- finds nothing alone. No more than a thousand of each sort are looked at before the best are chosen.
create function search_all_things(typed text, most int) returns table (kind text, id uuid, client_id uuid, client_name text, title text, state text, at timestamptz)
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
			(select 'paper', p.item_id, p.client_id, cl.name, p.name, null, p.uploaded_at from paper p join client cl on cl.id = p.client_id
				where plain(p.name) like anchor and p.firm_id = firm and p.item_id is not null and p.removed_at is null
					and not exists (select from unnest(words) w where plain(p.name || ' ' || cl.name) not like w) limit 1000)
		) as found (kind, id, client_id, client_name, title, state, at)
		order by found.state is not distinct from 'accepted' or found.state is not distinct from 'waived', found.at desc, found.id limit most;
		if found then
			return;
		end if;
	end loop;
end $$;
create function search_things(typed text, most int) returns table (kind text, id uuid, client_id uuid, client_name text, title text, state text)
language sql stable security definer set search_path = public as
$$ select f.kind, f.id, f.client_id, f.client_name, f.title, f.state from search_all_things(typed, most * 4) f
	where f.client_id <> all (unseen_clients()) limit most $$;
revoke execute on function search_things, search_all_things from public;
revoke execute on function search_all_things from lantern_app;
grant execute on function search_things to lantern_app;
