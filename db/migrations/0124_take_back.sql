-- What the firm writes can be taken back for some seconds: its mail waits so long.
drop function enqueue_sending(uuid, uuid[], int);
create function enqueue_sending(firm uuid, messages uuid[], per_second int, wait_seconds int default 0) returns void
language plpgsql security definer set search_path = public as $$
begin
	perform graphile_worker.add_jobs(array(
		select json_populate_record(null::graphile_worker.job_spec, json_build_object(
			'identifier', 'send_message',
			'payload', json_build_object('firmId', firm, 'messageId', m.id),
			'run_at', case when per_second > 0 or wait_seconds > 0
				then clock_timestamp() + make_interval(secs => wait_seconds + case when per_second > 0 then (m.n - 1) / per_second::float8 else 0 end) end,
			'max_attempts', 12))
		from unnest(messages) with ordinality m (id, n)));
end $$;
revoke execute on function enqueue_sending from public;
grant execute on function enqueue_sending to lantern_app, lantern_contact;
