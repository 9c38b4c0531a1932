-- +goose Up
-- Humidity where it was noted, and who said so.
ALTER TABLE room_log ADD COLUMN humidity REAL CHECK (humidity BETWEEN 0 AND 1);  -- NULL where nobody knows
ALTER TABLE room_log ADD COLUMN who TEXT NOT NULL DEFAULT '';                    -- name of a sensor

-- How long the steps of a bench day really took, beside what the library says.
CREATE TABLE step_times (
    session_id INTEGER NOT NULL,                     -- of a bench day
    piece_id   INTEGER NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    technique  TEXT NOT NULL,
    step       TEXT NOT NULL,
    usual      REAL NOT NULL CHECK (usual > 0),      -- minutes
    took       REAL NOT NULL CHECK (took > 0),
    at         TEXT NOT NULL,
    PRIMARY KEY (session_id, step)
) STRICT, WITHOUT ROWID;
CREATE INDEX step_times_technique ON step_times (technique, at);
