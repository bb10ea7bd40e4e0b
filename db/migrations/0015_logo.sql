-- The firm's logo, as a small PNG; its version stands in addresses, so that browsers may keep it for ever.
create table firm_logo (
	firm_id uuid primary key references firm,
	png bytea not null,
	width int not null,
	height int not null,
	changed_at timestamptz not null
);
alter table firm_logo enable row level security;
create policy same_firm on firm_logo to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update, delete on firm_logo to lantern_app;
alter table firm add column logo_version text;
