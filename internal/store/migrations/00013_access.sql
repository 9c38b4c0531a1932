-- +goose Up
-- Who is let in besides the screen the program runs on: paired devices and the keys
-- of programs, by a digest of what they show; and codes to pair with that are open.
CREATE TABLE visitors (
    id     INTEGER PRIMARY KEY,
    kind   TEXT NOT NULL CHECK (kind IN ('device', 'key')),
    name   TEXT NOT NULL,
    person TEXT NOT NULL DEFAULT '',
    may    TEXT NOT NULL,                            -- role of a device, scopes of a key
    digest TEXT NOT NULL UNIQUE,
    at     TEXT NOT NULL,
    used   TEXT NOT NULL
) STRICT;
CREATE TABLE pair_codes (
    digest TEXT PRIMARY KEY,
    role   TEXT NOT NULL,
    person TEXT NOT NULL DEFAULT '',
    until  TEXT NOT NULL
) STRICT;

-- Bench days of the last weeks are found without reading all.
CREATE INDEX sessions_at ON sessions (kind, at);

-- What was noted is found by who noted it.
DROP TRIGGER journal_noted;
-- +goose StatementBegin
CREATE TRIGGER journal_noted AFTER INSERT ON session_events WHEN new.kind = 'bench' AND json_extract(new.doc, '$.What') IN ('note', 'photo') BEGIN
    INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
        SELECT strftime('%Y-%m-%dT%H:%M:%fZ', json_extract(new.doc, '$.At')), json_extract(new.doc, '$.What'), s.piece_id, s.coat, 'bench:' || s.id || ':' || new.n,
               coalesce(json_extract(s.setup, '$.Piece'), ''), coalesce(json_extract(new.doc, '$.Text'), '') || coalesce(' (' || json_extract(new.doc, '$.By') || ')', '')
        FROM sessions s WHERE s.kind = 'bench' AND s.id = new.session_id;
END;
-- +goose StatementEnd

-- +goose Down
DROP INDEX sessions_at;
DROP TRIGGER journal_noted;
-- +goose StatementBegin
CREATE TRIGGER journal_noted AFTER INSERT ON session_events WHEN new.kind = 'bench' AND json_extract(new.doc, '$.What') IN ('note', 'photo') BEGIN
    INSERT INTO journal (at, kind, piece_id, coat, ref, title, body)
        SELECT strftime('%Y-%m-%dT%H:%M:%fZ', json_extract(new.doc, '$.At')), json_extract(new.doc, '$.What'), s.piece_id, s.coat, 'bench:' || s.id || ':' || new.n,
               coalesce(json_extract(s.setup, '$.Piece'), ''), coalesce(json_extract(new.doc, '$.Text'), '')
        FROM sessions s WHERE s.kind = 'bench' AND s.id = new.session_id;
END;
-- +goose StatementEnd
DROP TABLE pair_codes;
DROP TABLE visitors;
