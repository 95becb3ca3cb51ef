-- Bytes are kept once, by digest; a layer is a set of (path, digest). Everything else is derived from these and the guide.
create table blobs (
	sha256 text primary key,
	size bigint not null,
	bytes bytea not null
);

create table projects (
	slug text primary key,
	title text not null,
	guide text,
	-- Folder-safe name of my mod.
	mod text not null,
	-- Goes up by one with every applied, undone or redone plan; caches are kept under it.
	version bigint not null default 1,
	-- How the game is started: {"folder", "program", "arguments"}; null where nobody said.
	launcher jsonb,
	-- Things to try first, for a project that comes with an introduction.
	tries jsonb,
	created_at timestamptz not null default now()
);

create table layers (
	id bigserial primary key,
	project text not null references projects on delete cascade,
	role text not null check (role in ('base', 'mod', 'mine')),
	title text not null,
	position int not null,
	source text not null,
	imported_at timestamptz not null default now(),
	unique (project, position)
);

create table layer_files (
	layer bigint not null references layers on delete cascade,
	path text not null,
	sha256 text not null,
	size bigint not null,
	-- Whether the bytes are in blobs; very large files are known by digest only.
	kept boolean not null,
	primary key (layer, path)
);

create table ledger (
	id bigserial primary key,
	project text not null references projects on delete cascade,
	title text not null,
	intention jsonb not null,
	plan jsonb not null,
	-- undone: can be redone; dropped: was undone when something else was done.
	state text not null check (state in ('applied', 'undone', 'dropped')),
	applied_at timestamptz not null default now()
);
create index ledger_by_project on ledger (project, id);

create table imports (
	id uuid primary key,
	title text not null,
	source text not null,
	guide text,
	mine text,
	state text not null check (state in ('waiting', 'working', 'done', 'failed', 'cancelled')),
	files_done int not null default 0,
	files_total int not null default 0,
	bytes_done bigint not null default 0,
	bytes_total bigint not null default 0,
	reading text,
	message text,
	project text references projects on delete set null,
	touched_at timestamptz not null default now()
);

create table trials (
	id bigserial primary key,
	project text not null references projects on delete cascade,
	at timestamptz not null default now(),
	status int,
	milliseconds int not null,
	log text not null,
	files jsonb not null,
	backup text not null
);
