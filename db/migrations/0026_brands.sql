-- Pictures of the firm and its brands, by their content: logos and welcomes.
create table picture (
	firm_id uuid not null references firm,
	version text not null check (version ~ '^[0-9a-f]{16}$'),
	mime text not null check (mime in ('image/png', 'image/jpeg')),
	bytes bytea not null,
	width int not null,
	height int not null,
	made_at timestamptz not null,
	primary key (firm_id, version)
);
insert into picture (firm_id, version, mime, bytes, width, height, made_at)
	select l.firm_id, f.logo_version, 'image/png', l.png, l.width, l.height, l.changed_at from firm_logo l join firm f on f.id = l.firm_id and f.logo_version is not null;
drop table firm_logo;

-- How the firm appears to some of its clients, besides its own brand.
create table brand (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null,
	color text not null check (color ~ '^#[0-9a-f]{6}$'),
	welcome text not null default '',
	welcome_video text,
	welcome_picture text,
	logo_version text,
	made_at timestamptz not null,
	ended_at timestamptz
);
create unique index brand_by_name on brand (firm_id, lower(name)) where ended_at is null;
alter table firm
	add column welcome_video text,
	add column welcome_picture text;
alter table client
	add column brand_id uuid references brand,
	-- their own welcome, instead of the brand's
	add column welcome text,
	add column welcome_video text;
create index client_by_brand on client (brand_id) where brand_id is not null;

do $$
declare
	t text;
begin
	foreach t in array array['picture', 'brand'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()))', t);
		execute format('create policy same_firm_of_contact on %I for select to lantern_contact using (firm_id = (select current_firm()))', t);
		execute format('grant select, insert, update on %I to lantern_app', t);
		execute format('grant select on %I to lantern_contact', t);
	end loop;
end $$;
grant delete on picture to lantern_app;
