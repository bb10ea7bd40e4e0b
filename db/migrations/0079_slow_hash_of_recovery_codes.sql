-- Recovery codes hold 59 bits: whoever had the table could try them all against a fast hash. New ones are kept by Argon2id, as passwords
-- are; those that were made before go on by their fast hash until they are used or made anew.
alter table recovery_code alter column hash drop not null;
alter table recovery_code add column slow_hash text;
alter table recovery_code add constraint recovery_code_hashed check ((hash is null) <> (slow_hash is null));
