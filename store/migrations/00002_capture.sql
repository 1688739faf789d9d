-- +goose Up
-- A sitting of capturing. (The table "sessions" is that of people signed in.)
CREATE TABLE captures (
  id       VARCHAR(64)  NOT NULL PRIMARY KEY,
  owner    CHAR(36)     NOT NULL,
  name     VARCHAR(200) NOT NULL,
  began_at DATETIME(3)  NOT NULL,
  last_at  DATETIME(3)  NOT NULL,
  INDEX (owner, last_at),
  FOREIGN KEY (owner) REFERENCES accounts (id)
);

ALTER TABLE shots
  ADD COLUMN capture_id   VARCHAR(64)  NULL,
  ADD COLUMN place        INT          NOT NULL DEFAULT 0,
  ADD COLUMN taken_at     DATETIME(3)  NULL,
  ADD COLUMN source       VARCHAR(32)  NOT NULL DEFAULT 'file',
  ADD COLUMN window_title VARCHAR(300) NOT NULL DEFAULT '',
  ADD COLUMN about        LONGTEXT     NULL,
  ADD COLUMN verdict      VARCHAR(32)  NOT NULL DEFAULT '',
  ADD COLUMN words        LONGTEXT     NULL,
  ADD COLUMN found_text   LONGTEXT     NULL,
  ADD COLUMN discarded_at DATETIME(3)  NULL,
  ADD INDEX (capture_id, place),
  ADD INDEX (created_by, taken_at),
  ADD FULLTEXT INDEX shots_text (found_text, window_title, name),
  ADD FOREIGN KEY (capture_id) REFERENCES captures (id);
UPDATE shots SET taken_at = created_at;
ALTER TABLE shots MODIFY COLUMN taken_at DATETIME(3) NOT NULL;

-- Recorders outside the browser that may bring shots in.
CREATE TABLE devices (
  id         CHAR(36)     NOT NULL PRIMARY KEY,
  owner      CHAR(36)     NOT NULL,
  name       VARCHAR(100) NOT NULL,
  token_hash CHAR(64)     CHARACTER SET ascii NOT NULL UNIQUE,
  made_at    DATETIME(3)  NOT NULL,
  used_at    DATETIME(3)  NULL,
  revoked_at DATETIME(3)  NULL,
  FOREIGN KEY (owner) REFERENCES accounts (id)
);

-- +goose Down
DROP TABLE devices;
ALTER TABLE shots DROP FOREIGN KEY shots_ibfk_2, DROP INDEX shots_text, DROP COLUMN capture_id, DROP COLUMN place, DROP COLUMN taken_at, DROP COLUMN source,
  DROP COLUMN window_title, DROP COLUMN about, DROP COLUMN verdict, DROP COLUMN words, DROP COLUMN found_text, DROP COLUMN discarded_at;
DROP TABLE captures;
