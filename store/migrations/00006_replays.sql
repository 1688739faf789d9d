-- +goose Up
-- A shot that was taken when a run was checked may take the place of the run's shot.
ALTER TABLE shots
  ADD COLUMN replays VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL AFTER about,
  ADD INDEX (replays, taken_at);

-- +goose Down
ALTER TABLE shots DROP COLUMN replays;
