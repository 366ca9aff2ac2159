-- A job can be closed without a booking, a bike put away, an off-cut taken by hand; each is undone, nothing is deleted.
-- What a bike is called by its owner, and its story, as they were before each change: so far back they can be had again.
ALTER TABLE job ADD COLUMN closed_at TEXT;
ALTER TABLE bike ADD COLUMN owner_word TEXT NOT NULL DEFAULT '' CHECK (length(owner_word) <= 80);
ALTER TABLE bike ADD COLUMN put_away_at TEXT;
ALTER TABLE offcut ADD COLUMN taken_at TEXT;

DROP INDEX one_open_job_a_bike;
CREATE UNIQUE INDEX one_open_job_a_bike ON job (bike_id) WHERE booked_at IS NULL AND closed_at IS NULL;
DROP INDEX job_in_hand;
CREATE INDEX job_in_hand ON job (id DESC) WHERE booked_at IS NULL AND closed_at IS NULL;

CREATE TABLE bike_words (
    id INTEGER PRIMARY KEY,
    bike_id INTEGER NOT NULL REFERENCES bike (id),
    owner_word TEXT NOT NULL,
    story TEXT NOT NULL,
    replaced_at TEXT NOT NULL
) STRICT;
CREATE INDEX bike_words_by_bike ON bike_words (bike_id, id DESC);
