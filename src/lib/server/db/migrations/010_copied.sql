-- Values of my mod that are copies of what another version of the base said, as far as that was known when the version
-- in use was changed: as long as they stand, they hide what the version in use says.
create table copied_values (
	project text not null references projects on delete cascade,
	kind text not null,
	record text not null,
	field text not null,
	value text not null,
	primary key (project, kind, record, field)
);
