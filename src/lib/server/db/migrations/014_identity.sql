-- Who the mod is, as people said it on its page: title, version, description, what it needs.
alter table projects add column identity jsonb;
