-- What was chosen while a mod is carried over to a new version of its game: it can be left and come back to.
create table carry_choices (
	project text not null references projects on delete cascade,
	layer bigint not null references layers on delete cascade,
	key text not null,
	choice jsonb not null,
	primary key (project, layer, key)
);
