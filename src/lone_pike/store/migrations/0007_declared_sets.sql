-- Joiners and stages are declared in the code, once; the data file holds their names as rows, written when it is opened.
-- So a new joiner or stage needs no migration, and a name that is none is still refused.
CREATE TABLE joiner_kind (
    name TEXT PRIMARY KEY
) STRICT;
CREATE TABLE stage (
    name TEXT PRIMARY KEY
) STRICT;
INSERT INTO joiner_kind (name) VALUES ('quick_link'), ('locking_link'), ('joining_pin'), ('rivet'), ('clip_link');
INSERT INTO stage (name) VALUES ('receive'), ('measure'), ('size'), ('cut'), ('join'), ('prove'), ('book');

ALTER TABLE job RENAME TO old_job;
ALTER TABLE booking RENAME TO old_booking;
ALTER TABLE joiner_move RENAME TO old_joiner_move;
DROP INDEX one_open_job_a_bike;
DROP INDEX job_in_hand;
DROP INDEX job_by_bike;
DROP INDEX booking_by_bike;
DROP INDEX booking_by_job;
DROP INDEX joiner_move_by_kind;
DROP INDEX joiner_move_by_booking;

CREATE TABLE job (
    id INTEGER PRIMARY KEY,
    bike_id INTEGER NOT NULL REFERENCES bike (id),
    history_id INTEGER NOT NULL UNIQUE REFERENCES history (id),
    stage TEXT NOT NULL DEFAULT 'measure' REFERENCES stage (name),
    complaint TEXT NOT NULL DEFAULT '',
    opened_at TEXT NOT NULL,
    booked_at TEXT,
    closed_at TEXT,
    UNIQUE (id, bike_id),
    CHECK (booked_at IS NULL OR closed_at IS NULL)
) STRICT;
INSERT INTO job (id, bike_id, history_id, stage, complaint, opened_at, booked_at, closed_at)
SELECT
    id, bike_id, history_id, stage, complaint, opened_at, booked_at,
    CASE WHEN booked_at IS NULL THEN closed_at END
FROM old_job;
CREATE UNIQUE INDEX one_open_job_a_bike ON job (bike_id) WHERE booked_at IS NULL AND closed_at IS NULL;
CREATE INDEX job_in_hand ON job (id DESC) WHERE booked_at IS NULL AND closed_at IS NULL;
CREATE INDEX job_by_bike ON job (bike_id, id);

CREATE TABLE booking (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL,
    bike_id INTEGER NOT NULL,
    links INTEGER NOT NULL CHECK (links BETWEEN 20 AND 400),
    joiner TEXT NOT NULL REFERENCES joiner_kind (name),
    speeds INTEGER NOT NULL CHECK (speeds BETWEEN 1 AND 13),
    note TEXT NOT NULL DEFAULT '',
    message TEXT CHECK (message IS NULL OR json_valid(message)),
    document_before TEXT NOT NULL CHECK (json_valid(document_before)),
    booked_at TEXT NOT NULL,
    FOREIGN KEY (job_id, bike_id) REFERENCES job (id, bike_id)
) STRICT;
INSERT INTO booking SELECT * FROM old_booking;
CREATE INDEX booking_by_bike ON booking (bike_id, booked_at DESC, id DESC);
CREATE INDEX booking_by_job ON booking (job_id, id DESC);

CREATE TABLE joiner_move (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL REFERENCES joiner_kind (name),
    speeds INTEGER NOT NULL CHECK (speeds BETWEEN 1 AND 13),
    change INTEGER NOT NULL CHECK (change <> 0 AND change BETWEEN -200 AND 200),
    booking_id INTEGER REFERENCES booking (id),
    moved_at TEXT NOT NULL
) STRICT;
INSERT INTO joiner_move SELECT * FROM old_joiner_move;
CREATE INDEX joiner_move_by_kind ON joiner_move (kind, speeds);
CREATE INDEX joiner_move_by_booking ON joiner_move (booking_id) WHERE booking_id IS NOT NULL;

CREATE TABLE new_cancellation (
    booking_id INTEGER PRIMARY KEY REFERENCES booking (id),
    cancelled_at TEXT NOT NULL
) STRICT;
INSERT INTO new_cancellation SELECT * FROM cancellation;
DROP TABLE cancellation;
ALTER TABLE new_cancellation RENAME TO cancellation;

CREATE TABLE new_offcut (
    id INTEGER PRIMARY KEY,
    booking_id INTEGER REFERENCES booking (id),
    links INTEGER NOT NULL CHECK (links BETWEEN 1 AND 400),
    first_end TEXT NOT NULL CHECK (first_end IN ('inner', 'outer')),
    last_end TEXT NOT NULL CHECK (last_end IN ('inner', 'outer')),
    speeds INTEGER NOT NULL CHECK (speeds BETWEEN 1 AND 13),
    origin TEXT NOT NULL,
    laid_in_at TEXT NOT NULL,
    taken_at TEXT,
    kind TEXT NOT NULL DEFAULT 'offcut' CHECK (kind IN ('offcut', 'box')),
    wear_percent REAL NOT NULL DEFAULT 0 CHECK (wear_percent BETWEEN 0 AND 5),
    width TEXT CHECK (width IN ('1/8', '3/32')),
    code TEXT CHECK (length(code) BETWEEN 1 AND 60),
    reserved_by INTEGER REFERENCES job (id),
    CHECK ((links % 2 = 1) = (first_end = last_end))
) STRICT;
INSERT INTO new_offcut
SELECT
    id, booking_id, links, first_end, last_end, speeds, origin, laid_in_at, taken_at, kind, wear_percent, width, code,
    reserved_by
FROM offcut;
DROP TABLE offcut;
ALTER TABLE new_offcut RENAME TO offcut;
CREATE INDEX offcut_by_chain ON offcut (speeds DESC, links DESC, id);
CREATE INDEX offcut_by_booking ON offcut (booking_id);
CREATE UNIQUE INDEX one_piece_a_code ON offcut (code) WHERE code IS NOT NULL AND taken_at IS NULL;
CREATE INDEX offcut_by_job ON offcut (reserved_by) WHERE reserved_by IS NOT NULL;

CREATE TABLE new_photo (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL REFERENCES job (id),
    width INTEGER NOT NULL CHECK (width > 0),
    height INTEGER NOT NULL CHECK (height > 0),
    image BLOB NOT NULL,
    added_at TEXT NOT NULL
) STRICT;
INSERT INTO new_photo SELECT * FROM photo;
DROP TABLE photo;
ALTER TABLE new_photo RENAME TO photo;
CREATE INDEX photo_by_job ON photo (job_id, id);

DROP TABLE old_joiner_move;
DROP TABLE old_booking;
DROP TABLE old_job;
