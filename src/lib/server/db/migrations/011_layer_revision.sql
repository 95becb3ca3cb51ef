-- How often the files of a layer, or what was chosen about them, were changed: who has read a layer at a revision need
-- not read it again as long as that stands.
alter table layers add column revision bigint not null default 0;

create function layer_changed() returns trigger language plpgsql as $$
begin
	update layers set revision = revision + 1 where id in (select distinct layer from changed);
	return null;
end $$;

create trigger files_inserted after insert on layer_files
	referencing new table as changed for each statement execute function layer_changed();
create trigger files_updated after update on layer_files
	referencing new table as changed for each statement execute function layer_changed();
create trigger files_deleted after delete on layer_files
	referencing old table as changed for each statement execute function layer_changed();
create trigger encodings_inserted after insert on chosen_encodings
	referencing new table as changed for each statement execute function layer_changed();
create trigger encodings_updated after update on chosen_encodings
	referencing new table as changed for each statement execute function layer_changed();
create trigger encodings_deleted after delete on chosen_encodings
	referencing old table as changed for each statement execute function layer_changed();
