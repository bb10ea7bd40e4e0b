-- A questionnaire of the Library has a plan of its own, by which it is chased wherever it is asked.
alter table questionnaire add column chase_plan text;
comment on column questionnaire.chase_plan is 'By which plan it is chased where it is asked; null as its list, the client or the firm has it';
alter table item drop constraint item_chase_plan_from_check;
alter table item add constraint item_chase_plan_from_check
	check (chase_plan_from in ('line', 'request', 'questionnaire', 'list', 'service', 'contact', 'client', 'call')) not valid;
alter table item validate constraint item_chase_plan_from_check;
comment on column item.chase_plan_named is 'What that questionnaire, list, service or person was called then';
