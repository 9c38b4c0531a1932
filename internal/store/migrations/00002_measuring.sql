-- +goose Up
-- What a coat was reckoned at and what it took; the studio's own ratio of
-- used to planned comes from here.
CREATE TABLE coat_uses (
    id        INTEGER PRIMARY KEY,
    piece_id  INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat      TEXT NOT NULL,
    technique TEXT NOT NULL,
    planned   REAL NOT NULL CHECK (planned > 0),   -- mL, before learning
    used      REAL NOT NULL CHECK (used > 0),      -- mL
    at        TEXT NOT NULL,
    UNIQUE (piece_id, coat)
) STRICT;
CREATE INDEX coat_uses_technique ON coat_uses (technique, at);

CREATE TABLE learning_resets (
    technique TEXT PRIMARY KEY,
    at        TEXT NOT NULL
) STRICT;

CREATE TABLE weighings (
    id       INTEGER PRIMARY KEY,
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat     TEXT NOT NULL,
    doc      TEXT NOT NULL CHECK (json_valid(doc)),
    rev      INTEGER NOT NULL DEFAULT 1,
    done     INTEGER NOT NULL DEFAULT 0 CHECK (done IN (0, 1)),
    at       TEXT NOT NULL
) STRICT;
CREATE INDEX weighings_piece ON weighings (piece_id, at);

CREATE TABLE level_readings (
    id       INTEGER PRIMARY KEY,
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    along    REAL NOT NULL,                         -- degrees, east high
    across   REAL NOT NULL,                         -- degrees, north high
    at       TEXT NOT NULL
) STRICT;
CREATE INDEX level_readings_piece ON level_readings (piece_id, at);

-- +goose Down
DROP TABLE level_readings;
DROP TABLE weighings;
DROP TABLE learning_resets;
DROP TABLE coat_uses;
