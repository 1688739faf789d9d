-- +goose Up
-- Templates of the house for what is delivered; their files lie in the blobs, by what is in them.
CREATE TABLE templates (
  id         CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  kind       VARCHAR(8)   CHARACTER SET ascii COLLATE ascii_bin NOT NULL, -- "html", "docx" or "pptx"
  name       VARCHAR(80)  NOT NULL,
  sha256     CHAR(64)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  bytes      BIGINT       NOT NULL,
  script     BOOLEAN      NOT NULL DEFAULT FALSE, -- whether it may run script: an administrator says so
  version    INT          NOT NULL,
  changed_by VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  changed_at DATETIME(3)  NOT NULL,
  deleted    BOOLEAN      NOT NULL DEFAULT FALSE, -- deliveries may still name it
  FOREIGN KEY (changed_by) REFERENCES accounts (id)
);

-- +goose Down
DROP TABLE templates;
