-- +goose Up
-- What was tried on the preview of a coat, beside what is planned.
CREATE TABLE flows (
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat TEXT NOT NULL,
    rev INTEGER NOT NULL,
    doc TEXT NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (piece_id, coat)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE flows;
