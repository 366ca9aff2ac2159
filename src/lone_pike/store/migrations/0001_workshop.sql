CREATE TABLE bike (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    story TEXT NOT NULL DEFAULT '',
    document TEXT NOT NULL CHECK (json_valid(document))
) STRICT;

-- Every edit of a job's bike is a row; undo goes back to the parent, nothing is ever overwritten.
CREATE TABLE job (
    id INTEGER PRIMARY KEY,
    bike_id INTEGER NOT NULL REFERENCES bike (id),
    revision_id INTEGER REFERENCES revision (id),
    stage TEXT NOT NULL DEFAULT 'measure',
    complaint TEXT NOT NULL DEFAULT '',
    opened_at TEXT NOT NULL,
    booked_at TEXT
) STRICT;

CREATE TABLE revision (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL REFERENCES job (id),
    parent_id INTEGER REFERENCES revision (id),
    document TEXT NOT NULL CHECK (json_valid(document)),
    chosen_links INTEGER,
    note TEXT NOT NULL,
    made_at TEXT NOT NULL
) STRICT;

CREATE INDEX revision_by_job ON revision (job_id);
CREATE UNIQUE INDEX one_open_job_a_bike ON job (bike_id) WHERE booked_at IS NULL;

-- What was fitted to a bike, with the bike as it was before, so that a booking can be taken back.
CREATE TABLE fitted (
    id INTEGER PRIMARY KEY,
    bike_id INTEGER NOT NULL REFERENCES bike (id),
    job_id INTEGER NOT NULL UNIQUE REFERENCES job (id),
    links INTEGER NOT NULL,
    joiner TEXT NOT NULL,
    speeds INTEGER NOT NULL,
    note TEXT NOT NULL DEFAULT '',
    document_before TEXT NOT NULL CHECK (json_valid(document_before)),
    booked_at TEXT NOT NULL
) STRICT;

CREATE TABLE offcut (
    id INTEGER PRIMARY KEY,
    job_id INTEGER UNIQUE REFERENCES job (id),
    links INTEGER NOT NULL,
    first_end TEXT NOT NULL,
    last_end TEXT NOT NULL,
    speeds INTEGER NOT NULL,
    origin TEXT NOT NULL,
    laid_in_at TEXT NOT NULL
) STRICT;
