-- +goose Up
CREATE TABLE settings (
    key   TEXT PRIMARY KEY,
    doc   TEXT NOT NULL CHECK (json_valid(doc))
) STRICT;

CREATE TABLE products (
    id      INTEGER PRIMARY KEY,
    name    TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
    doc     TEXT NOT NULL CHECK (json_valid(doc)),
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1)),
    rev     INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE UNIQUE INDEX products_name ON products (name COLLATE NOCASE) WHERE retired = 0;

CREATE TABLE pieces (
    id         INTEGER PRIMARY KEY,
    head       INTEGER NOT NULL,             -- revision shown now
    created_at TEXT NOT NULL,
    deleted_at TEXT
) STRICT;

-- Every change of a piece's plan is kept: undo moves head to the parent,
-- redo to the newest child.
CREATE TABLE piece_revisions (
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    rev      INTEGER NOT NULL,
    parent   INTEGER NOT NULL,               -- 0 for the first
    name     TEXT NOT NULL,
    doc      TEXT NOT NULL CHECK (json_valid(doc)),
    at       TEXT NOT NULL,
    PRIMARY KEY (piece_id, rev)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE piece_revisions;
DROP TABLE pieces;
DROP TABLE products;
DROP TABLE settings;
