-- The encodings that were chosen for files before a step chose others, by path; null where none was.
alter table ledger add column encodings jsonb not null default '{}';
