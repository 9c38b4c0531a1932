-- +goose Up
-- What came of a coat, a document a coat.
CREATE TABLE results (
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat     TEXT NOT NULL,
    rev      INTEGER NOT NULL,
    doc      TEXT NOT NULL CHECK (json_valid(doc)),
    at       TEXT NOT NULL,
    PRIMARY KEY (piece_id, coat)
) STRICT, WITHOUT ROWID;

-- Photographs of coats: as they were taken, for a screen, and small.
CREATE TABLE photos (
    id       INTEGER PRIMARY KEY,
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat     TEXT NOT NULL,
    moment   TEXT NOT NULL,
    digest   TEXT NOT NULL,
    shown    BLOB NOT NULL,                          -- upright JPEG without metadata
    small    BLOB NOT NULL,
    at       TEXT NOT NULL,
    UNIQUE (piece_id, coat, digest)
) STRICT;
CREATE TABLE photo_originals (
    photo_id INTEGER PRIMARY KEY REFERENCES photos (id) ON DELETE CASCADE,
    original BLOB NOT NULL
) STRICT;

-- Causes of faults that the painter confirmed.
CREATE TABLE faults (
    id       INTEGER PRIMARY KEY,
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    coat     TEXT NOT NULL,
    doc      TEXT NOT NULL CHECK (json_valid(doc)),
    at       TEXT NOT NULL
) STRICT;
CREATE INDEX faults_piece ON faults (piece_id, coat);

-- Which resins, pigments and techniques a piece uses as it stands.
CREATE TABLE piece_uses (
    piece_id INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    kind     TEXT NOT NULL,
    ref      TEXT NOT NULL,
    PRIMARY KEY (kind, ref, piece_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX piece_uses_piece ON piece_uses (piece_id);

-- The journal: one row for what happened, kept by triggers in the change it comes
-- of, with a full-text index over it.
CREATE TABLE journal (
    id       INTEGER PRIMARY KEY,
    at       TEXT NOT NULL,
    kind     TEXT NOT NULL,
    piece_id INTEGER,
    coat     TEXT NOT NULL DEFAULT '',
    ref      TEXT NOT NULL UNIQUE,
    title    TEXT NOT NULL,
    body     TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX journal_at ON journal (at DESC, id DESC);
CREATE INDEX journal_piece ON journal (piece_id, at DESC);
CREATE VIRTUAL TABLE journal_text USING fts5 (title, body, content = 'journal', content_rowid = 'id', tokenize = 'unicode61 remove_diacritics 2');

-- +goose StatementBegin
CREATE TRIGGER journal_added AFTER INSERT ON journal BEGIN
    INSERT INTO journal_text (rowid, title, body) VALUES (new.id, new.title, new.body);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_removed AFTER DELETE ON journal BEGIN
    INSERT INTO journal_text (journal_text, rowid, title, body) VALUES ('delete', old.id, old.title, old.body);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_changed AFTER UPDATE ON journal BEGIN
    INSERT INTO journal_text (journal_text, rowid, title, body) VALUES ('delete', old.id, old.title, old.body);
    INSERT INTO journal_text (rowid, title, body) VALUES (new.id, new.title, new.body);
END;
-- +goose StatementEnd

-- A piece as it stands: its row, and what it uses.
CREATE VIEW piece_entries AS
    SELECT p.id AS piece_id, p.created_at AS at, r.name AS title,
           coalesce((SELECT group_concat(named.atom, ', ') FROM (SELECT DISTINCT t.atom FROM json_tree(r.doc) t
               WHERE t.type = 'text' AND t.atom <> '' AND t.key IN ('Name', 'Brief', 'Note') AND t.fullkey <> '$.Name') named), '') AS body
    FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = p.head;
CREATE VIEW piece_using AS
    SELECT DISTINCT p.id AS piece_id,
           CASE WHEN t.key = 'What' THEN 'technique' WHEN t.key = 'Product' THEN 'product' ELSE 'pigment' END AS kind,
           CAST(t.atom AS TEXT) AS ref
    FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = p.head, json_tree(r.doc, '$.Layers') t
    WHERE t.key IN ('What', 'Product', 'Pigment') AND t.atom IS NOT NULL AND t.atom NOT IN (0, '');

-- +goose StatementBegin
CREATE TRIGGER journal_piece_headed AFTER UPDATE OF head ON pieces BEGIN
    INSERT INTO journal (at, kind, piece_id, ref, title, body)
        SELECT at, 'piece', piece_id, 'piece:' || piece_id, title, body FROM piece_entries WHERE piece_id = new.id
        ON CONFLICT (ref) DO UPDATE SET title = excluded.title, body = excluded.body;
    DELETE FROM piece_uses WHERE piece_id = new.id;
    INSERT INTO piece_uses (piece_id, kind, ref) SELECT piece_id, kind, ref FROM piece_using WHERE piece_id = new.id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_piece_revised AFTER INSERT ON piece_revisions BEGIN
    INSERT INTO journal (at, kind, piece_id, ref, title, body)
        SELECT at, 'piece', piece_id, 'piece:' || piece_id, title, body FROM piece_entries WHERE piece_id = new.piece_id
        ON CONFLICT (ref) DO UPDATE SET title = excluded.title, body = excluded.body;
    DELETE FROM piece_uses WHERE piece_id = new.piece_id;
    INSERT INTO piece_uses (piece_id, kind, ref) SELECT piece_id, kind, ref FROM piece_using WHERE piece_id = new.piece_id;
END;
-- +goose StatementEnd

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

-- Bench days and weigh-outs, and what was noted at the bench.
-- +goose StatementBegin
CREATE TRIGGER journal_session AFTER INSERT ON sessions WHEN new.kind <> 'rehearsal' BEGIN
    INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
        VALUES (new.at, new.kind, new.piece_id, new.coat, new.kind || ':' || new.id,
                coalesce(json_extract(new.setup, '$.Piece'), '') || ', ' || coalesce(json_extract(new.setup, '$.Name'), ''), coalesce(json_extract(new.setup, '$.Technique'), ''));
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_noted AFTER INSERT ON session_events WHEN new.kind = 'bench' AND json_extract(new.doc, '$.What') IN ('note', 'photo') BEGIN
    INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
        SELECT strftime('%Y-%m-%dT%H:%M:%fZ', json_extract(new.doc, '$.At')), json_extract(new.doc, '$.What'), s.piece_id, s.coat, 'bench:' || s.id || ':' || new.n,
               coalesce(json_extract(s.setup, '$.Piece'), ''), coalesce(json_extract(new.doc, '$.Text'), '')
        FROM sessions s WHERE s.kind = 'bench' AND s.id = new.session_id;
END;
-- +goose StatementEnd

-- Results and confirmed faults.
CREATE VIEW result_entries AS
    SELECT r.piece_id, r.coat, r.at, p.name AS title,
           coalesce((SELECT group_concat(t.atom, '; ') FROM json_tree(r.doc) t WHERE t.type = 'text' AND t.atom <> '' AND t.key IN ('Told', 'Edges', 'Moments')), '') AS body
    FROM results r JOIN pieces p ON p.id = r.piece_id;
-- +goose StatementBegin
CREATE TRIGGER journal_result_added AFTER INSERT ON results BEGIN
    INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
        SELECT at, 'result', piece_id, coat, 'result:' || piece_id || ':' || coat, title, body FROM result_entries WHERE piece_id = new.piece_id AND coat = new.coat;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_result_changed AFTER UPDATE ON results BEGIN
    DELETE FROM journal WHERE ref = 'result:' || new.piece_id || ':' || new.coat;
    INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
        SELECT at, 'result', piece_id, coat, 'result:' || piece_id || ':' || coat, title, body FROM result_entries WHERE piece_id = new.piece_id AND coat = new.coat;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_fault AFTER INSERT ON faults BEGIN
    INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
        SELECT new.at, 'fault', new.piece_id, new.coat, 'fault:' || new.id, p.name,
               coalesce(json_extract(new.doc, '$.Words'), '')
        FROM pieces p WHERE p.id = new.piece_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER journal_pictured AFTER INSERT ON photos BEGIN
    INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
        SELECT new.at, 'photo', new.piece_id, new.coat, 'photo:' || new.id, p.name, new.moment FROM pieces p WHERE p.id = new.piece_id;
END;
-- +goose StatementEnd

-- What was there before.
INSERT INTO journal (at, kind, piece_id, ref, title, body) SELECT at, 'piece', piece_id, 'piece:' || piece_id, title, body FROM piece_entries;
INSERT INTO piece_uses (piece_id, kind, ref) SELECT piece_id, kind, ref FROM piece_using;
INSERT INTO journal (at, kind, ref, title, body) SELECT at, 'commission', 'commission:' || id, title, body FROM commission_entries WHERE off_at IS NULL;
INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
    SELECT at, kind, piece_id, coat, kind || ':' || id, coalesce(json_extract(setup, '$.Piece'), '') || ', ' || coalesce(json_extract(setup, '$.Name'), ''), coalesce(json_extract(setup, '$.Technique'), '')
    FROM sessions WHERE kind <> 'rehearsal';
INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
    SELECT strftime('%Y-%m-%dT%H:%M:%fZ', json_extract(e.doc, '$.At')), json_extract(e.doc, '$.What'), s.piece_id, s.coat, 'bench:' || s.id || ':' || e.n, coalesce(json_extract(s.setup, '$.Piece'), ''), coalesce(json_extract(e.doc, '$.Text'), '')
    FROM session_events e JOIN sessions s ON s.kind = 'bench' AND s.id = e.session_id
    WHERE e.kind = 'bench' AND json_extract(e.doc, '$.What') IN ('note', 'photo');

-- +goose Down
DROP TABLE journal_text;
DROP TABLE journal;
DROP VIEW result_entries;
DROP VIEW commission_entries;
DROP VIEW piece_using;
DROP VIEW piece_entries;
DROP TABLE piece_uses;
DROP TABLE faults;
DROP TABLE photo_originals;
DROP TABLE photos;
DROP TABLE results;
DROP TRIGGER journal_piece_headed;
DROP TRIGGER journal_piece_revised;
DROP TRIGGER journal_commission_added;
DROP TRIGGER journal_commission_changed;
DROP TRIGGER journal_session;
DROP TRIGGER journal_noted;
