-- A layer is somebody's: the game's, other people's, or mine; it may be switched off, and may be an option of its mod.
alter table layers drop constraint layers_role_check;
alter table layers rename column role to owner;
update layers set owner = case owner when 'base' then 'game' when 'mod' then 'others' else 'me' end;
alter table layers add constraint layers_owner_check check (owner in ('game', 'others', 'me'));
alter table layers add column is_on boolean not null default true;
alter table layers add column option text;
-- Imports that are still to be done name their layers in the same words.
update imports set layers = (
	select coalesce(jsonb_agg((one - 'role') || jsonb_build_object('owner',
		case one ->> 'role' when 'base' then 'game' when 'mod' then 'others' else 'me' end)), '[]')
	from jsonb_array_elements(layers) one
) where layers @> '[{}]';
