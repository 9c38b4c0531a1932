-- +goose Up
-- What a form has done already, so that it is done once however often it arrives.
CREATE TABLE presses (
    key     TEXT PRIMARY KEY,                        -- digest of the form and what it said
    address TEXT NOT NULL DEFAULT '',                -- where it led
    at      TEXT NOT NULL
) STRICT;

-- +goose Down
DROP TABLE presses;
