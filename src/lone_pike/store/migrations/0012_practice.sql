-- Practice: who practises, by name, and what was answered. A name can be removed for good, with all that it answered.
CREATE TABLE mechanic (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (length(name) BETWEEN 1 AND 60)
) STRICT;

CREATE TABLE practised (
    id INTEGER PRIMARY KEY,
    mechanic_id INTEGER NOT NULL REFERENCES mechanic (id) ON DELETE CASCADE,
    version INTEGER NOT NULL,
    seed INTEGER NOT NULL,
    kind TEXT NOT NULL,
    exercise TEXT NOT NULL,
    is_right INTEGER NOT NULL CHECK (is_right IN (0, 1)),
    answered_at TEXT NOT NULL,
    UNIQUE (mechanic_id, version, exercise, kind, seed)
) STRICT;
CREATE INDEX practised_by_mechanic ON practised (mechanic_id, id);
