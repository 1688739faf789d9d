-- +goose Up
-- What is said of a document while it is written. It is in no revision, and nothing that goes out has it.
CREATE TABLE comments (
  id          VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, -- chosen by the browser, so that one sent twice is kept once
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  thread      VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, -- the first comment, which says what all are about
  place       TEXT        NOT NULL, -- of the first
  body        TEXT        NOT NULL,
  mentions    TEXT        NOT NULL, -- accounts
  made_by     VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  made_at     DATETIME(3) NOT NULL,
  edited_at   DATETIME(3) NULL,
  deleted     BOOLEAN     NOT NULL DEFAULT FALSE,
  resolved_by VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL, -- of the first
  resolved_at DATETIME(3) NULL,
  INDEX (document_id, made_at),
  INDEX (thread),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (made_by) REFERENCES accounts (id),
  FOREIGN KEY (resolved_by) REFERENCES accounts (id)
);

-- +goose Down
DROP TABLE comments;
