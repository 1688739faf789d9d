-- +goose Up
-- Where a person gets mail, what lets them in besides a password, and since when they no longer may.
ALTER TABLE accounts
  ADD COLUMN email       VARCHAR(254) NULL UNIQUE,
  ADD COLUMN subject     VARCHAR(255) CHARACTER SET ascii COLLATE ascii_bin NULL UNIQUE, -- who they are to the house's identity provider
  ADD COLUMN mails       VARCHAR(8)   NOT NULL DEFAULT 'now', -- notices by mail: now, daily, never
  ADD COLUMN summed_at   DATETIME(3)  NULL, -- the last daily summary
  ADD COLUMN disabled_at DATETIME(3)  NULL,
  ADD COLUMN otp_secret  VARCHAR(64)  NOT NULL DEFAULT '', -- of one-time codes; '' where they are off
  ADD COLUMN otp_step    BIGINT       NOT NULL DEFAULT 0, -- the last that was used, so that none is used twice
  ADD COLUMN recovery    TEXT         NULL; -- hashes of codes that were not used yet, as JSON

-- Links that let someone choose a password: each works once.
CREATE TABLE tickets (
  hash       CHAR(64)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  account_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  invites    BOOLEAN     NOT NULL,
  made_at    DATETIME(3) NOT NULL,
  ends_at    DATETIME(3) NOT NULL,
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
);

-- Where someone is signed in. The session holds the id.
CREATE TABLE sittings (
  id         CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  account_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  browser    VARCHAR(200) NOT NULL,
  address    VARCHAR(64)  NOT NULL,
  began_at   DATETIME(3)  NOT NULL,
  seen_at    DATETIME(3)  NOT NULL,
  INDEX (account_id),
  INDEX (seen_at),
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
);

-- What was done, in the order in which it was. It outlives what it is about, and is only ever added to.
CREATE TABLE trail (
  id          BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at          DATETIME(3)  NOT NULL,
  account_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  who         VARCHAR(100) NOT NULL, -- their name as it was
  act         VARCHAR(32)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  document_id VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NULL,
  about       VARCHAR(250) NOT NULL, -- the document's title, the person's or the folder's name, as it was
  told        VARCHAR(500) NOT NULL DEFAULT '',
  INDEX (document_id, id),
  INDEX (act, id)
);
-- +goose StatementBegin
CREATE TRIGGER trail_is_not_changed BEFORE UPDATE ON trail FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'The trail is only ever added to.';
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER trail_is_not_shortened BEFORE DELETE ON trail FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'The trail is only ever added to.';
-- +goose StatementEnd

-- What concerns someone. Ref is what it is about, so that nobody is told of the same twice.
CREATE TABLE notices (
  id          CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  account_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind        VARCHAR(16)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  document_id VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  ref         VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  who         VARCHAR(100) NOT NULL, -- whose act it tells of; '' where it is the calendar's
  told        VARCHAR(500) NOT NULL,
  at          DATETIME(3)  NOT NULL,
  read_at     DATETIME(3)  NULL,
  mailed_at   DATETIME(3)  NULL,
  UNIQUE (account_id, kind, ref),
  INDEX (account_id, at),
  INDEX (mailed_at, at),
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE,
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE
);

-- Work that failed and is tried again later.
ALTER TABLE jobs ADD COLUMN not_before DATETIME(3) NULL AFTER attempts;

-- +goose Down
ALTER TABLE jobs DROP COLUMN not_before;
DROP TABLE notices, trail, sittings, tickets;
ALTER TABLE accounts DROP COLUMN email, DROP COLUMN subject, DROP COLUMN mails, DROP COLUMN summed_at, DROP COLUMN disabled_at,
  DROP COLUMN otp_secret, DROP COLUMN otp_step, DROP COLUMN recovery;
