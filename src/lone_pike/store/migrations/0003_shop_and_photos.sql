-- The shop's settings: every change is a row, the newest one holds; undo writes what before_id had once more.
CREATE TABLE shop (
    id INTEGER PRIMARY KEY,
    before_id INTEGER REFERENCES shop (id),
    settings TEXT NOT NULL CHECK (json_valid(settings)),
    note TEXT NOT NULL,
    made_at TEXT NOT NULL
) STRICT;

-- Side photos, made anew on the way in: nothing of the camera's own notes comes along. Never changed, only added.
CREATE TABLE photo (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL REFERENCES job (id),
    width INTEGER NOT NULL,
    height INTEGER NOT NULL,
    image BLOB NOT NULL,
    added_at TEXT NOT NULL
) STRICT;

CREATE INDEX photo_by_job ON photo (job_id);
