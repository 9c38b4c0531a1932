-- +goose Up
CREATE TABLE palettes (
    id         INTEGER PRIMARY KEY,
    name       TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
    doc        TEXT NOT NULL CHECK (json_valid(doc)),
    picture    BLOB,                              -- a small PNG; null for a palette that was read from a file
    rev        INTEGER NOT NULL DEFAULT 1,
    at         TEXT NOT NULL,
    deleted_at TEXT
) STRICT;

-- +goose Down
DROP TABLE palettes;
