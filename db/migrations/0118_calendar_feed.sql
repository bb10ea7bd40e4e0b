-- What is due, in the calendar somebody of the firm uses anyway, under an address that only they know.
create table staff_feed (
	staff_id uuid primary key references staff,
	firm_id uuid not null references firm,
	id uuid not null,
	token_hash bytea not null unique,
	made_at timestamptz not null
);
comment on table staff_feed is 'The secret address of somebody''s calendar of what is due; another one ends the one before';
create index staff_feed_of_firm on staff_feed (firm_id);
alter table staff_feed enable row level security;
create policy same_firm on staff_feed to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update, delete on staff_feed to lantern_app;

create function find_feed(token bytea) returns table (firm_id uuid, staff_id uuid) language sql stable security definer set search_path = public as $$
	select f.firm_id, f.staff_id from staff_feed f join staff s on s.id = f.staff_id and s.suspended_at is null where f.token_hash = token
$$;
revoke execute on function find_feed from public;
grant execute on function find_feed to lantern_app;
insert into clearing (kind, table_name, because) values ('kept', 'staff_feed', 'the firm''s people');
