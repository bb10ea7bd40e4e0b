-- In which phase an item is follows from its state, and is said here alone; core's `ITEM_PHASES` is held against it by a test.
alter table item add column phase text not null generated always as (case
	when state in ('asked', 'seen', 'started', 'sent_back') then 'open'
	when state in ('handed_in', 'answered_no', 'declined') then 'to_look_at'
	when state in ('accepted', 'waived') then 'settled'
	else 'not_sent' end) stored;
comment on column item.phase is 'open: the client has something to do; to_look_at: the firm has; settled: nothing is left to do; not_sent: a draft';

drop index item_by_contact, item_to_look_at, item_ran_out, item_open_by_due, item_open_by_client, item_open_by_request;
create index item_by_contact on item (contact_id) where phase = 'open';
create index item_to_look_at on item (firm_id, state_at) where phase = 'to_look_at';
create index item_ran_out on item (firm_id, client_id) where phase = 'open' and next_chase_on is null and due_on is not null;
create index item_open_by_due on item (firm_id, due_on) where phase = 'open';
create index item_open_by_client on item (client_id, due_on, position) where phase = 'open';
create index item_open_by_request on item (request_id, due_on, position) where phase = 'open';

do $$
declare it record;
begin
	select p.prosrc, pg_get_functiondef(p.oid) whole into it from pg_proc p where p.oid = 'recount_clients'::regproc;
	execute replace(it.whole, it.prosrc, replace(replace(replace(it.prosrc,
		'i.state in (''asked'', ''seen'', ''started'', ''sent_back'')', 'i.phase = ''open'''),
		'i.state in (''handed_in'', ''answered_no'', ''declined'')', 'i.phase = ''to_look_at'''),
		'i.state in (''accepted'', ''waived'')', 'i.phase = ''settled'''));
end $$;

-- the phase is given as a text of the statement, so that the partial indexes serve
drop function worded_items(text, text[]);
create function worded_items(pattern text, phases text[]) returns setof uuid language sql stable security definer rows 300 set search_path = public as $$
	select i.id from item i where plain(i.title) like plain(pattern) and i.firm_id = current_firm() and i.phase = any (phases)
	union
	select i.id from request r join item i on i.request_id = r.id where plain(r.title) like plain(pattern) and r.firm_id = current_firm() and i.phase = any (phases)
	union
	select i.id from client c join item i on i.client_id = c.id where c.plain_name like plain(pattern) and c.firm_id = current_firm() and i.phase = any (phases)
$$;
revoke all on function worded_items from public;
grant execute on function worded_items to lantern_app;
