-- A step may hold any text, also characters that jsonb refuses; its digests stand beside it, to be found without reading it.
alter table ledger add column digests text[] not null default '{}';
update ledger set digests = coalesce((
	select array_agg(distinct digest) from jsonb_array_elements(plan->'changes') as change,
		lateral (values (change->>'before'), (change->>'after')) as both_sides(digest)
	where digest is not null
), '{}');
alter table ledger alter column intention type text using intention::text;
alter table ledger alter column plan type text using plan::text;
