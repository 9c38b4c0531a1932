-- +goose Up
-- Found by the planner itself: an index of the open ones alone it took only when told to.
DROP INDEX sessions_open;
CREATE INDEX sessions_open ON sessions (kind, done, at);

-- +goose Down
DROP INDEX sessions_open;
CREATE INDEX sessions_open ON sessions (kind, at) WHERE done = 0;
