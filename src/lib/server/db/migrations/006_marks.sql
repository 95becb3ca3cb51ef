-- Moments of the ledger that people want to find again.
alter table ledger add column mark text;
