-- +goose Up
-- Links by which a document is read without an account. Of a link's token only a hash is kept.
CREATE TABLE shares (
  id            CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  document_id   VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  token_hash    CHAR(64)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
  name          VARCHAR(100) NOT NULL, -- whom or what it is for
  revision      INT          NOT NULL DEFAULT 0, -- a fixed one; 0 is always the valid one
  password_hash VARCHAR(255) NOT NULL DEFAULT '',
  last_day      DATE         NULL,
  most          INT          NOT NULL DEFAULT 0, -- openings; 0 is as many as are wanted
  openings      INT          NOT NULL DEFAULT 0,
  comments      BOOLEAN      NOT NULL DEFAULT FALSE,
  downloads     BOOLEAN      NOT NULL DEFAULT FALSE,
  made_by       VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  made_at       DATETIME(3)  NOT NULL,
  opened_at     DATETIME(3)  NULL,
  revoked_at    DATETIME(3)  NULL,
  INDEX (document_id, made_at),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (made_by) REFERENCES accounts (id)
);
-- Who has opened one may go on for half a day.
CREATE TABLE share_openings (
  hash      CHAR(64)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  share_id  CHAR(36)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  opened_at DATETIME(3) NOT NULL,
  INDEX (opened_at),
  FOREIGN KEY (share_id) REFERENCES shares (id) ON DELETE CASCADE
);
-- A comment of someone without an account bears the name that they gave; made_by is who made the link.
ALTER TABLE comments ADD COLUMN guest VARCHAR(100) NOT NULL DEFAULT '' AFTER made_by;
-- Addresses of pages that may show links in a frame, one on each line.
ALTER TABLE house ADD COLUMN frames TEXT NULL;

-- +goose Down
ALTER TABLE house DROP COLUMN frames;
ALTER TABLE comments DROP COLUMN guest;
DROP TABLE share_openings, shares;
