-- A pause can end before its day: once its person is heard from, or once something else of the client is done.
alter table chase_hold add column ends_with text check (ends_with in ('heard', 'done'));
alter table chase_hold add column ends_item_id uuid references item on delete set null;
alter table chase_hold add column happened_at timestamptz;
alter table chase_hold add constraint chase_hold_ends_check check ((ends_item_id is null or ends_with is not distinct from 'done') and (happened_at is null or ends_with is not null));
comment on column chase_hold.ends_with is 'What lets reminders go again before the day: their person is heard from, or something else is done; null for the day alone';
comment on column chase_hold.ends_item_id is 'What has to be done: handed in, or for a letter signed by all; null once it is deleted, which counts as done';
comment on column chase_hold.happened_at is 'When that was seen to have happened; the day is then the business day after it';
create index chase_hold_by_ends_item on chase_hold (ends_item_id) where ends_item_id is not null;
create index chase_hold_ends_with on chase_hold (firm_id) where ends_with is not null and happened_at is null and ended_at is null;
grant select (ends_with, ends_item_id, happened_at) on chase_hold to lantern_contact;

-- Whether a pause waits for an item: it itself, or another place to sign on the same letter. Of that people are reminded meanwhile.
create function is_awaited(awaited uuid, of_item uuid) returns boolean language sql stable as $$
	select awaited = of_item
		or exists (select from letter_signer a join letter_signer b on b.letter_id = a.letter_id where a.item_id = awaited and b.item_id = of_item)
$$;
comment on function is_awaited is 'Whether what a pause waits for is an item itself, or a letter on which the item is another place to sign';

drop view item_hold;
drop function held_by;
create function held_by(of_item uuid, of_request uuid, of_contact uuid, of_client uuid)
	returns table (until date, why text, ends_with text, ends_item_id uuid) language sql stable as $$
	select h.until, h.why, case when h.happened_at is null then h.ends_with end, h.ends_item_id from chase_hold h
	where h.ended_at is null and (h.contact_id = of_contact or h.client_id = of_client or h.item_id = of_item or h.request_id = of_request)
		and (h.ends_item_id is null or h.happened_at is not null or not is_awaited(h.ends_item_id, of_item))
	order by h.until desc, h.why limit 1
$$;
comment on function held_by is 'Until when nobody is reminded of an item, why, and what would end it sooner: the longest of what holds it, its request, its person and its client';
create view item_hold with (security_invoker = true) as
	select i.id item_id, h.until, h.why from item i cross join lateral held_by(i.id, i.request_id, i.contact_id, i.client_id) h;
comment on view item_hold is 'Until when nobody is reminded of an item, and why: the longest of what holds it, its request, its person and its client';
grant select on item_hold to lantern_app, lantern_contact;
