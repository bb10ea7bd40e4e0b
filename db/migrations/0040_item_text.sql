-- The words of an item where they are more than plain ones: emphasis, lists, links, pictures. `why` holds the same words plainly.
alter table item add column text jsonb;
