-- Every file in the papers folder that a row names, with its hash where one is kept: what a backup must hold, and a restore must find.
create view stored_file as
	select firm_id, storage_key, sha256 from paper
	union all select firm_id, storage_key, sha256 from letter
	union all select firm_id, sealed_key, sealed_sha256 from letter where sealed_key is not null
	union all select firm_id, storage_key, sha256 from attachment
	union all select firm_id, first_page::text, null from attachment where first_page is not null
	union all select firm_id, storage_key, null from transaction_file;
