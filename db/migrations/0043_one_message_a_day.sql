-- How often somebody is reminded at most: days from one reminder to the next, and reminders within seven days.
alter table firm add column reminder_gap_days int not null default 2 check (reminder_gap_days between 1 and 14);
alter table firm add column reminders_per_week int not null default 2 check (reminders_per_week between 1 and 7);

-- The local day on which something went to a person last, whatever it was; the days of the last reminders; and the first day on which
-- the firm's pace allows another one.
alter table contact add column last_told_on date;
alter table contact add column reminded_on date[] not null default '{}';
alter table contact add column no_reminder_before date;
update contact set last_told_on = last_announced_on, reminded_on = case when last_chased_on is null then '{}' else array[last_chased_on] end;
alter table contact drop column last_announced_on;
create index contact_told_lately on contact (firm_id, greatest(last_told_on, no_reminder_before)) where last_told_on is not null or no_reminder_before is not null;

-- Notes that something went to people; a contact's own act may cause it too.
create function note_told(contacts uuid[], at timestamptz) returns void
language sql security definer set search_path = public as $$
	update contact c set last_told_on = (at at time zone f.time_zone)::date from firm f
	where f.id = c.firm_id and c.firm_id = current_firm() and c.id = any (contacts)
		and c.last_told_on is distinct from (at at time zone f.time_zone)::date;
$$;
revoke execute on function note_told from public;
grant execute on function note_told to lantern_app, lantern_contact;

-- Asked of each of several people for themselves, or given to one of them: nobody else is told of it. What is not may be answered by any of them.
alter table item add column own boolean not null default false;
update item i set own = true from request r where r.id = i.request_id and i.contact_id <> r.contact_id;

-- Somebody whose link does not work any more has asked for another one.
alter table invitation add column asked_again_at timestamptz;

-- The day on which a paused standing request goes on by itself; null for when a person lets it.
alter table standing_request add column resumes_on date;

-- Puts messages back into the queue that are planned and have lost their job: a process that is killed again and again uses up its tries.
create function requeue_lost_messages(planned_before timestamptz) returns int
language plpgsql security definer set search_path = public as $$
declare
	lost record;
	n int := 0;
begin
	for lost in
		with queued as materialized (
			select (j.payload ->> 'messageId')::uuid id from graphile_worker._private_jobs j join graphile_worker._private_tasks t on t.id = j.task_id
			where t.identifier = 'send_message' and j.attempts < j.max_attempts
		)
		select m.id, m.firm_id from message m join firm f on f.id = m.firm_id
		where m.state = 'planned' and m.planned_at < planned_before and f.practice_state is distinct from 'filling' and m.id not in (select id from queued)
		limit 200
	loop
		perform enqueue_sending(lost.firm_id, array[lost.id], 0);
		n := n + 1;
	end loop;
	return n;
end $$;
revoke execute on function requeue_lost_messages from public;
grant execute on function requeue_lost_messages to lantern_app;
create index message_planned on message (planned_at) where state = 'planned';
