-- One history serves jobs and the shop: every edit is a row, undo steps back to its parent, nothing is overwritten.
-- Bookings are never deleted: taking one back is another row. What is in a column says what may be there.
PRAGMA application_id = 1280330545;

ALTER TABLE job RENAME TO old_job;
ALTER TABLE revision RENAME TO old_revision;
ALTER TABLE bike RENAME TO old_bike;
ALTER TABLE fitted RENAME TO old_fitted;
ALTER TABLE offcut RENAME TO old_offcut;
ALTER TABLE photo RENAME TO old_photo;
ALTER TABLE shop RENAME TO old_shop;
DROP INDEX revision_by_job;
DROP INDEX one_open_job_a_bike;
DROP INDEX photo_by_job;

CREATE TABLE bike (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(name) <= 200),
    story TEXT NOT NULL DEFAULT '',
    document TEXT NOT NULL CHECK (json_valid(document))
) STRICT;
CREATE INDEX bike_by_name ON bike (name COLLATE NOCASE, id);

CREATE TABLE history (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL CHECK (kind IN ('job', 'shop')),
    revision_id INTEGER,
    FOREIGN KEY (id, revision_id) REFERENCES revision (history_id, id)
) STRICT;
CREATE UNIQUE INDEX one_shop ON history (kind) WHERE kind = 'shop';

CREATE TABLE revision (
    id INTEGER PRIMARY KEY,
    history_id INTEGER NOT NULL REFERENCES history (id),
    parent_id INTEGER CHECK (parent_id < id),
    content TEXT NOT NULL CHECK (json_valid(content)),
    message TEXT NOT NULL CHECK (json_valid(message)),
    made_at TEXT NOT NULL,
    UNIQUE (history_id, id),
    FOREIGN KEY (history_id, parent_id) REFERENCES revision (history_id, id)
) STRICT;

CREATE TABLE job (
    id INTEGER PRIMARY KEY,
    bike_id INTEGER NOT NULL REFERENCES bike (id),
    history_id INTEGER NOT NULL UNIQUE REFERENCES history (id),
    stage TEXT NOT NULL DEFAULT 'measure'
        CHECK (stage IN ('receive', 'measure', 'size', 'cut', 'join', 'prove', 'book')),
    complaint TEXT NOT NULL DEFAULT '',
    opened_at TEXT NOT NULL,
    booked_at TEXT,
    UNIQUE (id, bike_id)
) STRICT;
CREATE UNIQUE INDEX one_open_job_a_bike ON job (bike_id) WHERE booked_at IS NULL;
CREATE INDEX job_in_hand ON job (id DESC) WHERE booked_at IS NULL;
CREATE INDEX job_by_bike ON job (bike_id, id);

CREATE TABLE booking (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL,
    bike_id INTEGER NOT NULL,
    links INTEGER NOT NULL CHECK (links BETWEEN 20 AND 400),
    joiner TEXT NOT NULL
        CHECK (joiner IN ('quick_link', 'locking_link', 'joining_pin', 'rivet', 'clip_link')),
    speeds INTEGER NOT NULL CHECK (speeds BETWEEN 1 AND 13),
    note TEXT NOT NULL DEFAULT '',
    message TEXT CHECK (message IS NULL OR json_valid(message)),
    document_before TEXT NOT NULL CHECK (json_valid(document_before)),
    booked_at TEXT NOT NULL,
    FOREIGN KEY (job_id, bike_id) REFERENCES job (id, bike_id)
) STRICT;
CREATE INDEX booking_by_bike ON booking (bike_id, booked_at DESC, id DESC);
CREATE INDEX booking_by_job ON booking (job_id, id DESC);

CREATE TABLE cancellation (
    booking_id INTEGER PRIMARY KEY REFERENCES booking (id),
    cancelled_at TEXT NOT NULL
) STRICT;

CREATE TABLE offcut (
    id INTEGER PRIMARY KEY,
    booking_id INTEGER REFERENCES booking (id),
    links INTEGER NOT NULL CHECK (links BETWEEN 1 AND 400),
    first_end TEXT NOT NULL CHECK (first_end IN ('inner', 'outer')),
    last_end TEXT NOT NULL CHECK (last_end IN ('inner', 'outer')),
    speeds INTEGER NOT NULL CHECK (speeds BETWEEN 1 AND 13),
    origin TEXT NOT NULL,
    laid_in_at TEXT NOT NULL,
    CHECK ((links % 2 = 1) = (first_end = last_end))
) STRICT;
CREATE INDEX offcut_by_chain ON offcut (speeds DESC, links DESC, id);
CREATE INDEX offcut_by_booking ON offcut (booking_id);

CREATE TABLE photo (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL REFERENCES job (id),
    width INTEGER NOT NULL CHECK (width > 0),
    height INTEGER NOT NULL CHECK (height > 0),
    image BLOB NOT NULL,
    added_at TEXT NOT NULL
) STRICT;
CREATE INDEX photo_by_job ON photo (job_id, id);

INSERT INTO bike (id, name, story, document) SELECT id, substr(name, 1, 200), story, document FROM old_bike;

-- A job's history takes the job's number; the shop's the next one after all jobs.
INSERT INTO history (id, kind) SELECT id, 'job' FROM old_job;
INSERT INTO revision (id, history_id, parent_id, content, message, made_at)
SELECT
    id, job_id, parent_id,
    json_object('document', json(document), 'chosen_links', chosen_links, 'observed', json(observed)),
    json_object('code', 'as_written', 'values', json_object('text', note)),
    made_at
FROM old_revision ORDER BY id;
UPDATE history SET revision_id = (SELECT revision_id FROM old_job WHERE old_job.id = history.id);
INSERT INTO job (id, bike_id, history_id, stage, complaint, opened_at, booked_at)
SELECT id, bike_id, id, stage, complaint, opened_at, booked_at FROM old_job;

INSERT INTO history (id, kind)
SELECT coalesce((SELECT max(id) FROM history), 0) + 1, 'shop' WHERE EXISTS (SELECT 1 FROM old_shop);
INSERT INTO revision (id, history_id, parent_id, content, message, made_at)
SELECT
    old_shop.id + (SELECT coalesce(max(id), 0) FROM old_revision),
    (SELECT id FROM history WHERE kind = 'shop'),
    before_id + (SELECT coalesce(max(id), 0) FROM old_revision),
    settings,
    json_object('code', 'as_written', 'values', json_object('text', note)),
    made_at
FROM old_shop ORDER BY old_shop.id;
UPDATE history SET revision_id = (SELECT max(id) FROM revision WHERE history_id = history.id) WHERE kind = 'shop';

INSERT INTO booking (id, job_id, bike_id, links, joiner, speeds, note, document_before, booked_at)
SELECT id, job_id, bike_id, links, joiner, speeds, note, document_before, booked_at FROM old_fitted;
INSERT INTO offcut (id, booking_id, links, first_end, last_end, speeds, origin, laid_in_at)
SELECT
    old_offcut.id, old_fitted.id, old_offcut.links, first_end, last_end, old_offcut.speeds, origin, laid_in_at
FROM old_offcut LEFT JOIN old_fitted ON old_fitted.job_id = old_offcut.job_id;
INSERT INTO photo (id, job_id, width, height, image, added_at)
SELECT id, job_id, width, height, image, added_at FROM old_photo;

DROP TABLE old_offcut;
DROP TABLE old_fitted;
DROP TABLE old_photo;
DROP TABLE old_shop;
DROP TABLE old_revision;
DROP TABLE old_job;
DROP TABLE old_bike;
