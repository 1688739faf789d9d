-- +goose Up
-- Files beside a report: logs and the like. Their blobs are named by their sums.
CREATE TABLE attachments (
  id          CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  document_id VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name        VARCHAR(200) NOT NULL,
  bytes       BIGINT       NOT NULL,
  sha256      CHAR(64)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  added_by    VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  added_at    DATETIME(3)  NOT NULL,
  UNIQUE (document_id, sha256),
  INDEX (sha256),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (added_by) REFERENCES accounts (id)
);

-- +goose Down
DROP TABLE attachments;
