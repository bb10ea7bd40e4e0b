-- Clients without a due date are listed in an order of their own too: something to look at, open without a date,
-- nothing asked yet, all in. The last two used to be mixed.
create or replace function recount_clients(touched uuid[]) returns void
language plpgsql security definer set search_path = public as $$
begin
	perform 1 from client_position where client_id = any (touched) order by client_id for update;
	update client_position p set
		items = c.items, open = c.open, to_look_at = c.to_look_at, settled = c.settled,
		earliest_open_due = c.earliest_open_due,
		wait_key = coalesce(c.earliest_open_due, case when c.to_look_at > 0 then '9999-12-28' when c.open > 0 then '9999-12-29'
			when c.items = 0 then '9999-12-30' else '9999-12-31' end::date),
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

alter table client_position alter column wait_key set default '9999-12-30';
update client_position set wait_key = case when earliest_open_due is not null then earliest_open_due when to_look_at > 0 then '9999-12-28'
	when open > 0 then '9999-12-29' when items = 0 then '9999-12-30' else '9999-12-31' end::date;
