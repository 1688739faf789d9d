-- +goose Up
-- What holds for the whole house, in one row. Whoever changes where documents lead locks it first, so that no chain of
-- links is closed by two people at once.
CREATE TABLE house (
  id       TINYINT      NOT NULL PRIMARY KEY,
  pattern  VARCHAR(60)  NOT NULL, -- by which documents are numbered: core/document.Pattern
  numbered INT          NOT NULL DEFAULT 0
);
INSERT INTO house (id, pattern) VALUES (1, '{kind}-{nnn}');

-- Groups of people, and folders in up to three levels. A folder that is not open is for its members alone.
CREATE TABLE circles (
  id   CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  name VARCHAR(100) NOT NULL UNIQUE
);
CREATE TABLE circle_members (
  circle_id  CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (circle_id, account_id),
  FOREIGN KEY (circle_id) REFERENCES circles (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
);
CREATE TABLE folders (
  id        CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  parent_id CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NULL,
  name      VARCHAR(100) NOT NULL,
  open      BOOLEAN      NOT NULL DEFAULT TRUE,
  ask       VARCHAR(100) NOT NULL DEFAULT '', -- whom to ask for what is in it
  FOREIGN KEY (parent_id) REFERENCES folders (id)
);
CREATE TABLE folder_members (
  folder_id  CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  circle_id  CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
  UNIQUE (folder_id, account_id),
  UNIQUE (folder_id, circle_id),
  FOREIGN KEY (folder_id) REFERENCES folders (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE,
  FOREIGN KEY (circle_id) REFERENCES circles (id) ON DELETE CASCADE
);

-- What is looked for, sorted and unique stands beside the facts.
ALTER TABLE documents
  ADD COLUMN folder_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL AFTER facts,
  ADD COLUMN number VARCHAR(100) NULL AFTER folder_id,
  ADD COLUMN owner VARCHAR(100) NOT NULL DEFAULT '' AFTER number,
  ADD COLUMN review DATE NULL AFTER owner,
  ADD COLUMN template BOOLEAN NOT NULL DEFAULT FALSE AFTER review,
  ADD COLUMN found_seq BIGINT NOT NULL DEFAULT -1 AFTER seq, -- up to which the search knows the draft
  ADD COLUMN found_revision INT NOT NULL DEFAULT 0 AFTER found_seq,
  ADD UNIQUE (number),
  ADD INDEX (review),
  ADD FOREIGN KEY (folder_id) REFERENCES folders (id);
-- A revision says itself what kind it is of: a filed PDF that was rewritten was one before.
ALTER TABLE revisions ADD COLUMN kind VARCHAR(32) NOT NULL DEFAULT 'procedure' AFTER number;
ALTER TABLE revisions ALTER COLUMN kind DROP DEFAULT;

-- Where documents lead: of the draft, and of the valid revision.
CREATE TABLE document_links (
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  valid       BOOLEAN     NOT NULL,
  block_id    VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  to_id       VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  how         VARCHAR(8)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (document_id, valid, block_id, to_id, how),
  INDEX (to_id, how),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE
);

-- Filed PDFs: the file, and which documents, in whatever revision, hold it.
CREATE TABLE document_files (
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sha256      CHAR(64)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (document_id, sha256),
  INDEX (sha256),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE
);
CREATE TABLE file_pages (
  sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  page   INT      NOT NULL,
  text   MEDIUMTEXT NOT NULL,
  PRIMARY KEY (sha256, page)
);

-- What the search finds: blocks of the draft, for those who edit, and of the valid revision, for all; pages of filed PDFs.
CREATE TABLE findable (
  id          BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  valid       BOOLEAN     NOT NULL,
  block_id    VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, -- '' for title and number
  place       INT         NOT NULL, -- among the blocks; the page of a filed PDF
  words       MEDIUMTEXT  NOT NULL,
  pictured    MEDIUMTEXT  NOT NULL, -- text in its pictures, as far as it shows
  figure_id   VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '', -- the first of its pictures
  hash        BIGINT UNSIGNED AS (CRC32(words) * 4294967296 + CRC32(REVERSE(words))) PERSISTENT, -- of its words, for those that are the same
  INDEX (hash),
  UNIQUE (document_id, valid, block_id, place),
  FULLTEXT (words, pictured),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE
);

-- The words there are, so that a misspelt one is known as such.
CREATE TABLE findable_words (
  word VARCHAR(40) COLLATE utf8mb4_bin NOT NULL PRIMARY KEY
);

-- What a person has pinned, and opened last.
CREATE TABLE shelf (
  account_id  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  pinned      BOOLEAN     NOT NULL DEFAULT FALSE,
  opened_at   DATETIME(3) NULL,
  PRIMARY KEY (account_id, document_id),
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE,
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE
);

-- +goose Down
DROP TABLE shelf, findable_words, findable, file_pages, document_files, document_links;
ALTER TABLE revisions DROP COLUMN kind;
ALTER TABLE documents DROP FOREIGN KEY documents_ibfk_3, DROP COLUMN folder_id, DROP COLUMN number, DROP COLUMN owner, DROP COLUMN review,
  DROP COLUMN template, DROP COLUMN found_seq, DROP COLUMN found_revision;
DROP TABLE folder_members, folders, circle_members, circles, house;
