-- The bin holds more than off-cuts: boxed chains and pieces laid in by hand or by the scanner, and joiners.
-- A piece is reserved by the job whose document has it among its pieces; joiners come and go as rows, never overwritten.
ALTER TABLE offcut ADD COLUMN kind TEXT NOT NULL DEFAULT 'offcut' CHECK (kind IN ('offcut', 'box'));
ALTER TABLE offcut ADD COLUMN wear_percent REAL NOT NULL DEFAULT 0 CHECK (wear_percent BETWEEN 0 AND 5);
ALTER TABLE offcut ADD COLUMN width TEXT CHECK (width IN ('1/8', '3/32'));
ALTER TABLE offcut ADD COLUMN code TEXT CHECK (length(code) BETWEEN 1 AND 60);
ALTER TABLE offcut ADD COLUMN reserved_by INTEGER REFERENCES job (id);
CREATE UNIQUE INDEX one_piece_a_code ON offcut (code) WHERE code IS NOT NULL AND taken_at IS NULL;
CREATE INDEX offcut_by_job ON offcut (reserved_by) WHERE reserved_by IS NOT NULL;

CREATE TABLE joiner_move (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL CHECK (kind IN ('quick_link', 'locking_link', 'joining_pin', 'clip_link')),
    speeds INTEGER NOT NULL CHECK (speeds BETWEEN 1 AND 13),
    change INTEGER NOT NULL CHECK (change <> 0 AND change BETWEEN -200 AND 200),
    booking_id INTEGER REFERENCES booking (id),
    moved_at TEXT NOT NULL
) STRICT;
CREATE INDEX joiner_move_by_kind ON joiner_move (kind, speeds);
CREATE INDEX joiner_move_by_booking ON joiner_move (booking_id) WHERE booking_id IS NOT NULL;
