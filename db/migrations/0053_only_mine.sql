-- Whether somebody's Rounds shows only what comes of the clients they look after: kept with the person, so that it is the same on
-- every device.
alter table staff add column rounds_only_mine boolean not null default false;
create index client_by_responsible on client (firm_id, responsible_id);
