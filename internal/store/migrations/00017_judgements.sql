-- +goose Up
-- What was said of a coat the day after, and what was proposed and taken from it.
CREATE TABLE judgements (
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat     TEXT NOT NULL,
    doc      TEXT NOT NULL CHECK (json_valid(doc)),
    at       TEXT NOT NULL,
    PRIMARY KEY (piece_id, coat)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE judgements;
