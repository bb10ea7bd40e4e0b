-- Counters of tries, lost on a crash on purpose: cheap to write, nothing to keep.
create unlogged table rate_limit (
	key varchar(255) primary key,
	points integer not null default 0,
	expire bigint
);
grant select, insert, update, delete on rate_limit to lantern_app;
