-- One's own statements on a game, over the guide that is shared; each change of them can be taken back.
alter table projects add column own_guide text;

create table guide_steps (
	id bigserial primary key,
	project text not null references projects on delete cascade,
	at timestamptz not null default now(),
	title text not null,
	-- What both guides were before.
	shared text,
	own text,
	undone boolean not null default false
);
create index guide_steps_by_project on guide_steps (project, id);
