-- +goose Up
-- How documents look wherever they go: core/style. The styles that ship are in the code and have no rows.
CREATE TABLE house_styles (
  id         CHAR(36)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  name       VARCHAR(80) NOT NULL,
  content    LONGTEXT    NOT NULL,
  version    INT         NOT NULL,
  changed_by VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  deleted    BOOLEAN     NOT NULL DEFAULT FALSE, -- documents may still name it, and it may come back
  FOREIGN KEY (changed_by) REFERENCES accounts (id)
);
-- Faces and logos of the house, by what is in them.
CREATE TABLE house_files (
  sha256   CHAR(64)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  kind     VARCHAR(8)   CHARACTER SET ascii COLLATE ascii_bin NOT NULL, -- "face" or "logo"
  name     VARCHAR(255) NOT NULL,
  media    VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  bytes    BIGINT       NOT NULL,
  about    TEXT         NOT NULL, -- what is known of it: family and weight, or its size in pixels
  added_by VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  added_at DATETIME(3)  NOT NULL,
  FOREIGN KEY (added_by) REFERENCES accounts (id)
);
-- The style that documents have which name none; "" is the one that ships.
ALTER TABLE house ADD COLUMN style VARCHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';
-- A revision keeps the style that it was released with. Those without were released when there was one.
ALTER TABLE revisions ADD COLUMN style LONGTEXT NULL;


-- +goose Down
ALTER TABLE revisions DROP COLUMN style;
ALTER TABLE house DROP COLUMN style;
DROP TABLE house_files, house_styles;
