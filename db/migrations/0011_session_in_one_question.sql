-- Every request asks who is behind its cookie: one question instead of a transaction. It answers only
-- to somebody who holds the secret.
create function session_of_token(token bytea) returns table (
	session_id uuid, firm_id uuid, slug text, is_current boolean, rotated_at timestamptz, last_used_at timestamptz, expires_at timestamptz,
	ended_at timestamptz, kind text, person_id uuid, name text, email text, role text, locale text, suspended_at timestamptz
) language plpgsql stable security definer set search_path = public as $$
begin
	-- plpgsql, since it keeps its plan; two look-ups, since one with "or" cannot use both indexes cheaply
	return query select s.id, s.firm_id, f.slug, s.token_hash = token, s.rotated_at, s.last_used_at, s.expires_at, s.ended_at,
		case when s.staff_id is null then 'contact' else 'staff' end, coalesce(st.id, c.id), coalesce(st.name, c.name), coalesce(st.email, c.email)::text,
		st.role, coalesce(c.locale, f.locale), coalesce(st.suspended_at, c.suspended_at)
	from session s join firm f on f.id = s.firm_id left join staff st on st.id = s.staff_id left join contact c on c.id = s.contact_id
	where s.id = coalesce((select c.id from session c where c.token_hash = token), (select p.id from session p where p.previous_token_hash = token));
end $$;
revoke execute on function session_of_token from public;
grant execute on function session_of_token to lantern_app;
drop function find_session;
