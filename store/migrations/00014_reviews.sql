-- +goose Up
-- What a folder, and whatever lies in none, asks for before a revision is released: core/approval.Rule as JSON. Of a folder
-- that says nothing the rule is that of the one around it.
ALTER TABLE folders ADD COLUMN rule TEXT NULL;
ALTER TABLE house ADD COLUMN rule TEXT NULL;

-- Who has signed a revision, and what. One that holds from a later day is not valid before it.
ALTER TABLE revisions
  ADD COLUMN digest     CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN signatures TEXT NULL,
  ADD COLUMN holds_from DATE NULL,
  ADD COLUMN again      BOOLEAN NOT NULL DEFAULT FALSE; -- those who confirmed an earlier one are asked again

-- A document that was sent to people to be looked at (review), or to be signed (approval).
CREATE TABLE reviews (
  id          CHAR(36)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  approval    BOOLEAN     NOT NULL,
  digest      CHAR(64)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  note        TEXT        NOT NULL,
  due         DATE        NULL,
  holds_from  DATE        NULL, -- of an approval: the day from which the revision is valid
  asked_by    VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  asked_at    DATETIME(3) NOT NULL,
  closed_at   DATETIME(3) NULL,
  outcome     VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '', -- ended, approved, refused
  INDEX (document_id, asked_at),
  INDEX (closed_at, due),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (asked_by) REFERENCES accounts (id)
);
CREATE TABLE review_people (
  review_id   CHAR(36)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  place       INT         NOT NULL,
  answer      VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '', -- fine, changes, signed, refused
  words       TEXT        NOT NULL,
  digest      CHAR(64)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '', -- of what was answered on
  answered_at DATETIME(3) NULL,
  PRIMARY KEY (review_id, account_id),
  INDEX (account_id),
  FOREIGN KEY (review_id) REFERENCES reviews (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
);

-- Who is asked to confirm that they have read and understood a document, and who has.
CREATE TABLE confirmations (
  document_id  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id   VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  asked_at     DATETIME(3) NOT NULL,
  due          DATE        NULL,
  from_rev     INT         NOT NULL, -- the first revision that counts
  revision     INT         NOT NULL DEFAULT 0, -- that was confirmed; 0 is none yet
  confirmed_at DATETIME(3) NULL,
  PRIMARY KEY (document_id, account_id),
  INDEX (account_id),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
);

-- What is to be followed instead of a retired document.
ALTER TABLE documents ADD COLUMN replaced_by VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL;

-- +goose Down
ALTER TABLE documents DROP COLUMN replaced_by;
DROP TABLE confirmations, review_people, reviews;
ALTER TABLE revisions DROP COLUMN digest, DROP COLUMN signatures, DROP COLUMN holds_from, DROP COLUMN again;
ALTER TABLE house DROP COLUMN rule;
ALTER TABLE folders DROP COLUMN rule;
