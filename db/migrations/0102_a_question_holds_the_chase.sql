-- Somebody who has asked something about an item is not reminded of it until the firm has answered, or has said that no answer is needed.
alter table item add column asks_us boolean not null default false;
comment on column item.asks_us is 'Somebody of the client wrote something about it that nobody of the firm has seen yet: until then nobody is reminded of it';
update item i set asks_us = true, next_chase_on = null
	where exists (select from item_remark m where m.item_id = i.id and m.contact_id is not null and m.attachment_id is null and m.seen_at is null);

-- what is held has not run out
drop index item_ran_out;
create index item_ran_out on item (firm_id, client_id) where phase = 'open' and next_chase_on is null and due_on is not null and not asks_us;
