-- +goose Up
-- Other words that a comment suggests for its block, with those that they are to take the place of; and what came of it: taken or
-- refused.
ALTER TABLE comments
  ADD COLUMN suggestion MEDIUMTEXT NULL,
  ADD COLUMN outcome VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE comments DROP COLUMN suggestion, DROP COLUMN outcome;
