-- By which plan a thing was reminded of: the thing itself may be chased by another one by now.
alter table message_item add column plan text;
update message_item mi set plan = coalesce(i.chase_plan, 'usual') from item i where i.id = mi.item_id and mi.step is not null;
comment on column message_item.plan is 'By which chase plan its step was; null without a step';

-- What a person did around a reminder is found by who they are.
create index event_by_contact on event (actor_id, at) where actor_kind = 'contact';
