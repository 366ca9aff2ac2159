-- A chain is a thing of its own, with a history as a job has one. What a list of chains is sorted by stands beside it.
-- The ledger has one place more: a chain that is off its bike hangs on a hook, whole, until it goes on again.
DROP TRIGGER piece_leaves_from_where_it_is;
DROP TRIGGER cut_adds_up;
DROP TRIGGER piece_follows_its_moves;
DROP TRIGGER a_piece_is_kept;
DROP TRIGGER a_piece_stays_as_it_is;
DROP TRIGGER a_cut_leaves_the_ends_as_they_were;

CREATE TABLE new_history (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL CHECK (kind IN ('job', 'shop', 'chain')),
    revision_id INTEGER,
    FOREIGN KEY (id, revision_id) REFERENCES revision (history_id, id)
) STRICT;
INSERT INTO new_history SELECT id, kind, revision_id FROM history;
DROP TABLE history;
ALTER TABLE new_history RENAME TO history;
CREATE UNIQUE INDEX one_shop ON history (kind) WHERE kind = 'shop';

CREATE TABLE chain (
    id INTEGER PRIMARY KEY,
    history_id INTEGER NOT NULL UNIQUE REFERENCES history (id),
    booking_id INTEGER UNIQUE REFERENCES booking (id),
    state TEXT NOT NULL CHECK (state IN ('on', 'hung', 'ended', 'undone')),
    bike_id INTEGER REFERENCES bike (id),
    name TEXT NOT NULL CHECK (length(name) <= 80),
    speeds INTEGER NOT NULL CHECK (speeds BETWEEN 1 AND 13),
    riding TEXT NOT NULL,
    links INTEGER NOT NULL CHECK (links BETWEEN 20 AND 600),
    loose_links INTEGER NOT NULL CHECK (loose_links > 0),
    joiner TEXT NOT NULL REFERENCES joiner_kind (name),
    joiners INTEGER NOT NULL CHECK (joiners BETWEEN 1 AND 20),
    readings INTEGER NOT NULL DEFAULT 0,
    rate_log REAL NOT NULL DEFAULT 0,
    rate_variance REAL NOT NULL DEFAULT 0,
    soon_on TEXT,
    early_on TEXT,
    due_on TEXT,
    late_on TEXT,
    stands_by TEXT NOT NULL DEFAULT '',
    told_at TEXT,
    CHECK ((state = 'on') = (bike_id IS NOT NULL))
) STRICT;
CREATE UNIQUE INDEX one_chain_a_bike ON chain (bike_id) WHERE bike_id IS NOT NULL;
CREATE INDEX chain_by_due ON chain (coalesce(due_on, '9999'), id) WHERE state = 'on';
CREATE INDEX chain_alike ON chain (speeds, riding, stands_by) WHERE state IN ('on', 'hung');
CREATE INDEX chain_rates ON chain (speeds, riding, rate_log, rate_variance) WHERE readings > 0 AND state <> 'undone';

CREATE TABLE chain_bike (
    bike_id INTEGER NOT NULL REFERENCES bike (id),
    chain_id INTEGER NOT NULL REFERENCES chain (id),
    PRIMARY KEY (bike_id, chain_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE new_piece (
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
    place TEXT NOT NULL DEFAULT 'nowhere' CHECK (place IN ('nowhere', 'bin', 'job', 'bike', 'hook', 'cut', 'gone')),
    job_id INTEGER REFERENCES job (id),
    bike_id INTEGER REFERENCES bike (id),
    chain_id INTEGER REFERENCES chain (id),
    CHECK ((links % 2 = 1) = (first_end = last_end)),
    CHECK ((place = 'job') = (job_id IS NOT NULL)),
    CHECK ((place = 'bike') = (bike_id IS NOT NULL)),
    CHECK (place <> 'hook' OR chain_id IS NOT NULL)
) STRICT;
INSERT INTO new_piece (
    id, parent_id, start, links, first_end, last_end, speeds, origin, made_at, kind, wear_percent, width, code, place,
    job_id, bike_id
)
SELECT id, parent_id, start, links, first_end, last_end, speeds, origin, made_at, kind, wear_percent, width, code,
    place, job_id, bike_id
FROM piece;
DROP TABLE piece;
ALTER TABLE new_piece RENAME TO piece;
CREATE INDEX piece_in_bin ON piece (speeds DESC, links DESC, id) WHERE place IN ('bin', 'job');
CREATE UNIQUE INDEX piece_by_code ON piece (code) WHERE code IS NOT NULL AND place IN ('bin', 'job');
CREATE INDEX piece_of_job ON piece (job_id) WHERE job_id IS NOT NULL;
CREATE INDEX piece_of_bike ON piece (bike_id) WHERE bike_id IS NOT NULL;
CREATE INDEX piece_of_parent ON piece (parent_id) WHERE parent_id IS NOT NULL;
CREATE INDEX piece_of_chain ON piece (chain_id) WHERE chain_id IS NOT NULL;

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

-- The chains that were fitted before: each from its booking, ended where another was fitted since or it came off.
CREATE TABLE fitted_before AS
SELECT booking.id, booking.bike_id, links, joiner, joiners, speeds, date(booked_at) AS since,
    date(coalesce(cancelled_at, lead(booked_at) OVER one_bike)) AS until,
    substr(bike.name, 1, 70) || ' ' || row_number() OVER one_bike AS name,
    (SELECT coalesce(max(id), 0) FROM history) + row_number() OVER (ORDER BY booking.id) AS history_id,
    (SELECT coalesce(max(id), 0) FROM revision) + row_number() OVER (ORDER BY booking.id) AS revision_id,
    booked_at
FROM booking JOIN bike ON bike.id = booking.bike_id LEFT JOIN cancellation ON booking_id = booking.id
WHERE way IS NOT 'by_mistake'
WINDOW one_bike AS (PARTITION BY booking.bike_id ORDER BY booking.id);

INSERT INTO history (id, kind) SELECT history_id, 'chain' FROM fitted_before;
INSERT INTO revision (id, history_id, parent_id, content, message, made_at)
SELECT revision_id, history_id, NULL,
    json_patch(
        json_object(
            'name', name, 'speeds', speeds, 'links', links, 'joiner', joiner, 'joiners', joiners,
            'stays', json_array(json_patch(
                json_object('bike_id', bike_id, 'since', since), json_object('until', until)
            ))
        ),
        json_object('ending', CASE WHEN until IS NOT NULL THEN 'worn' END, 'ended', until)
    ),
    json_object('code', 'started', 'values', json_object()), booked_at
FROM fitted_before;
UPDATE history SET revision_id = (SELECT max(id) FROM revision WHERE history_id = history.id) WHERE kind = 'chain';
INSERT INTO chain (id, history_id, booking_id, state, bike_id, name, speeds, riding, links, loose_links, joiner,
    joiners)
SELECT id, history_id, id, CASE WHEN until IS NULL THEN 'on' ELSE 'ended' END, CASE WHEN until IS NULL THEN bike_id END,
    name, speeds, 'dry', links, max(
        links - links % 2 - joiners * (joiner IN ('quick_link', 'locking_link', 'clip_link')), 1
    ), joiner, joiners
FROM fitted_before;
INSERT INTO chain_bike SELECT bike_id, id FROM fitted_before;
UPDATE piece SET chain_id = (SELECT id FROM chain WHERE chain.bike_id = piece.bike_id) WHERE place = 'bike';
DROP TABLE fitted_before;
