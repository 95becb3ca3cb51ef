-- Which layers are loaded, in which order, under a name: to be gone back to.
create table arrangements (
	project text not null references projects on delete cascade,
	name text not null,
	layers jsonb not null,
	primary key (project, name)
);
