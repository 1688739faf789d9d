-- +goose Up
-- Where reports and requests go. Secrets in the content are sealed.
CREATE TABLE receivers (
  id         CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  name       VARCHAR(100) NOT NULL,
  content    MEDIUMTEXT   NOT NULL,
  version    INT          NOT NULL DEFAULT 1,
  changed_by VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  changed_at DATETIME(3)  NOT NULL,
  deleted    BOOLEAN      NOT NULL DEFAULT FALSE,
  FOREIGN KEY (changed_by) REFERENCES accounts (id)
);
-- What a document is at a receiver: one thing, however often it was sent.
CREATE TABLE sendings (
  id          CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  document_id VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  receiver_id CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  job_id      CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NULL, -- that sends it, or sent it last
  times       INT          NOT NULL DEFAULT 0,
  handed      INT          NOT NULL DEFAULT 0, -- of the last time: 1 once the text is there, and 1 for each file
  number      VARCHAR(200) NOT NULL DEFAULT '',
  link        VARCHAR(2000) NOT NULL DEFAULT '',
  standing    VARCHAR(60)  NOT NULL DEFAULT '', -- as the receiver calls it
  seq         BIGINT       NOT NULL DEFAULT 0, -- of the document that was sent last
  sent_by     VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sent_at     DATETIME(3)  NULL,
  UNIQUE (document_id, receiver_id),
  INDEX (receiver_id, number),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (receiver_id) REFERENCES receivers (id),
  FOREIGN KEY (sent_by) REFERENCES accounts (id)
);
-- The receiver by which someone who has no account has said something; guest is then their name there.
ALTER TABLE comments ADD COLUMN via VARCHAR(100) NOT NULL DEFAULT '' AFTER guest;

-- +goose Down
ALTER TABLE comments DROP COLUMN via;
DROP TABLE sendings, receivers;
