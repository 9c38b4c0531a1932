-- +goose Up
CREATE TABLE commissions (
    id         INTEGER PRIMARY KEY,
    name       TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
    doc        TEXT NOT NULL CHECK (json_valid(doc)),
    rev        INTEGER NOT NULL DEFAULT 1,
    at         TEXT NOT NULL,
    deleted_at TEXT
) STRICT;

CREATE TABLE commission_pictures (
    id            INTEGER PRIMARY KEY,
    commission_id INTEGER NOT NULL REFERENCES commissions (id) ON DELETE CASCADE,
    picture       BLOB NOT NULL,                     -- JPEG
    at            TEXT NOT NULL
) STRICT;

-- What the painter says of a task of the plan: that it was done, or where it
-- is to lie.
CREATE TABLE task_marks (
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    task     TEXT NOT NULL,
    kind     TEXT NOT NULL CHECK (kind IN ('done', 'pin')),
    at       TEXT NOT NULL,
    PRIMARY KEY (piece_id, task, kind)
) STRICT, WITHOUT ROWID;

-- The plan as it stood on each day, to tell what changed since.
CREATE TABLE plan_days (
    day TEXT PRIMARY KEY,
    doc TEXT NOT NULL CHECK (json_valid(doc))
) STRICT, WITHOUT ROWID;

CREATE TABLE letters (
    id      INTEGER PRIMARY KEY,
    key     TEXT NOT NULL UNIQUE,                    -- one a day and reason
    doc     TEXT NOT NULL CHECK (json_valid(doc)),
    at      TEXT NOT NULL,
    sent_at TEXT,
    failure TEXT NOT NULL DEFAULT ''
) STRICT;

-- +goose Down
DROP TABLE letters;
DROP TABLE plan_days;
DROP TABLE task_marks;
DROP TABLE commission_pictures;
DROP TABLE commissions;
