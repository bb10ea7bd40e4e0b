-- The money a firm counts in (ISO 4217); null for that of its country.
alter table firm add column currency text check (currency ~ '^[A-Z]{3}$');
