-- When each worker last looked for work, by wall time; for the readiness check.
create table worker_beat (
	worker text primary key,
	at timestamptz not null
);
grant select, insert, update, delete on worker_beat to lantern_app;
