-- +goose Up
-- How a coat looks at the end of its preview, for wherever its board is drawn small.
CREATE TABLE stills (
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat     TEXT NOT NULL,
    look     TEXT NOT NULL,                          -- digest of what was played
    picture  BLOB NOT NULL,                          -- PNG, clear beside the face
    at       TEXT NOT NULL,
    PRIMARY KEY (piece_id, coat)
) STRICT;

-- +goose Down
DROP TABLE stills;
