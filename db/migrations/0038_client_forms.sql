-- Forms of the firm with which clients ask for something by themselves.
create table client_form (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null,
	about text not null,
	questions jsonb not null,
	-- files may be added
	files boolean not null,
	-- services whose clients have it; empty for all
	services uuid[] not null default '{}',
	changed_by uuid not null references staff,
	changed_at timestamptz not null,
	ended_at timestamptz
);
create unique index client_form_by_name on client_form (firm_id, lower(name)) where ended_at is null;
alter table client_form enable row level security;
create policy same_firm on client_form to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update on client_form to lantern_app;
create policy in_use_of_firm on client_form for select to lantern_contact using (firm_id = (select current_firm()) and ended_at is null);
grant select on client_form to lantern_contact;
-- who of the client's people began a request; the firm began all others
alter table request add column raised_by uuid references contact;
grant insert on request to lantern_contact;
