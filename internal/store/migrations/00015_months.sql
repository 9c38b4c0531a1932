-- +goose Up
-- The months pieces were begun in, stepped through one by one.
CREATE INDEX pieces_month ON pieces (substr(created_at, 1, 7)) WHERE deleted_at IS NULL;

-- +goose Down
DROP INDEX pieces_month;
