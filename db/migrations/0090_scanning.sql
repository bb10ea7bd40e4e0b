-- What a scanner for harmful content says of each paper, where one is set up.
alter table paper add column scan text check (scan in ('clean', 'found', 'too_large'));
alter table paper add column scanned_at timestamptz;
alter table paper add column scan_found text;
alter table paper add constraint paper_scanned check ((scan is null) = (scanned_at is null) and (scan is not distinct from 'found') = (scan_found is not null));
comment on column paper.scan is 'What the scanner for harmful content said; null while it was not asked';
comment on column paper.scan_found is 'What it found, in its words';
create index paper_unscanned on paper (firm_id, uploaded_at, id) where scan is null and removed_at is null;
create index paper_kept_apart on paper (firm_id, scanned_at) where scan in ('found', 'too_large') and removed_at is null;
