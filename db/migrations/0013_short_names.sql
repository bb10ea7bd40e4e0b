-- A portal's address may change; the old one goes on leading to the firm, and nobody else can take it.
create table former_short_name (
	slug text primary key,
	firm_id uuid not null references firm,
	changed_at timestamptz not null
);
alter table former_short_name enable row level security;
create policy same_firm on former_short_name to lantern_app using (firm_id = (select current_firm()));
grant select, insert, delete on former_short_name to lantern_app;

-- The firm behind a short name, in use or former, and the one in use.
create function find_short_name(wanted text) returns table (firm_id uuid, slug text)
language sql stable security definer set search_path = public as $$
	select f.id, f.slug from firm f where f.slug = wanted
	union all
	select f.id, f.slug from former_short_name o join firm f on f.id = o.firm_id where o.slug = wanted
	limit 1
$$;
revoke execute on function find_short_name from public;
grant execute on function find_short_name to lantern_app;
drop function find_firm_by_slug;
