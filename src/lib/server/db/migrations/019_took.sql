-- How long each step of a trial took, and how many files it wrote; null for trials from before.
alter table trials add column took text;
