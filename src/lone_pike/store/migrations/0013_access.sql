-- Who may come in from the network: a passcode for each role, the sessions that were begun with it, and tokens for other
-- programs and for devices. Of a passcode, a session and a token only a digest is kept.
CREATE TABLE passcode (
    role TEXT PRIMARY KEY CHECK (role IN ('bench', 'counter')),
    digest TEXT NOT NULL CHECK (length(digest) BETWEEN 20 AND 300),
    changed_at TEXT NOT NULL
) STRICT;

CREATE TABLE session (
    digest TEXT PRIMARY KEY CHECK (length(digest) = 64),
    role TEXT NOT NULL CHECK (role IN ('bench', 'counter')),
    name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
    begun_at TEXT NOT NULL
) STRICT;

CREATE TABLE token (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
    kind TEXT NOT NULL CHECK (kind IN ('program', 'device')),
    digest TEXT NOT NULL UNIQUE CHECK (length(digest) = 64),
    made_at TEXT NOT NULL,
    ended_at TEXT
) STRICT;

-- What cookies are signed with.
CREATE TABLE signing_key (id INTEGER PRIMARY KEY CHECK (id = 1), secret TEXT NOT NULL CHECK (length(secret) = 64)) STRICT;
INSERT INTO signing_key VALUES (1, lower(hex(randomblob(32))));
