-- A fact that was answered outlives the item it was the answer to: clearing what was asked must not stop at it.
alter table fact drop constraint fact_answers_item_id_fkey,
	add constraint fact_answers_item_id_fkey foreign key (answers_item_id) references item (id) on delete set null;
