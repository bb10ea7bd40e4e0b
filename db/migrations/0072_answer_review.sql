-- What the firm says of the single answers of a questionnaire: asked back, corrected, accepted, and what it read last.
alter table item add column answer_review jsonb not null default '{}';
comment on column item.answer_review is 'Of several questions: which answers were asked back, corrected or accepted, which the client does not know; core''s AnswerReview';
