-- What was seen or noted at the stand and is no measure of the bike: steps done, shock pressures.
ALTER TABLE revision ADD COLUMN observed TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(observed));
