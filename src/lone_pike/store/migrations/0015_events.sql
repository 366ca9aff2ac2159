-- What happens to chains is an event with a kind. The revisions, joiners and pieces that belong to it name it, so that
-- it is taken back as a whole; no sentence is read for that. Where a piece comes from is a kind too, and a name.
CREATE TABLE event_kind (
    name TEXT PRIMARY KEY
) STRICT;
INSERT INTO event_kind (name) VALUES
    ('gauged'), ('reading_out'), ('distance'), ('rides'), ('described'), ('put_on'), ('taken_off'), ('ended'),
    ('booked'), ('booking_undone'), ('taken_apart'), ('job_closed');

CREATE TABLE chain_event (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL REFERENCES event_kind (name),
    made_at TEXT NOT NULL,
    undone_at TEXT
) STRICT;

ALTER TABLE revision ADD COLUMN event_id INTEGER REFERENCES chain_event (id);
ALTER TABLE joiner_move ADD COLUMN event_id INTEGER REFERENCES chain_event (id);
ALTER TABLE piece_move ADD COLUMN event_id INTEGER REFERENCES chain_event (id);
CREATE INDEX revision_by_event ON revision (event_id) WHERE event_id IS NOT NULL;
CREATE INDEX joiner_move_by_event ON joiner_move (event_id) WHERE event_id IS NOT NULL;

-- The changes of chains up to now: each is an event by itself, with its number.
INSERT INTO chain_event (id, kind, made_at)
SELECT revision.id,
    CASE json_extract(message, '$.code')
        WHEN 'chain_gauged' THEN 'gauged'
        WHEN 'chain_reading_out' THEN 'reading_out'
        WHEN 'chain_rides' THEN 'rides'
        WHEN 'chain_told' THEN 'described'
        WHEN 'chain_put_on' THEN 'put_on'
        WHEN 'chain_taken_off' THEN 'taken_off'
        WHEN 'chain_off_for' THEN 'taken_off'
        WHEN 'chain_ended_as' THEN 'ended'
        WHEN 'chain_replaced' THEN 'booked'
        WHEN 'chain_back' THEN 'booking_undone'
        WHEN 'chain_gauged_at_job' THEN 'job_closed'
        ELSE 'distance'
    END,
    made_at
FROM revision JOIN history ON history.id = revision.history_id
WHERE history.kind = 'chain' AND parent_id IS NOT NULL;
UPDATE revision SET event_id = id WHERE id IN (SELECT id FROM chain_event);

-- A chain that came off for another one belongs to that one's event, and so do the joiners that were used for it.
CREATE TABLE put_on AS
SELECT revision.id AS event_id, revision.made_at, chain.joiner, chain.speeds,
    json_extract(message, '$.values.off.number') AS off_id, json_extract(message, '$.values.joiners.number') AS joiners
FROM revision JOIN chain_event ON chain_event.id = revision.id JOIN chain ON chain.history_id = revision.history_id
WHERE chain_event.kind = 'put_on';
UPDATE revision SET event_id = put_on.event_id
FROM put_on JOIN chain ON chain.id = put_on.off_id
WHERE revision.history_id = chain.history_id AND revision.made_at = put_on.made_at
    AND json_extract(revision.message, '$.code') = 'chain_off_for';
UPDATE joiner_move SET event_id = put_on.event_id
FROM put_on
WHERE joiner_move.moved_at = put_on.made_at AND joiner_move.kind = put_on.joiner
    AND joiner_move.speeds = put_on.speeds AND joiner_move.change = -put_on.joiners AND joiner_move.booking_id IS NULL;
DELETE FROM chain_event WHERE NOT EXISTS (SELECT 1 FROM revision WHERE event_id = chain_event.id);
DROP TABLE put_on;

-- A change of a chain makes the days out of date on which it is due.
CREATE TRIGGER changed_chain_is_unsorted AFTER UPDATE OF revision_id ON history WHEN NEW.kind = 'chain'
BEGIN
    UPDATE chain SET stands_by = '' WHERE history_id = NEW.id;
END;

ALTER TABLE piece ADD COLUMN source TEXT NOT NULL DEFAULT 'bike' CHECK (source IN ('hand', 'scan', 'program', 'bike'));
UPDATE piece SET
    source = CASE origin WHEN 'by hand' THEN 'hand' WHEN 'scanned' THEN 'scan' WHEN 'by a program' THEN 'program' END,
    origin = ''
WHERE origin IN ('by hand', 'scanned', 'by a program');
