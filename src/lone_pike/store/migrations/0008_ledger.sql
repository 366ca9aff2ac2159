-- The bin becomes a ledger. A piece of chain has an identity and never changes its links; it moves by rows, and a cut
-- makes children whose links add up to the parent's. The moves are declared in the code, and written here when the file
-- is opened; the triggers hold that a piece leaves from where it is.
CREATE TABLE new_booking (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL,
    bike_id INTEGER NOT NULL,
    links INTEGER NOT NULL CHECK (links BETWEEN 20 AND 600),
    joiner TEXT NOT NULL REFERENCES joiner_kind (name),
    joiners INTEGER NOT NULL DEFAULT 1 CHECK (joiners BETWEEN 1 AND 20),
    speeds INTEGER NOT NULL CHECK (speeds BETWEEN 1 AND 13),
    note TEXT NOT NULL DEFAULT '',
    message TEXT CHECK (message IS NULL OR json_valid(message)),
    document_before TEXT NOT NULL CHECK (json_valid(document_before)),
    booked_at TEXT NOT NULL,
    FOREIGN KEY (job_id, bike_id) REFERENCES job (id, bike_id)
) STRICT;
INSERT INTO new_booking (
    id, job_id, bike_id, links, joiner, speeds, note, message, document_before, booked_at
)
SELECT id, job_id, bike_id, links, joiner, speeds, note, message, document_before, booked_at FROM booking;
DROP TABLE booking;
ALTER TABLE new_booking RENAME TO booking;
CREATE INDEX booking_by_bike ON booking (bike_id, id DESC);
CREATE INDEX booking_by_job ON booking (job_id, id DESC);

CREATE TABLE move_kind (
    name TEXT PRIMARY KEY,
    came_from TEXT NOT NULL,
    goes_to TEXT NOT NULL
) STRICT;
INSERT INTO move_kind (name, came_from, goes_to) VALUES
    ('laid_in', 'nowhere', 'bin'), ('brought', 'nowhere', 'job'), ('reserved', 'bin', 'job'),
    ('fitted', 'job', 'bike'), ('thrown_away', 'bin', 'gone'), ('used_before', 'job', 'gone');

CREATE TABLE piece (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    parent_id INTEGER REFERENCES piece (id),
    start INTEGER NOT NULL DEFAULT 0 CHECK (start >= 0),
    links INTEGER NOT NULL CHECK (links BETWEEN 1 AND 600),
    first_end TEXT NOT NULL CHECK (first_end IN ('inner', 'outer')),
    last_end TEXT NOT NULL CHECK (last_end IN ('inner', 'outer')),
    speeds INTEGER NOT NULL CHECK (speeds BETWEEN 1 AND 13),
    origin TEXT NOT NULL,
    made_at TEXT NOT NULL,
    kind TEXT NOT NULL DEFAULT 'offcut' CHECK (kind IN ('offcut', 'box')),
    wear_percent REAL NOT NULL DEFAULT 0 CHECK (wear_percent BETWEEN 0 AND 5),
    width TEXT CHECK (width IN ('1/8', '3/32')),
    code TEXT CHECK (length(code) BETWEEN 1 AND 60),
    place TEXT NOT NULL DEFAULT 'nowhere' CHECK (place IN ('nowhere', 'bin', 'job', 'bike', 'cut', 'gone')),
    job_id INTEGER REFERENCES job (id),
    bike_id INTEGER REFERENCES bike (id),
    CHECK ((links % 2 = 1) = (first_end = last_end)),
    CHECK ((place = 'job') = (job_id IS NOT NULL)),
    CHECK ((place = 'bike') = (bike_id IS NOT NULL))
) STRICT;
CREATE INDEX piece_in_bin ON piece (speeds DESC, links DESC, id) WHERE place IN ('bin', 'job');
CREATE UNIQUE INDEX piece_by_code ON piece (code) WHERE code IS NOT NULL AND place IN ('bin', 'job');
CREATE INDEX piece_of_job ON piece (job_id) WHERE job_id IS NOT NULL;
CREATE INDEX piece_of_bike ON piece (bike_id) WHERE bike_id IS NOT NULL;
CREATE INDEX piece_of_parent ON piece (parent_id) WHERE parent_id IS NOT NULL;

CREATE TABLE piece_move (
    id INTEGER PRIMARY KEY,
    piece_id INTEGER NOT NULL REFERENCES piece (id),
    move TEXT NOT NULL REFERENCES move_kind (name),
    job_id INTEGER REFERENCES job (id),
    bike_id INTEGER REFERENCES bike (id),
    booking_id INTEGER REFERENCES booking (id),
    moved_at TEXT NOT NULL
) STRICT;
CREATE INDEX move_by_piece ON piece_move (piece_id, id);
CREATE INDEX move_by_booking ON piece_move (booking_id, id) WHERE booking_id IS NOT NULL;

CREATE TRIGGER piece_leaves_from_where_it_is BEFORE INSERT ON piece_move
WHEN (SELECT place FROM piece WHERE id = NEW.piece_id) IS NOT (SELECT came_from FROM move_kind WHERE name = NEW.move)
BEGIN
    SELECT RAISE(ABORT, 'a piece leaves from where it is');
END;
CREATE TRIGGER cut_adds_up BEFORE INSERT ON piece_move
WHEN NEW.move = 'cut'
    AND (SELECT links FROM piece WHERE id = NEW.piece_id)
        IS NOT (SELECT sum(links) FROM piece WHERE parent_id = NEW.piece_id AND place = 'job')
BEGIN
    SELECT RAISE(ABORT, 'the pieces of a cut add up');
END;
CREATE TRIGGER piece_follows_its_moves AFTER INSERT ON piece_move
BEGIN
    UPDATE piece SET
        place = (SELECT goes_to FROM move_kind WHERE name = NEW.move), job_id = NEW.job_id, bike_id = NEW.bike_id
    WHERE id = NEW.piece_id;
END;
CREATE TRIGGER a_move_stays BEFORE UPDATE ON piece_move
BEGIN
    SELECT RAISE(ABORT, 'a move is never changed');
END;
CREATE TRIGGER a_move_is_kept BEFORE DELETE ON piece_move
BEGIN
    SELECT RAISE(ABORT, 'a move is never deleted');
END;
CREATE TRIGGER a_piece_is_kept BEFORE DELETE ON piece
BEGIN
    SELECT RAISE(ABORT, 'a piece is never deleted');
END;
CREATE TRIGGER a_piece_stays_as_it_is BEFORE UPDATE OF links, first_end, last_end, parent_id, start, speeds ON piece
BEGIN
    SELECT RAISE(ABORT, 'a piece is never changed');
END;
CREATE TRIGGER a_cut_leaves_the_ends_as_they_were BEFORE INSERT ON piece
WHEN NEW.parent_id IS NOT NULL AND NOT EXISTS (
    SELECT 1 FROM piece AS parent WHERE parent.id = NEW.parent_id AND NEW.start + NEW.links <= parent.links
        AND parent.speeds = NEW.speeds AND (NEW.first_end = parent.first_end) = (NEW.start % 2 = 0)
)
BEGIN
    SELECT RAISE(ABORT, 'a cut leaves the ends as they were');
END;

-- Where the loops and off-cuts of a booking that was taken back are now: not made, or off the bike.
ALTER TABLE cancellation ADD COLUMN way TEXT NOT NULL DEFAULT 'by_mistake' CHECK (way IN ('by_mistake', 'came_off'));

-- The bin as it was: what lies there or is reserved, what was taken by hand, what bookings have used up. Off-cuts of
-- bookings that were taken back were never cut. The pieces keep their numbers, for documents name them.
INSERT INTO piece (
    id, links, first_end, last_end, speeds, origin, made_at, kind, wear_percent, width, code
)
SELECT
    id, links, first_end, last_end, speeds, origin, laid_in_at, kind, wear_percent, width,
    CASE WHEN taken_at IS NULL THEN code END
FROM offcut
WHERE NOT EXISTS (SELECT 1 FROM cancellation WHERE cancellation.booking_id = offcut.booking_id);
INSERT INTO piece_move (piece_id, move, booking_id, moved_at)
SELECT piece.id, 'laid_in', offcut.booking_id, laid_in_at FROM piece JOIN offcut ON offcut.id = piece.id;
INSERT INTO piece_move (piece_id, move, job_id, moved_at)
SELECT piece.id, 'reserved', reserved_by, coalesce(taken_at, laid_in_at)
FROM piece JOIN offcut ON offcut.id = piece.id JOIN job ON job.id = reserved_by
WHERE (taken_at IS NULL AND job.booked_at IS NULL AND job.closed_at IS NULL)
    OR (taken_at IS NOT NULL AND job.booked_at IS NOT NULL);
INSERT INTO piece_move (piece_id, move, moved_at)
SELECT piece.id, 'used_before', taken_at FROM piece JOIN offcut ON offcut.id = piece.id
WHERE taken_at IS NOT NULL AND piece.place = 'job';
INSERT INTO piece_move (piece_id, move, moved_at)
SELECT piece.id, 'thrown_away', taken_at FROM piece JOIN offcut ON offcut.id = piece.id
WHERE taken_at IS NOT NULL AND piece.place = 'bin';

-- The chain that is on each bike, as one piece: its count without its joiner.
INSERT INTO piece (links, first_end, last_end, speeds, origin, made_at)
SELECT
    links - links % 2 - (joiner IN ('quick_link', 'locking_link', 'clip_link')), 'inner',
    CASE WHEN joiner IN ('quick_link', 'locking_link', 'clip_link') THEN 'inner' ELSE 'outer' END,
    speeds, 'booking ' || id, booked_at
FROM booking
WHERE id IN (
    SELECT max(id) FROM booking WHERE NOT EXISTS (SELECT 1 FROM cancellation WHERE booking_id = booking.id)
    GROUP BY bike_id
);
INSERT INTO piece_move (piece_id, move, job_id, moved_at)
SELECT piece.id, 'brought', booking.job_id, booking.booked_at
FROM piece JOIN booking ON piece.origin = 'booking ' || booking.id WHERE piece.place = 'nowhere';
INSERT INTO piece_move (piece_id, move, bike_id, moved_at)
SELECT piece.id, 'fitted', booking.bike_id, booking.booked_at
FROM piece JOIN booking ON piece.origin = 'booking ' || booking.id AND booking.job_id = piece.job_id
WHERE piece.place = 'job';
UPDATE piece SET origin = (SELECT substr(name, 1, 200) FROM bike WHERE bike.id = piece.bike_id) WHERE place = 'bike';

-- A bike that was booked has its chain on it: box and pieces are no longer at hand.
UPDATE bike SET document = json_remove(
    document, '$.chain.box_links', '$.chain.box_includes_joiner', '$.chain.box_ends', '$.chain.pieces'
)
WHERE EXISTS (SELECT 1 FROM piece WHERE piece.bike_id = bike.id) AND json_type(document, '$.chain') = 'object';

-- An open job that names pieces which are not its own, or a piece twice, goes on without them.
INSERT INTO revision (history_id, parent_id, content, message, made_at)
SELECT
    history.id, revision.id,
    json_set(revision.content, '$.document.chain.pieces', (
        SELECT json_group_array(json(one.value)) FROM json_each(revision.content, '$.document.chain.pieces') AS one
        WHERE one.type = 'object' AND (json_extract(one.value, '$.bin_id') IS NULL OR EXISTS (
            SELECT 1 FROM piece WHERE piece.id = json_extract(one.value, '$.bin_id') AND piece.job_id = job.id
                AND piece.links = json_extract(one.value, '$.links')
                AND piece.first_end = json_extract(one.value, '$.first_end')
        )) AND NOT EXISTS (
            SELECT 1 FROM json_each(revision.content, '$.document.chain.pieces') AS before
            WHERE before.key < one.key AND before.type = 'object'
                AND json_extract(before.value, '$.bin_id') = json_extract(one.value, '$.bin_id')
        )
    )),
    '{"code": "pieces_elsewhere", "values": {}}', revision.made_at
FROM job JOIN history ON history.id = job.history_id JOIN revision ON revision.id = history.revision_id
WHERE job.booked_at IS NULL AND job.closed_at IS NULL
    AND EXISTS (
        SELECT 1 FROM json_each(revision.content, '$.document.chain.pieces') AS one
        WHERE one.type = 'object' AND json_extract(one.value, '$.bin_id') IS NOT NULL
    );
UPDATE revision SET content = json_remove(content, '$.document.chain.pieces')
WHERE json_extract(message, '$.code') = 'pieces_elsewhere'
    AND json_array_length(content, '$.document.chain.pieces') = 0;
UPDATE history SET revision_id = (SELECT max(id) FROM revision WHERE revision.history_id = history.id)
WHERE id IN (SELECT history_id FROM revision WHERE json_extract(message, '$.code') = 'pieces_elsewhere');

DROP TABLE offcut;
