-- +goose Up
-- Goods are documents too; a table whose check changes is laid out anew.
DROP VIEW commission_entries;
CREATE TABLE documents_rebuilt (
    kind   TEXT NOT NULL CHECK (kind IN ('resin', 'pigment', 'technique', 'commission', 'palette', 'goods')),
    id     INTEGER NOT NULL,
    name   TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
    doc    TEXT NOT NULL CHECK (json_valid(doc)),
    rev    INTEGER NOT NULL DEFAULT 1,
    at     TEXT NOT NULL DEFAULT '',
    off_at TEXT,                                     -- retired, or taken off the list
    PRIMARY KEY (kind, id)
) STRICT, WITHOUT ROWID;
INSERT INTO documents_rebuilt SELECT kind, id, name, doc, rev, at, off_at FROM documents;
DROP TABLE documents;
ALTER TABLE documents_rebuilt RENAME TO documents;
CREATE UNIQUE INDEX documents_name ON documents (kind, name COLLATE NOCASE)
    WHERE off_at IS NULL AND kind IN ('resin', 'pigment', 'technique', 'goods');
-- Commissions, by all that is written in them.
CREATE VIEW commission_entries AS
    SELECT d.id, d.at, d.name AS title, d.off_at,
           coalesce((SELECT group_concat(t.atom, ' ') FROM json_tree(d.doc) t WHERE t.type = 'text'), '') AS body
    FROM documents d WHERE d.kind = 'commission';
-- +goose StatementBegin
CREATE TRIGGER journal_commission_added AFTER INSERT ON documents WHEN new.kind = 'commission' BEGIN
    INSERT INTO journal (at, kind, ref, title, body)
        SELECT at, 'commission', 'commission:' || id, title, body FROM commission_entries WHERE id = new.id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_commission_changed AFTER UPDATE ON documents WHEN new.kind = 'commission' BEGIN
    DELETE FROM journal WHERE ref = 'commission:' || new.id;
    INSERT INTO journal (at, kind, ref, title, body)
        SELECT at, 'commission', 'commission:' || id, title, body FROM commission_entries WHERE id = new.id AND off_at IS NULL;
END;
-- +goose StatementEnd

-- The stock: one entry for everything that came, went or was counted, of a resin
-- (mL), a pigment (g) or other goods (their unit). An entry is never changed or taken
-- away: a mistake is put right by another.
CREATE TABLE stock_entries (
    id       INTEGER PRIMARY KEY,
    at       TEXT NOT NULL,
    kind     TEXT NOT NULL CHECK (kind IN ('buy', 'use', 'count', 'leftover', 'return', 'open')),
    thing    TEXT NOT NULL,                          -- kind of document
    thing_id INTEGER NOT NULL,
    amount   REAL NOT NULL CHECK (amount >= 0),
    price    TEXT NOT NULL DEFAULT '',               -- of what was bought, a decimal number
    lot      INTEGER REFERENCES stock_entries (id),  -- which purchase was opened
    piece_id INTEGER,
    coat     TEXT NOT NULL DEFAULT '',
    source   TEXT NOT NULL DEFAULT '',               -- of a use: planned, recorded or weighed
    doc      TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(doc))
) STRICT;
CREATE INDEX stock_entries_thing ON stock_entries (thing, thing_id, at);
CREATE INDEX stock_entries_piece ON stock_entries (piece_id, coat) WHERE piece_id IS NOT NULL;
-- +goose StatementBegin
CREATE TRIGGER stock_entries_stay BEFORE UPDATE ON stock_entries BEGIN
    SELECT RAISE(ABORT, 'an entry of the stock is never changed');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_entries_are_kept BEFORE DELETE ON stock_entries BEGIN
    SELECT RAISE(ABORT, 'an entry of the stock is never taken away');
END;
-- +goose StatementEnd

-- What stood on a shelf of an older studio is its first count.
INSERT INTO stock_entries (at, kind, thing, thing_id, amount, doc)
    SELECT at, 'count', kind, id, json_extract(doc, '$.Stock'), '{"Reason":"what stood on the shelf before there was a stock"}'
    FROM documents WHERE kind IN ('resin', 'pigment') AND coalesce(json_extract(doc, '$.Stock'), 0) > 0;

-- Papers, each as it was made, with running numbers that have no gaps.
CREATE TABLE papers (
    id            INTEGER PRIMARY KEY,
    commission_id INTEGER NOT NULL,
    kind          TEXT NOT NULL,
    number        TEXT NOT NULL UNIQUE,
    at            TEXT NOT NULL,
    doc           TEXT NOT NULL CHECK (json_valid(doc)),
    pdf           BLOB NOT NULL
) STRICT;
CREATE INDEX papers_commission ON papers (commission_id, at);
CREATE TABLE paper_numbers (
    series TEXT PRIMARY KEY,
    last   INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
-- +goose StatementBegin
CREATE TRIGGER papers_stay BEFORE UPDATE ON papers BEGIN
    SELECT RAISE(ABORT, 'a paper is never changed');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER papers_are_kept BEFORE DELETE ON papers BEGIN
    SELECT RAISE(ABORT, 'a paper is never taken away');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_paper AFTER INSERT ON papers BEGIN
    INSERT INTO journal (at, kind, ref, title, body)
        SELECT new.at, 'paper', 'paper:' || new.id, coalesce((SELECT name FROM documents WHERE kind = 'commission' AND id = new.commission_id), ''), new.kind || ' ' || new.number;
END;
-- +goose StatementEnd

-- What is asked for a piece, and what became of it.
CREATE TABLE piece_prices (
    piece_id INTEGER PRIMARY KEY REFERENCES pieces (id) ON DELETE CASCADE,
    rev      INTEGER NOT NULL DEFAULT 1,
    doc      TEXT NOT NULL CHECK (json_valid(doc))
) STRICT;

-- Money that came in, and other costs, by the commission they are of.
CREATE TABLE payments (
    id            INTEGER PRIMARY KEY,
    commission_id INTEGER NOT NULL DEFAULT 0,
    at            TEXT NOT NULL,
    amount        TEXT NOT NULL,                      -- a decimal number; below nothing what was spent or paid back
    doc           TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(doc))
) STRICT;
CREATE INDEX payments_commission ON payments (commission_id, at);

-- +goose Down
DROP TABLE payments;
DROP TABLE piece_prices;
DROP TRIGGER journal_paper;
DROP TABLE papers;
DROP TABLE paper_numbers;
DROP TABLE stock_entries;
DROP VIEW commission_entries;
CREATE TABLE documents_rebuilt (
    kind   TEXT NOT NULL CHECK (kind IN ('resin', 'pigment', 'technique', 'commission', 'palette')),
    id     INTEGER NOT NULL,
    name   TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
    doc    TEXT NOT NULL CHECK (json_valid(doc)),
    rev    INTEGER NOT NULL DEFAULT 1,
    at     TEXT NOT NULL DEFAULT '',
    off_at TEXT,                                     -- retired, or taken off the list
    PRIMARY KEY (kind, id)
) STRICT, WITHOUT ROWID;
INSERT INTO documents_rebuilt SELECT kind, id, name, doc, rev, at, off_at FROM documents WHERE kind <> 'goods';
DROP TABLE documents;
ALTER TABLE documents_rebuilt RENAME TO documents;
CREATE UNIQUE INDEX documents_name ON documents (kind, name COLLATE NOCASE)
    WHERE off_at IS NULL AND kind IN ('resin', 'pigment', 'technique');
-- Commissions, by all that is written in them.
CREATE VIEW commission_entries AS
    SELECT d.id, d.at, d.name AS title, d.off_at,
           coalesce((SELECT group_concat(t.atom, ' ') FROM json_tree(d.doc) t WHERE t.type = 'text'), '') AS body
    FROM documents d WHERE d.kind = 'commission';
-- +goose StatementBegin
CREATE TRIGGER journal_commission_added AFTER INSERT ON documents WHEN new.kind = 'commission' BEGIN
    INSERT INTO journal (at, kind, ref, title, body)
        SELECT at, 'commission', 'commission:' || id, title, body FROM commission_entries WHERE id = new.id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_commission_changed AFTER UPDATE ON documents WHEN new.kind = 'commission' BEGIN
    DELETE FROM journal WHERE ref = 'commission:' || new.id;
    INSERT INTO journal (at, kind, ref, title, body)
        SELECT at, 'commission', 'commission:' || id, title, body FROM commission_entries WHERE id = new.id AND off_at IS NULL;
END;
-- +goose StatementEnd
