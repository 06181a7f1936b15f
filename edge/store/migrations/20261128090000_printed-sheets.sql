-- What was printed stays as it was printed, whatever later releases would print: the sheets stand beside
-- their plan, with the layout they were made by. A trial that is planned anew before the bench begins
-- gets another edition, so that a sheet of the plan before is known as such.
ALTER TABLE trial_plan ADD COLUMN sheets TEXT CHECK (sheets IS NULL OR json_valid(sheets));
ALTER TABLE trial_plan ADD COLUMN layout INTEGER NOT NULL DEFAULT 1 CHECK (layout >= 1);
ALTER TABLE trial_plan ADD COLUMN edition INTEGER NOT NULL DEFAULT 1 CHECK (edition >= 1);
