-- +goose Up
-- Doors by which people without an account ask for help. Of a door's token only a hash is kept.
CREATE TABLE doors (
  id         CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  name       VARCHAR(100) NOT NULL,
  token_hash CHAR(64)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
  made_by    VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  made_at    DATETIME(3)  NOT NULL,
  revoked_at DATETIME(3)  NULL,
  FOREIGN KEY (made_by) REFERENCES accounts (id)
);
-- Requests that came in, each with the document that it is.
CREATE TABLE inbox (
  document_id VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  door_id     CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NULL,
  came_as     VARCHAR(255) CHARACTER SET ascii COLLATE ascii_bin NULL UNIQUE, -- the id of the mail or the sending that it is
  asker       VARCHAR(100) NOT NULL,
  address     VARCHAR(254) NOT NULL DEFAULT '', -- of mail, to answer to
  link        VARCHAR(300) NOT NULL DEFAULT '', -- by which its asker follows it, sealed
  state       VARCHAR(10)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'new',
  taken_by    VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NULL,
  asked_at    DATETIME(3)  NOT NULL,
  changed_at  DATETIME(3)  NOT NULL,
  INDEX (state, changed_at),
  INDEX (door_id, asked_at),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (door_id) REFERENCES doors (id),
  FOREIGN KEY (taken_by) REFERENCES accounts (id)
);
-- A link by which the asker follows a request: it shows what is written, and what is said of it.
ALTER TABLE shares ADD COLUMN converses BOOLEAN NOT NULL DEFAULT FALSE;

-- +goose Down
ALTER TABLE shares DROP COLUMN converses;
DROP TABLE inbox, doors;
