-- Made by the third schema's own code: a bike, a booked job, an open one with two edits and an undo, settings.
BEGIN TRANSACTION;
CREATE TABLE bike (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    story TEXT NOT NULL DEFAULT '',
    document TEXT NOT NULL CHECK (json_valid(document))
) STRICT;
INSERT INTO "bike" VALUES(1,'Otter','Wide-range hardtail. The cassette grew, so the old count is no guide.','{"lone_pike": 1, "name": "Otter", "rings": [30], "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46], "chainstay_mm": 432, "take_up": {"type": "derailleur", "cage_mm": 92, "guide_teeth": 11, "tension_teeth": 11, "b_gap_mm": 6, "lean_deg": 12, "max_cog": 46, "capacity": 35}, "chain": {"speeds": 11, "box_links": 118, "box_includes_joiner": true, "joiner": "locking_link"}, "old_chain": {"links": 110, "was_right": true, "changed": ["cogs"], "biggest_cog": 42}}');
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
INSERT INTO "fitted" VALUES(1,1,1,110,'locking_link',11,'','{"lone_pike": 1, "name": "Otter", "rings": [30], "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46], "chainstay_mm": 432, "take_up": {"type": "derailleur", "cage_mm": 92, "guide_teeth": 11, "tension_teeth": 11, "b_gap_mm": 6, "lean_deg": 12, "max_cog": 46, "capacity": 35}, "chain": {"speeds": 11, "box_links": 118, "box_includes_joiner": true, "joiner": "locking_link"}, "old_chain": {"links": 110, "was_right": true, "changed": ["cogs"], "biggest_cog": 42}}','2026-01-01T00:00:00+00:00');
CREATE TABLE job (
    id INTEGER PRIMARY KEY,
    bike_id INTEGER NOT NULL REFERENCES bike (id),
    revision_id INTEGER REFERENCES revision (id),
    stage TEXT NOT NULL DEFAULT 'measure',
    complaint TEXT NOT NULL DEFAULT '',
    opened_at TEXT NOT NULL,
    booked_at TEXT
) STRICT;
INSERT INTO "job" VALUES(1,1,1,'measure','','2026-01-01T00:00:00+00:00','2026-01-01T00:00:00+00:00');
INSERT INTO "job" VALUES(4,1,5,'size','','2026-01-01T00:00:00+00:00',NULL);
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
INSERT INTO "offcut" VALUES(1,1,8,'outer','inner',11,'Otter','2026-01-01T00:00:00+00:00');
CREATE TABLE photo (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL REFERENCES job (id),
    width INTEGER NOT NULL,
    height INTEGER NOT NULL,
    image BLOB NOT NULL,
    added_at TEXT NOT NULL
) STRICT;
CREATE TABLE revision (
    id INTEGER PRIMARY KEY,
    job_id INTEGER NOT NULL REFERENCES job (id),
    parent_id INTEGER REFERENCES revision (id),
    document TEXT NOT NULL CHECK (json_valid(document)),
    chosen_links INTEGER,
    note TEXT NOT NULL,
    made_at TEXT NOT NULL
, observed TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(observed))) STRICT;
INSERT INTO "revision" VALUES(1,1,NULL,'{"lone_pike": 1, "name": "Otter", "rings": [30], "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46], "chainstay_mm": 432, "take_up": {"type": "derailleur", "cage_mm": 92, "guide_teeth": 11, "tension_teeth": 11, "b_gap_mm": 6, "lean_deg": 12, "max_cog": 46, "capacity": 35}, "chain": {"speeds": 11, "box_links": 118, "box_includes_joiner": true, "joiner": "locking_link"}, "old_chain": {"links": 110, "was_right": true, "changed": ["cogs"], "biggest_cog": 42}}',NULL,'','2026-01-01T00:00:00+00:00','{}');
INSERT INTO "revision" VALUES(4,4,NULL,'{"lone_pike": 1, "name": "Otter", "rings": [30], "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46], "chainstay_mm": 432, "take_up": {"type": "derailleur", "cage_mm": 92, "guide_teeth": 11, "tension_teeth": 11, "b_gap_mm": 6, "lean_deg": 12, "max_cog": 46, "capacity": 35}, "chain": {"speeds": 11, "box_links": 118, "box_includes_joiner": true, "joiner": "locking_link"}, "old_chain": {"links": 110, "was_right": true, "changed": ["cogs"], "biggest_cog": 42}}',NULL,'','2026-01-01T00:00:00+00:00','{}');
INSERT INTO "revision" VALUES(5,4,4,'{"lone_pike": 1, "name": "Route 66 links", "rings": [30], "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46], "chainstay_mm": 433, "take_up": {"type": "derailleur", "cage_mm": 92, "guide_teeth": 11, "tension_teeth": 11, "b_gap_mm": 6, "lean_deg": 12, "max_cog": 46, "capacity": 35}, "chain": {"speeds": 11, "box_links": 118, "box_includes_joiner": true, "joiner": "locking_link"}, "old_chain": {"links": 110, "was_right": true, "changed": ["cogs"], "biggest_cog": 42}}',NULL,'Name Otter → Route 66 links, Chainstay 432 → 433 mm','2026-01-01T00:00:00+00:00','{}');
INSERT INTO "revision" VALUES(6,4,5,'{"lone_pike": 1, "name": "Route 66 links", "rings": [30], "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46], "chainstay_mm": 434, "take_up": {"type": "derailleur", "cage_mm": 92, "guide_teeth": 11, "tension_teeth": 11, "b_gap_mm": 6, "lean_deg": 12, "max_cog": 46, "capacity": 35}, "chain": {"speeds": 11, "box_links": 118, "box_includes_joiner": true, "joiner": "locking_link"}, "old_chain": {"links": 110, "was_right": true, "changed": ["cogs"], "biggest_cog": 42}}',NULL,'Chainstay 433 → 434 mm','2026-01-01T00:00:00+00:00','{}');
CREATE TABLE shop (
    id INTEGER PRIMARY KEY,
    before_id INTEGER REFERENCES shop (id),
    settings TEXT NOT NULL CHECK (json_valid(settings)),
    note TEXT NOT NULL,
    made_at TEXT NOT NULL
) STRICT;
INSERT INTO "shop" VALUES(1,NULL,'{}','','2026-01-01T00:00:00+00:00');
INSERT INTO "shop" VALUES(2,1,'{"unit": "in"}','Lengths: mm → inches','2026-01-01T00:00:00+00:00');
INSERT INTO "shop" VALUES(3,2,'{"unit": "mm"}','Lengths: inches → mm','2026-01-01T00:00:00+00:00');
INSERT INTO "shop" VALUES(4,1,'{"unit": "in"}','Lengths: mm → inches','2026-01-01T00:00:00+00:00');
CREATE INDEX revision_by_job ON revision (job_id);
CREATE UNIQUE INDEX one_open_job_a_bike ON job (bike_id) WHERE booked_at IS NULL;
CREATE INDEX photo_by_job ON photo (job_id);
COMMIT;
PRAGMA user_version = 3;
