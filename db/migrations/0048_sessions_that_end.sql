-- What goes on as long as somebody is signed in, the live stream of a desk, ends with their session: signed out, suspended, replaced.
create function announce_session_end() returns trigger language plpgsql as $$
begin
	perform pg_notify('lantern_sessions', new.id::text);
	return null;
end $$;
create trigger session_ended after update of ended_at on session for each row
	when (old.ended_at is null and new.ended_at is not null) execute function announce_session_end();
