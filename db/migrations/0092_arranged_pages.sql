-- The pages of files that came are put in order anew: what came is put away, and the files made of its pages take its place. Both carry
-- the same mark, so that it can be taken back.
alter table paper add arranged_in uuid, add arranged_from uuid,
	add constraint paper_arranged check (arranged_in is null or (unasked and put_away_at is not null)),
	add constraint paper_arranged_from check (arranged_from is null or unasked);
comment on column paper.arranged_in is 'Its pages are in the files with this in arranged_from';
comment on column paper.arranged_from is 'Made of the pages of the files with this in arranged_in';
create index paper_arranged_in on paper (arranged_in) where arranged_in is not null;
create index paper_arranged_from on paper (arranged_from) where arranged_from is not null;
