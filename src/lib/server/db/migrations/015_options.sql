-- Optional parts of my mod: what a player may have or not, as values over the main part.
alter table projects add column options jsonb not null default '[]';
