-- By which plan something is chased, and because of what: chosen for the request or the line, or as its list, the service it is for, whom it
-- asks, or the client has it.
alter table contact add column chase_plan text;
comment on column contact.chase_plan is 'By which plan what is asked of them from now on is chased; null as the client or the firm has it';
alter table service add column chase_plan text;
comment on column service.chase_plan is 'By which plan what is asked for it is chased; null as the firm has it';
alter table item
	add column chase_plan_from text check (chase_plan_from in ('line', 'request', 'list', 'service', 'contact', 'client', 'call')),
	add column chase_plan_named text;
comment on column item.chase_plan_from is 'Because of what it is chased by its plan; null for the usual one, and for what was asked before this was kept';
comment on column item.chase_plan_named is 'What that list, service or person was called then';

-- The plan of what is asked of a person of a client with a list, or without one. What is asked says more than of whom: the list, then a
-- service that it is for and the client has; then the person, the client, and any service of the client, by name.
create function chase_plan_for(of_list uuid, of_client uuid, of_contact uuid) returns table (key text, came_from text, named text) language sql stable as $$
	with theirs as (
		select s.name, s.chase_plan from service s where s.chase_plan is not null and exists (
			select from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null where es.service_id = s.id and es.client_id = of_client)
	)
	select p.key, p.came_from, p.named from (
		select 1 rank, l.chase_plan, 'list', l.name from request_list l where l.id = of_list
		union all select 2, t.chase_plan, 'service', t.name from theirs t join request_list l on l.id = of_list
			where exists (select from unnest(l.services) named where lower(named) = lower(t.name))
		union all select 3, c.chase_plan, 'contact', c.name from contact c where c.id = of_contact
		union all select 4, c.chase_plan, 'client', c.name from client c where c.id = of_client
		union all select 5, t.chase_plan, 'service', t.name from theirs t
	) p (rank, key, came_from, named) where p.key is not null order by p.rank, lower(p.named) limit 1
$$;
comment on function chase_plan_for is 'By which plan what is asked is chased, and because of what';
