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

-- +goose Down
DROP TABLE pair_codes;
DROP TABLE visitors;
