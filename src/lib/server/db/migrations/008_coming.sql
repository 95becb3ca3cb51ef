-- What is being written into the linked folder: until it is agreed on, the folder may hold either. Empty: it goes.
alter table linked_files add column coming text;
alter table linked_files alter column sha256 drop not null;
