-- Compressing costs more time than reading; most of it is read whole.
alter table blobs alter column bytes set storage external;

-- Other versions of a layer are kept beside the one in the stack.
alter table layers add column version text not null default '';
alter table layers add column beside_of bigint references layers on delete set null;
alter table layers drop constraint layers_project_position_key;
create unique index layers_in_stack on layers (project, position) where beside_of is null;

-- An import brings in several layers, for a new project or one that is there.
update imports set state = 'failed', message = 'The server was updated meanwhile; bring it in again.' where state in ('waiting', 'working');
alter table imports add column what text not null default 'game';
alter table imports add column layers jsonb not null default '[]';
alter table imports add column target text references projects on delete cascade;
alter table imports drop column source;
alter table imports drop column mine;

-- Files of an import that were read already: whoever takes it up goes on behind them.
create table import_files (
	import uuid not null references imports on delete cascade,
	layer int not null,
	path text not null,
	sha256 text not null,
	size bigint not null,
	kept boolean not null,
	primary key (import, layer, path)
);

-- Each time that a layer was compared with its source: what differs, and since when.
create table verifications (
	id bigserial primary key,
	layer bigint not null references layers on delete cascade,
	at timestamptz not null default now(),
	files int not null,
	differs jsonb not null
);
create index verifications_by_layer on verifications (layer, id);

-- Nicknames and notes of people, by what they are on.
create table notes (
	project text not null references projects on delete cascade,
	target text not null,
	nickname text not null default '',
	note text not null default '',
	changed_at timestamptz not null default now(),
	primary key (project, target)
);

-- Labelled values and records at hand while working.
create table pocket (
	id bigserial primary key,
	project text not null references projects on delete cascade,
	label text not null,
	value text not null,
	-- Where it is from: {"kind", "record", "field"}, each where there is one.
	about jsonb not null,
	at timestamptz not null default now()
);
create index pocket_by_project on pocket (project, id);

-- My mod as a folder on disk: where, and whether it is written at once; the state that both sides last agreed on.
alter table projects add column linked jsonb;
create table linked_files (
	project text not null references projects on delete cascade,
	path text not null,
	sha256 text not null,
	primary key (project, path)
);
