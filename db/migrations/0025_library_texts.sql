-- Groups of people of the firm, by which things of the Library are shared.
create table staff_group (
	id uuid primary key,
	firm_id uuid not null references firm,
	name text not null,
	created_at timestamptz not null
);
create unique index staff_group_by_name on staff_group (firm_id, lower(name));
create table staff_group_member (
	firm_id uuid not null references firm,
	group_id uuid not null references staff_group on delete cascade,
	staff_id uuid not null references staff,
	primary key (group_id, staff_id)
);
create index staff_group_member_by_staff on staff_group_member (staff_id);

-- The words of messages that are used again and again. Using one copies it: what was sent never changes with it.
create table message_text (
	id uuid primary key,
	firm_id uuid not null references firm,
	kind text not null check (kind in ('invitation', 'invitation_sms', 'request', 'sent_back', 'chase_soon', 'chase', 'thanks')),
	name text not null,
	folder text not null default '',
	tags text[] not null default '{}',
	subject text not null default '',
	body text not null,
	shared text not null default 'all' check (shared in ('all', 'group', 'person')),
	group_id uuid references staff_group on delete set null,
	made_by uuid not null references staff,
	made_at timestamptz not null,
	changed_at timestamptz not null,
	-- goes out by itself instead of the product's own words
	in_use boolean not null default false,
	version int not null default 1,
	check (not in_use or shared = 'all')
);
create index message_text_by_name on message_text (firm_id, kind, lower(name));
create unique index message_text_in_use on message_text (firm_id, kind) where in_use;

do $$
declare
	t text;
begin
	foreach t in array array['staff_group', 'staff_group_member', 'message_text'] loop
		execute format('alter table %I enable row level security', t);
		execute format('create policy same_firm on %I to lantern_app using (firm_id = (select current_firm()))', t);
		execute format('grant select, insert, update, delete on %I to lantern_app', t);
	end loop;
end $$;

alter table message drop constraint message_kind_check;
alter table message add constraint message_kind_check
	check (kind in ('invitation', 'invitation_chase', 'request', 'chase', 'sent_back', 'signed_copy', 'password_reset', 'password_changed', 'sign_in_code', 'new_device', 'second_step_changed', 'staff_invitation', 'thanks'));
