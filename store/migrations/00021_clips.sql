-- +goose Up
-- A shot may stand for a recording: a clip.
ALTER TABLE shots
  ADD COLUMN clip_sha256     CHAR(64)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  ADD COLUMN clip_media_type VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  ADD COLUMN clip_ms         INT         NOT NULL DEFAULT 0,
  ADD COLUMN clip_poster     INT         NOT NULL DEFAULT 0,
  ADD COLUMN clip_sounds     BOOLEAN     NOT NULL DEFAULT FALSE,
  ADD COLUMN clip_camera     CHAR(64)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  ADD INDEX (clip_sha256),
  ADD INDEX (clip_camera);

-- +goose Down
ALTER TABLE shots DROP COLUMN clip_sha256, DROP COLUMN clip_media_type, DROP COLUMN clip_ms, DROP COLUMN clip_poster, DROP COLUMN clip_sounds, DROP COLUMN clip_camera;
