-- Encodings that people chose for files whose bytes do not tell. How a file is read, not what it holds: no bytes change.
create table chosen_encodings (
	layer bigint not null references layers on delete cascade,
	path text not null,
	encoding text not null,
	primary key (layer, path)
);
