alter table transaction_file drop constraint transaction_file_format_check;
alter table transaction_file add constraint transaction_file_format_check check (format in ('csv', 'ofx', 'qif', 'camt', 'mt940'));
