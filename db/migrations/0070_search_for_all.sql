-- Search shows what it found to whoever searches: only a fact that everybody in the firm may see finds its client.
create or replace function mark_searched_fact() returns trigger language plpgsql as $$
begin
	select is_fact_searched(d.secret or d.seen_by <> 'all', d.kind) into new.searched from fact_definition d where d.firm_id = new.firm_id and d.name = new.name;
	return new;
end $$;
create or replace function search_fact_anew(of_name text) returns void language sql security definer set search_path = public as $$
	update fact f set searched = is_fact_searched(d.secret or d.seen_by <> 'all', d.kind) from fact_definition d
	where f.firm_id = current_firm() and f.name = of_name and d.firm_id = f.firm_id and d.name = f.name
		and f.searched <> is_fact_searched(d.secret or d.seen_by <> 'all', d.kind)
$$;
comment on column fact.searched is 'Whether search finds its client by it: a number, a name or an address that is no secret, and that everybody in the firm may see';
update fact f set searched = false from fact_definition d where d.firm_id = f.firm_id and d.name = f.name and d.seen_by <> 'all' and f.searched;
