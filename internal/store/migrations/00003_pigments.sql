-- +goose Up
CREATE TABLE pigments (
    id      INTEGER PRIMARY KEY,
    name    TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
    doc     TEXT NOT NULL CHECK (json_valid(doc)),
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1)),
    rev     INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE UNIQUE INDEX pigments_name ON pigments (name COLLATE NOCASE) WHERE retired = 0;

-- +goose Down
DROP TABLE pigments;
