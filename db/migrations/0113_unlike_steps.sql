-- Chase plans have steps of unlike kinds: around the due date, after it was asked, again and again, weekly, after silence; by a way of
-- their own, by a call, or by telling a partner.
update firm set
	chase_steps = coalesce((select jsonb_agg(jsonb_build_object('when', jsonb_build_object('kind', 'due', 'days', s -> 'businessDaysFromDue'), 'by', 'usual', 'firmer', false) order by n)
		from jsonb_array_elements(chase_steps) with ordinality t (s, n)), '[]'),
	further_chase_plans = coalesce((select jsonb_agg(p || jsonb_build_object('steps',
			(select jsonb_agg(jsonb_build_object('when', jsonb_build_object('kind', 'due', 'days', s -> 'businessDaysFromDue'), 'by', 'usual', 'firmer', false) order by n)
			from jsonb_array_elements(p -> 'steps') with ordinality t (s, n))) order by place)
		from jsonb_array_elements(further_chase_plans) with ordinality plans (p, place)), '[]');
comment on column firm.chase_steps is 'The usual chase plan: when each step falls due, and what it does';

alter table item add column asked_on date, add column chased_turn integer not null default 0;
update item i set asked_on = least(i.chased_through, (r.sent_at at time zone f.time_zone)::date) from request r, firm f where r.id = i.request_id and f.id = i.firm_id;
alter table item alter column asked_on set not null;
comment on column item.asked_on is 'The day on which it was asked; steps of a chase plan may count from it';
comment on column item.chased_turn is 'How many days of its chase plan have had their turn, also where one moves on by what is heard';

-- An item whose plan has come to its end is found also where it has no due date.
drop index item_ran_out;
create index item_ran_out on item (firm_id, client_id)
	where phase = 'open' and next_chase_on is null and (due_on is not null or chased_turn > 0) and not asks_us;

-- When anything was heard from a person last. A table of its own: whoever reminds somebody holds their row, and is not to wait for
-- whoever hands something in.
create table contact_heard (
	contact_id uuid primary key references contact,
	firm_id uuid not null references firm,
	at timestamptz not null
);
comment on table contact_heard is 'When a person did anything here last; kept in step by a trigger on the history';
insert into contact_heard (contact_id, firm_id, at)
	select c.id, c.firm_id, max(e.at) from event e join contact c on c.id = e.actor_id where e.actor_kind = 'contact' group by c.id, c.firm_id;
create index contact_heard_of_firm on contact_heard (firm_id);
alter table contact_heard enable row level security;
create policy same_firm on contact_heard to lantern_app
	using (firm_id = (select current_firm()) and contact_id <> all ((select unseen_people())::uuid[]));
create policy read_heard on contact_heard for select to lantern_contact using (firm_id = (select current_firm()));
grant select on contact_heard to lantern_app, lantern_contact;
insert into clearing (kind, place, table_name) values ('clients', 207, 'contact_heard');

create or replace function sign_of_life() returns trigger
language plpgsql security definer set search_path = public as $$
begin
	if new.actor_kind = 'contact' then
		if new.client_id is not null then
			update client_summary set last_sign_of_life = new.at
				where client_id = new.client_id and (last_sign_of_life is null or last_sign_of_life < new.at);
		end if;
		insert into contact_heard (contact_id, firm_id, at) select id, firm_id, new.at from contact where id = new.actor_id
			on conflict (contact_id) do update set at = excluded.at where contact_heard.at < excluded.at;
	end if;
	return null;
end $$;

-- Reminders wait for a call that is to be made, and until what was promised in one.
alter table chase_hold drop constraint chase_hold_why_check;
alter table chase_hold add constraint chase_hold_why_check check (why in ('replied', 'away', 'paused', 'called', 'promised'));
comment on column chase_hold.why is 'They wrote to the firm, they are away, somebody of the firm paused it, a call is to be made, or it was promised in one';

-- What a step of a plan gives to a person of the firm: a call, or to know that nothing helped.
create table chase_call (
	id uuid primary key,
	firm_id uuid not null references firm,
	client_id uuid not null references client,
	contact_id uuid not null references contact,
	-- a partner is told, instead of somebody who calls
	for_partner boolean not null,
	item_ids uuid[] not null,
	waits_from date not null,
	made_at timestamptz not null,
	tries integer not null default 0,
	outcome text check (outcome in ('reached', 'promised', 'refused', 'seen')),
	note text not null default '' check (length(note) <= 1000),
	promised_until date,
	done_at timestamptz,
	done_by_id uuid references staff,
	check ((done_at is null) = (outcome is null) and (done_at is null) = (done_by_id is null)),
	check ((promised_until is not null) = (outcome is not null and outcome = 'promised'))
);
comment on table chase_call is 'A call that a chase plan asks of the firm, and how it went; or a partner who is told that nothing helped';
comment on column chase_call.for_partner is 'A partner is told, instead of somebody who calls';
comment on column chase_call.item_ids is 'What was open when it fell due';
comment on column chase_call.waits_from is 'From which day on it stands in Rounds: later than it fell due where nobody was reached';
comment on column chase_call.tries is 'How often nobody was reached';
create unique index chase_call_open on chase_call (client_id, contact_id, for_partner) where done_at is null;
create index chase_call_waiting on chase_call (firm_id, waits_from, made_at) where done_at is null;
create index chase_call_of_contact on chase_call (contact_id, made_at);
create index chase_call_by_staff on chase_call (done_by_id) where done_by_id is not null;
alter table chase_call enable row level security;
create policy same_firm on chase_call to lantern_app
	using (firm_id = (select current_firm()) and client_id <> all ((select unseen_clients())::uuid[]));
create policy may_work_add on chase_call as restrictive for insert to lantern_app
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create policy may_work_change on chase_call as restrictive for update to lantern_app using (true)
	with check (client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on chase_call for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
grant select, insert, update, delete on chase_call to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 2, 'chase_call');

-- The firmer words of a reminder.
alter table message_text drop constraint message_text_kind_check;
alter table message_text add constraint message_text_kind_check check (kind in
	('invitation', 'invitation_sms', 'request', 'request_sms', 'sent_back', 'chase_soon', 'chase', 'chase_firmer', 'chase_sms', 'thanks'));

-- Who is told that nothing helped: the partners of the firm who may work with a client, or its administrators where there are none.
create function partners_for(client uuid) returns table (id uuid, name text, email text) language sql stable security definer set search_path = public as $$
	with able as (
		select s.id, s.name, s.email::text, s.role from staff s
		where s.firm_id = current_firm() and s.suspended_at is null and s.role in ('partner', 'administrator') and client <> all (clients_below(s.id, 2))
	)
	select id, name, email from able where role = 'partner' or not exists (select from able where role = 'partner') order by lower(name), id
$$;
revoke execute on function partners_for from public;
grant execute on function partners_for to lantern_app;
insert into message_kind (name) values ('partner_told');
