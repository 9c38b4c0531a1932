-- +goose Up
-- A coat being made. Rehearsals have a table of their own, so that practice
-- never mixes with what really happened.
CREATE TABLE benches (
    id       INTEGER PRIMARY KEY,
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat     TEXT NOT NULL,
    doc      TEXT NOT NULL CHECK (json_valid(doc)),
    rev      INTEGER NOT NULL DEFAULT 1,
    done     INTEGER NOT NULL DEFAULT 0 CHECK (done IN (0, 1)),
    at       TEXT NOT NULL
) STRICT;
CREATE INDEX benches_piece ON benches (piece_id, at);
CREATE INDEX benches_open ON benches (at) WHERE done = 0;

CREATE TABLE rehearsals (
    id       INTEGER PRIMARY KEY,
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat     TEXT NOT NULL,
    doc      TEXT NOT NULL CHECK (json_valid(doc)),
    rev      INTEGER NOT NULL DEFAULT 1,
    done     INTEGER NOT NULL DEFAULT 0 CHECK (done IN (0, 1)),
    at       TEXT NOT NULL
) STRICT;
CREATE INDEX rehearsals_piece ON rehearsals (piece_id, at);

CREATE TABLE bench_photos (
    id       INTEGER PRIMARY KEY,
    bench_id INTEGER NOT NULL REFERENCES benches (id) ON DELETE CASCADE,
    picture  BLOB NOT NULL,                          -- JPEG
    at       TEXT NOT NULL
) STRICT;

CREATE TABLE room_readings (
    at     TEXT NOT NULL,
    temp   REAL NOT NULL,                            -- °C
    source TEXT NOT NULL CHECK (source IN ('sensor', 'typed'))
) STRICT;
CREATE INDEX room_readings_at ON room_readings (at);

CREATE TABLE techniques (
    id      INTEGER PRIMARY KEY,
    name    TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
    doc     TEXT NOT NULL CHECK (json_valid(doc)),
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1)),
    rev     INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE UNIQUE INDEX techniques_name ON techniques (name COLLATE NOCASE) WHERE retired = 0;

-- +goose Down
DROP TABLE techniques;
DROP TABLE room_readings;
DROP TABLE bench_photos;
DROP TABLE rehearsals;
DROP TABLE benches;
