-- An invitation may be given as a link, without a message; it is chased by a plan of its own; several go in one run.
alter table invitation alter column message_id drop not null;
alter table invitation
	add column next_chase_on date,
	add column chases_sent int not null default 0;
create index invitation_chase_due on invitation (firm_id, next_chase_on)
	where next_chase_on is not null and taken_up_at is null and withdrawn_at is null and replaced_at is null;
create index invitation_by_message on invitation (message_id) where message_id is not null;

-- What the receiving mail server reported (RFC 3464).
alter table message add column delivered_at timestamptz;
alter table message drop constraint message_kind_check;
alter table message add constraint message_kind_check
	check (kind in ('invitation', 'invitation_chase', 'request', 'chase', 'sent_back', 'signed_copy', 'password_reset', 'password_changed'));

create table invitation_run (
	-- the key of the form: sent twice, it is one run
	id uuid primary key,
	firm_id uuid not null references firm,
	subject text not null,
	body text not null,
	begun_by uuid not null references staff,
	begun_at timestamptz not null,
	invited int not null
);
create index invitation_run_by_time on invitation_run (firm_id, begun_at desc);
alter table invitation add column run_id uuid references invitation_run;
create index invitation_by_run on invitation (run_id, sent_at, id) where run_id is not null;
alter table invitation_run enable row level security;
create policy same_firm on invitation_run to lantern_app using (firm_id = (select current_firm()));
grant select, insert on invitation_run to lantern_app;

-- Many jobs at once, so many a second.
create function enqueue_sending(firm uuid, messages uuid[], per_second int) returns void
language plpgsql security definer set search_path = public as $$
begin
	perform graphile_worker.add_jobs(array(
		select json_populate_record(null::graphile_worker.job_spec, json_build_object(
			'identifier', 'send_message',
			'payload', json_build_object('firmId', firm, 'messageId', m.id),
			'run_at', case when per_second > 0 then clock_timestamp() + make_interval(secs => (m.n - 1) / per_second::float8) end,
			'max_attempts', 12))
		from unnest(messages) with ordinality m (id, n)));
end $$;
revoke execute on function enqueue_sending from public;
grant execute on function enqueue_sending to lantern_app;
