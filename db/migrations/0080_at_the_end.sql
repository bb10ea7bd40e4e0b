-- What accepted answers bring about as a whole, beside what single ones do.
alter table questionnaire add column ends jsonb not null default '[]';
