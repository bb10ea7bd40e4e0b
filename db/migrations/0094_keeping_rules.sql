-- Rules for what comes regularly and answers nothing that is asked: from whom it comes and what it is called say where it is kept.
alter table filing_rule alter column account_id drop not null,
	add column contact_id uuid references contact on delete cascade,
	add column words text[] not null default '{}',
	add column folder_id uuid references folder on delete set null,
	add column place int not null default 0,
	add constraint filing_rule_kind check ((account_id is null) = (contact_id is not null) and (account_id is null) = (words <> '{}'));
comment on table filing_rule is 'What finds its place by itself: statements of an account, or files of somebody with certain words in their names';
comment on column filing_rule.contact_id is 'Who sends it; null for statements, whoever sends them';
comment on column filing_rule.words is 'Words that all stand in the name of a file, in it or in what is said of it; none for statements';
comment on column filing_rule.folder_id is 'Where it is kept; null in no folder';
comment on column filing_rule.place is 'Which of a client is asked first';
create index filing_rule_of_contact on filing_rule (contact_id) where contact_id is not null;
create index filing_rule_of_folder on filing_rule (folder_id) where folder_id is not null;
