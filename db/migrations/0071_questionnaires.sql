-- Questionnaires of the Library: written once, asked many times. Sending takes a copy, so a change never touches what is out.
create table questionnaire (
	id uuid primary key,
	firm_id uuid not null references firm (id),
	name text not null,
	about text not null default '',
	questions jsonb not null,
	files boolean not null default false,
	year int check (year between 1990 and 2200),
	before_id uuid references questionnaire (id),
	version int not null default 1,
	made_by_id uuid not null references staff (id),
	made_at timestamptz not null,
	changed_by_id uuid not null references staff (id),
	changed_at timestamptz not null,
	ended_at timestamptz
);
comment on table questionnaire is 'A questionnaire of the Library; what is asked with it is copied into the item';
comment on column questionnaire.year is 'The year it asks about, where there is one for every year';
comment on column questionnaire.before_id is 'The one of the year before, whose answers are proposed';
create unique index questionnaire_by_name on questionnaire (firm_id, lower(name)) where ended_at is null;

create table questionnaire_version (
	firm_id uuid not null references firm (id),
	questionnaire_id uuid not null references questionnaire (id) on delete cascade,
	version int not null,
	content jsonb not null,
	kept_at timestamptz not null,
	kept_by_id uuid not null references staff (id),
	primary key (questionnaire_id, version)
);
comment on table questionnaire_version is 'A former version of a questionnaire';

alter table questionnaire enable row level security;
alter table questionnaire_version enable row level security;
create policy same_firm on questionnaire to lantern_app using (firm_id = (select current_firm()));
create policy same_firm on questionnaire_version to lantern_app using (firm_id = (select current_firm()));
grant select, insert, update, delete on questionnaire, questionnaire_version to lantern_app;

insert into clearing (table_name, kind, because) values
	('questionnaire', 'kept', 'what the firm asks its clients is its own'),
	('questionnaire_version', 'kept', 'what the firm asks its clients is its own');

-- which questionnaire of the Library an item was asked with, and in which version
alter table item
	add column questionnaire_id uuid generated always as ((spec #>> '{from,id}')::uuid) stored,
	add column questionnaire_version int generated always as ((spec #>> '{from,version}')::int) stored;
comment on column item.questionnaire_id is 'The questionnaire of the Library it was asked with, if any';
create index item_of_questionnaire on item (questionnaire_id, questionnaire_version) where questionnaire_id is not null;
