-- What people look at in a table again and again: conditions, order and columns, under a name.
create table table_views (
	project text not null references projects (slug) on delete cascade,
	kind text not null,
	name text not null,
	query text not null,
	primary key (project, kind, name)
);
