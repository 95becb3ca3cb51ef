-- Imports are a queue by themselves: who carries one out writes its name there, and loses it when it falls silent.
alter table imports add column worker text;
create index imports_open on imports (touched_at) where state in ('waiting', 'working');
drop schema if exists jobs cascade;
