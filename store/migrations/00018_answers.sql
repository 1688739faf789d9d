-- +goose Up
-- How often a stock answer was used.
ALTER TABLE documents ADD COLUMN uses INT NOT NULL DEFAULT 0;
-- Documents that were made of others, and of which block.
CREATE TABLE relations (
  made      VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  made_from VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  block     VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  PRIMARY KEY (made, made_from),
  INDEX (made_from),
  FOREIGN KEY (made) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (made_from) REFERENCES documents (id) ON DELETE CASCADE
);

-- +goose Down
DROP TABLE relations;
ALTER TABLE documents DROP COLUMN uses;
