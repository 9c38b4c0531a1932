-- +goose Up
-- One table for all things that are a named document with a revision.
CREATE TABLE documents (
    kind   TEXT NOT NULL CHECK (kind IN ('resin', 'pigment', 'technique', 'commission', 'palette')),
    id     INTEGER NOT NULL,
    name   TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
    doc    TEXT NOT NULL CHECK (json_valid(doc)),
    rev    INTEGER NOT NULL DEFAULT 1,
    at     TEXT NOT NULL DEFAULT '',
    off_at TEXT,                                     -- retired, or taken off the list
    PRIMARY KEY (kind, id)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX documents_name ON documents (kind, name COLLATE NOCASE)
    WHERE off_at IS NULL AND kind IN ('resin', 'pigment', 'technique');

INSERT INTO documents (kind, id, name, doc, rev, off_at)
    SELECT 'resin', id, name, doc, rev, CASE retired WHEN 1 THEN '' END FROM products;
INSERT INTO documents (kind, id, name, doc, rev, off_at)
    SELECT 'pigment', id, name, doc, rev, CASE retired WHEN 1 THEN '' END FROM pigments;
INSERT INTO documents (kind, id, name, doc, rev, off_at)
    SELECT 'technique', id, name, doc, rev, CASE retired WHEN 1 THEN '' END FROM techniques;
INSERT INTO documents (kind, id, name, doc, rev, at, off_at)
    SELECT 'commission', id, name, doc, rev, at, deleted_at FROM commissions;
INSERT INTO documents (kind, id, name, doc, rev, at, off_at)
    SELECT 'palette', id, name, doc, rev, at, deleted_at FROM palettes;

-- Pictures of all of them and of bench days.
CREATE TABLE pictures (
    kind    TEXT NOT NULL,
    id      INTEGER NOT NULL,
    owner   INTEGER NOT NULL,
    picture BLOB NOT NULL,
    at      TEXT NOT NULL,
    PRIMARY KEY (kind, id)
) STRICT;
CREATE INDEX pictures_owner ON pictures (kind, owner);
INSERT INTO pictures (kind, id, owner, picture, at) SELECT 'commission', id, commission_id, picture, at FROM commission_pictures;
INSERT INTO pictures (kind, id, owner, picture, at) SELECT 'bench', id, bench_id, picture, at FROM bench_photos;
INSERT INTO pictures (kind, id, owner, picture, at) SELECT 'palette', id, id, picture, at FROM palettes WHERE picture IS NOT NULL;

-- One log for bench days, rehearsals and weigh-outs: how it was set up, and
-- what happened, one event after the other.
CREATE TABLE sessions (
    kind     TEXT NOT NULL CHECK (kind IN ('bench', 'rehearsal', 'weighing')),
    id       INTEGER NOT NULL,
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat     TEXT NOT NULL,
    setup    TEXT NOT NULL CHECK (json_valid(setup)),
    rev      INTEGER NOT NULL DEFAULT 1,
    done     INTEGER NOT NULL DEFAULT 0 CHECK (done IN (0, 1)),
    at       TEXT NOT NULL,
    PRIMARY KEY (kind, id)
) STRICT, WITHOUT ROWID;
CREATE INDEX sessions_piece ON sessions (piece_id, kind, at);
CREATE INDEX sessions_open ON sessions (kind, at) WHERE done = 0;

CREATE TABLE session_events (
    kind       TEXT NOT NULL,
    session_id INTEGER NOT NULL,
    n          INTEGER NOT NULL,
    doc        TEXT NOT NULL CHECK (json_valid(doc)),
    PRIMARY KEY (kind, session_id, n),
    FOREIGN KEY (kind, session_id) REFERENCES sessions (kind, id) ON DELETE CASCADE
) STRICT, WITHOUT ROWID;

INSERT INTO sessions (kind, id, piece_id, coat, setup, rev, done, at) SELECT 'bench', id, piece_id, coat, doc, rev, done, at FROM benches;
INSERT INTO sessions (kind, id, piece_id, coat, setup, rev, done, at) SELECT 'rehearsal', id, piece_id, coat, doc, rev, done, at FROM rehearsals;
INSERT INTO sessions (kind, id, piece_id, coat, setup, rev, done, at) SELECT 'weighing', id, piece_id, coat, doc, rev, done, at FROM weighings;

-- What is asked of pieces, beside their document.
ALTER TABLE pieces ADD COLUMN name TEXT NOT NULL DEFAULT '';
ALTER TABLE pieces ADD COLUMN state TEXT NOT NULL DEFAULT '';
ALTER TABLE pieces ADD COLUMN due TEXT NOT NULL DEFAULT '';
ALTER TABLE pieces ADD COLUMN commission INTEGER NOT NULL DEFAULT 0;
ALTER TABLE pieces ADD COLUMN tile INTEGER NOT NULL DEFAULT 0;
ALTER TABLE pieces ADD COLUMN changed_at TEXT NOT NULL DEFAULT '';
UPDATE pieces SET (name, state, due, commission, tile, changed_at) = (
    SELECT r.name, coalesce(json_extract(r.doc, '$.State'), ''),
        CASE WHEN coalesce(json_extract(r.doc, '$.Due'), '0001') < '0002' THEN '' ELSE json_extract(r.doc, '$.Due') END,
        coalesce(json_extract(r.doc, '$.Commission'), 0), coalesce(json_extract(r.doc, '$.Tile'), 0), r.at
    FROM piece_revisions r WHERE r.piece_id = pieces.id AND r.rev = pieces.head);
CREATE INDEX pieces_open ON pieces (due, id) WHERE deleted_at IS NULL AND state = '';
CREATE INDEX pieces_changed ON pieces (changed_at DESC, id DESC) WHERE deleted_at IS NULL;
CREATE INDEX pieces_commission ON pieces (commission) WHERE commission > 0;

-- What has changed since it was last read, by room.
CREATE TABLE versions (
    scope TEXT PRIMARY KEY,
    n     INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- Stand-ins are told apart from sensors.
CREATE TABLE room_log (
    at     TEXT NOT NULL,
    temp   REAL NOT NULL,                            -- °C
    source TEXT NOT NULL CHECK (source IN ('sensor', 'typed', 'simulated'))
) STRICT;
INSERT INTO room_log SELECT at, temp, source FROM room_readings;
CREATE INDEX room_log_at ON room_log (at);

DROP TABLE room_readings;
DROP TABLE bench_photos;
DROP TABLE benches;
DROP TABLE rehearsals;
DROP TABLE weighings;
DROP TABLE commission_pictures;
DROP TABLE commissions;
DROP TABLE palettes;
DROP TABLE techniques;
DROP TABLE pigments;
DROP TABLE products;
