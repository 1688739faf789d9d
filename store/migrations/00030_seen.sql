-- +goose Up
-- Whoever changes a folder, a group or what holds for the house says which version they saw.
ALTER TABLE folders ADD COLUMN version INT UNSIGNED NOT NULL DEFAULT 1;
ALTER TABLE circles ADD COLUMN version INT UNSIGNED NOT NULL DEFAULT 1;
ALTER TABLE house ADD COLUMN version INT UNSIGNED NOT NULL DEFAULT 1;

-- +goose Down
ALTER TABLE house DROP COLUMN version;
ALTER TABLE circles DROP COLUMN version;
ALTER TABLE folders DROP COLUMN version;
