-- Where each client stands, so that a list of thousands of clients reads one row each. Kept by
-- statement triggers on item: the touched clients' rows are locked in order first, then counted anew.
create table client_position (
	client_id uuid primary key references client,
	firm_id uuid not null references firm,
	name text not null,
	responsible_id uuid not null,
	items int not null default 0,
	open int not null default 0,
	to_look_at int not null default 0,
	settled int not null default 0,
	earliest_open_due date,
	-- what sorts the list: the earliest open due date, else the far future
	wait_key date not null default '9999-12-31',
	next_chase_on date,
	tick_letters text not null default '',
	tick_dues date[] not null default '{}',
	last_sign_of_life timestamptz
);
create index client_position_by_wait on client_position (firm_id, wait_key, client_id);
create index client_position_by_name on client_position (firm_id, lower(name), client_id);

create function recount_clients(touched uuid[]) returns void
language plpgsql security definer set search_path = public as $$
begin
	perform 1 from client_position where client_id = any (touched) order by client_id for update;
	update client_position p set
		items = c.items, open = c.open, to_look_at = c.to_look_at, settled = c.settled,
		earliest_open_due = c.earliest_open_due,
		wait_key = coalesce(c.earliest_open_due, case when c.to_look_at > 0 then '9999-12-29' when c.open > 0 then '9999-12-30' else '9999-12-31' end::date),
		next_chase_on = c.next_chase_on,
		tick_letters = coalesce(c.tick_letters, ''), tick_dues = coalesce(c.tick_dues, '{}')
	from (
		select t.client_id,
			count(i.id) items,
			count(i.id) filter (where i.state in ('asked', 'seen', 'started', 'sent_back')) open,
			count(i.id) filter (where i.state in ('handed_in', 'answered_no', 'declined')) to_look_at,
			count(i.id) filter (where i.state in ('accepted', 'waived')) settled,
			min(i.due_on) filter (where i.state in ('asked', 'seen', 'started', 'sent_back')) earliest_open_due,
			min(i.next_chase_on) next_chase_on,
			string_agg(case i.state when 'asked' then 'a' when 'seen' then 'e' when 'started' then 't' when 'handed_in' then 'h'
				when 'accepted' then 'c' when 'sent_back' then 'b' when 'waived' then 'w' when 'answered_no' then 'n' when 'declined' then 'd' else '-' end,
				'' order by i.due_on, i.position, i.id) tick_letters,
			array_agg(i.due_on order by i.due_on, i.position, i.id) filter (where i.id is not null) tick_dues
		from unnest(touched) t (client_id) left join item i on i.client_id = t.client_id
		group by t.client_id
	) c where c.client_id = p.client_id;
end $$;

create function item_changed() returns trigger language plpgsql security definer set search_path = public as $$
begin
	perform recount_clients(array(select distinct client_id from changed));
	return null;
end $$;
create trigger item_inserted after insert on item referencing new table as changed
	for each statement execute function item_changed();
create trigger item_updated after update on item referencing new table as changed
	for each statement execute function item_changed();

create function client_added() returns trigger language plpgsql security definer set search_path = public as $$
begin
	insert into client_position (client_id, firm_id, name, responsible_id)
		select id, firm_id, name, responsible_id from added;
	return null;
end $$;
create trigger client_inserted after insert on client referencing new table as added
	for each statement execute function client_added();

create function sign_of_life() returns trigger language plpgsql security definer set search_path = public as $$
begin
	if new.actor_kind = 'contact' and new.client_id is not null then
		update client_position set last_sign_of_life = new.at
			where client_id = new.client_id and (last_sign_of_life is null or last_sign_of_life < new.at);
	end if;
	return null;
end $$;
create trigger event_is_sign_of_life after insert on event
	for each row execute function sign_of_life();
