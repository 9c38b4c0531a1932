-- +goose Up
-- What a document was before its last change, so that it can be taken back.
CREATE TABLE document_before (
    kind TEXT NOT NULL,
    id   INTEGER NOT NULL,
    name TEXT NOT NULL,
    doc  TEXT NOT NULL CHECK (json_valid(doc)),
    PRIMARY KEY (kind, id)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE document_before;
