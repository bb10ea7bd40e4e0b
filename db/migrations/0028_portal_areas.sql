-- Parts of the portal that the firm may turn off, for all or for one client.
alter table firm add column areas_off text[] not null default '{}';
alter table client add column areas jsonb not null default '{}';
-- A contact says what is known about their own clients, and corrects it.
grant insert, update on fact to lantern_contact;
