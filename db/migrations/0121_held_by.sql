-- The rule of what holds an item, also for whoever has the item at hand already and need not read it again.
create function held_by(of_item uuid, of_request uuid, of_contact uuid, of_client uuid) returns table (until date, why text) language sql stable as $$
	select h.until, h.why from chase_hold h
	where h.ended_at is null and (h.contact_id = of_contact or h.client_id = of_client or h.item_id = of_item or h.request_id = of_request)
	order by h.until desc, h.why limit 1
$$;
comment on function held_by is 'Until when nobody is reminded of an item, and why: the longest of what holds it, its request, its person and its client';
create or replace view item_hold with (security_invoker = true) as
	select i.id item_id, h.until, h.why from item i cross join lateral held_by(i.id, i.request_id, i.contact_id, i.client_id) h;
