-- What was foretold when a trial began, to be held against what the game said; null for trials from before.
alter table trials add column foretold text;
