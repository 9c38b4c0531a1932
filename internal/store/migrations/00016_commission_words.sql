-- +goose Up
-- Commissions by what was written in them by hand, not by their days, sums and states.
DROP VIEW commission_entries;
CREATE VIEW commission_entries AS
    SELECT d.id, d.at, d.name AS title, d.off_at,
           coalesce((SELECT group_concat(t.atom, '; ') FROM json_tree(d.doc) t WHERE t.type = 'text' AND t.atom <> ''
               AND t.key IN ('Client', 'Contact', 'Wanted', 'Place', 'Light', 'Notes', 'Why', 'Handed', 'Likes', 'What', 'Note')), '') AS body
    FROM documents d WHERE d.kind = 'commission';
UPDATE journal SET body = (SELECT e.body FROM commission_entries e WHERE journal.ref = 'commission:' || e.id) WHERE kind = 'commission'
    AND EXISTS (SELECT 1 FROM commission_entries e WHERE journal.ref = 'commission:' || e.id);

-- +goose Down
DROP VIEW commission_entries;
CREATE VIEW commission_entries AS
    SELECT d.id, d.at, d.name AS title, d.off_at,
           coalesce((SELECT group_concat(t.atom, ' ') FROM json_tree(d.doc) t WHERE t.type = 'text'), '') AS body
    FROM documents d WHERE d.kind = 'commission';
