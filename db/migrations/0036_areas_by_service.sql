-- Parts of the portal that only clients with certain services have: part -> ids of services. A part that is not named
-- here is for every client.
alter table firm add column area_services jsonb not null default '{}';
-- What a contact finds on their page depends on which of their engagements run.
grant select (id, firm_id, client_id, ended_on) on engagement to lantern_contact;
create policy own_clients on engagement to lantern_contact using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[]));
