-- The items that a word of Asked means, by their own title, their request's or their client's name. Each of the three is looked up by its
-- index; as a condition on every row they read whole tables. Who may not see a client does not see its items either: what asks joins them
-- under its own policies.
create function worded_items(pattern text, states text[]) returns setof uuid
language sql stable security definer set search_path = public rows 300 as $$
	select i.id from item i where plain(i.title) like plain(pattern) and i.firm_id = current_firm() and i.state = any (states)
	union
	select i.id from request r join item i on i.request_id = r.id where plain(r.title) like plain(pattern) and r.firm_id = current_firm() and i.state = any (states)
	union
	select i.id from client c join item i on i.client_id = c.id where plain(c.name) like plain(pattern) and c.firm_id = current_firm() and i.state = any (states)
$$;
revoke execute on function worded_items from public;
grant execute on function worded_items to lantern_app;
