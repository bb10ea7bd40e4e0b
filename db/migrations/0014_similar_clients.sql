-- Clients whose name looks like another one, best first. As with the search: similarity is not leakproof, so it is
-- asked within the firm of the transaction, by the trigram index, and answers ids only.
create function similar_clients(wanted text, most int) returns table (client_id uuid, likeness real)
language plpgsql stable security definer set search_path = public set pg_trgm.similarity_threshold = 0.4 as $$
declare
	firm uuid := current_firm();
begin
	return query
	select c.id, similarity(lower(c.name), wanted) from client c
	where c.firm_id = firm and lower(c.name) % wanted
	order by 2 desc, c.id limit most;
end $$;
revoke execute on function similar_clients from public;
grant execute on function similar_clients to lantern_app;
