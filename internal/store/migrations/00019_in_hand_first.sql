-- +goose Up
DROP INDEX pieces_changed;
CREATE INDEX pieces_in_hand ON pieces ((state = 'done'), changed_at DESC, id DESC) WHERE deleted_at IS NULL;

-- +goose Down
DROP INDEX pieces_in_hand;
CREATE INDEX pieces_changed ON pieces (changed_at DESC, id DESC) WHERE deleted_at IS NULL;
