-- Instants inside JSON, spelled as everywhere else.
create function to_iso(at timestamptz) returns text language sql immutable
	return to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"');
grant execute on function to_iso to lantern_app;
