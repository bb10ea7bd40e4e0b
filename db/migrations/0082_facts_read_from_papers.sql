-- What somebody of the firm read from a paper of the client.
alter table fact add column paper_id uuid references paper (id) on delete set null;
comment on column fact.paper_id is 'The paper of the client that it was read from; null for what was said';
create index fact_of_paper on fact (paper_id) where paper_id is not null;
