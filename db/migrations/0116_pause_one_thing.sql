-- Reminders may be paused of one thing, or of everything of one request.
alter table chase_hold add column item_id uuid references item on delete cascade;
alter table chase_hold add column request_id uuid references request on delete cascade;
alter table chase_hold drop constraint chase_hold_check;
alter table chase_hold add constraint chase_hold_check check (num_nonnulls(contact_id, client_id, item_id, request_id) = 1);
comment on table chase_hold is 'Until when nobody is reminded, and why: of a person, everybody of a client, one thing, or all that one request asks';
create unique index chase_hold_of_item on chase_hold (item_id, why) where ended_at is null and item_id is not null;
create unique index chase_hold_of_request on chase_hold (request_id, why) where ended_at is null and request_id is not null;
create index chase_hold_by_item on chase_hold (item_id) where item_id is not null;
create index chase_hold_by_request on chase_hold (request_id) where request_id is not null;
alter policy same_firm on chase_hold
	using (firm_id = (select current_firm()) and (client_id is null or client_id <> all ((select unseen_clients())::uuid[]))
		and (contact_id is null or contact_id <> all ((select unseen_people())::uuid[]))
		and (item_id is null or exists (select from item i where i.id = item_id))
		and (request_id is null or exists (select from request r where r.id = request_id)));
alter policy may_work_add on chase_hold
	with check ((client_id is null or client_id <> all ((select not_worked_clients())::uuid[])) and (contact_id is null or not belongs_to_not_worked(contact_id))
		and (item_id is null or exists (select from item i where i.id = item_id and i.client_id <> all ((select not_worked_clients())::uuid[])))
		and (request_id is null or exists (select from request r where r.id = request_id and r.client_id <> all ((select not_worked_clients())::uuid[]))));
alter policy may_work_change on chase_hold using (true)
	with check ((client_id is null or client_id <> all ((select not_worked_clients())::uuid[]))
		and (item_id is null or exists (select from item i where i.id = item_id and i.client_id <> all ((select not_worked_clients())::uuid[])))
		and (request_id is null or exists (select from request r where r.id = request_id and r.client_id <> all ((select not_worked_clients())::uuid[]))));
grant select (item_id, request_id) on chase_hold to lantern_contact;

create or replace view item_hold with (security_invoker = true) as
	select i.id item_id, h.until, h.why
	from item i cross join lateral (
		select h.until, h.why from chase_hold h
		where h.ended_at is null and (h.contact_id = i.contact_id or h.client_id = i.client_id or h.item_id = i.id or h.request_id = i.request_id)
		order by h.until desc, h.why limit 1
	) h;
comment on view item_hold is 'Until when nobody is reminded of an item, and why: the longest of what holds it, its request, its person and its client';
