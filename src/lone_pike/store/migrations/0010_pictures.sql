-- Pictures of a job from before anything came off. Which of them are shown, and with which word, stands in the job's
-- history; a picture itself never changes.
CREATE TABLE picture (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL REFERENCES job (id),
    width INTEGER NOT NULL CHECK (width > 0),
    height INTEGER NOT NULL CHECK (height > 0),
    image BLOB NOT NULL CHECK (length(image) BETWEEN 1 AND 4000000),
    added_at TEXT NOT NULL
) STRICT;
CREATE INDEX picture_by_job ON picture (job_id, id DESC);
