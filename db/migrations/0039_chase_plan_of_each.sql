-- Further chase plans beside the usual one: [{ key, name, steps }].
alter table firm add column further_chase_plans jsonb not null default '[]';
-- Which plan a thing is chased by: a key of the firm's further plans, 'usual', 'none', or null for the usual one. A list and
-- a client may say which; what is asked keeps what held when it was asked.
alter table item add column chase_plan text;
alter table request_list add column chase_plan text;
alter table client add column chase_plan text;
