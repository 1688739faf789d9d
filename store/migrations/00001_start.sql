-- +goose Up
CREATE TABLE accounts (
  id            CHAR(36)     NOT NULL PRIMARY KEY,
  name          VARCHAR(100) NOT NULL UNIQUE,
  display_name  VARCHAR(100) NOT NULL,
  role          VARCHAR(16)  NOT NULL,
  password_hash VARCHAR(255) NOT NULL
);

-- The shape that the session package's MySQL store wants.
CREATE TABLE sessions (
  token  CHAR(43)     NOT NULL PRIMARY KEY,
  data   BLOB         NOT NULL,
  expiry TIMESTAMP(6) NOT NULL,
  INDEX (expiry)
);

CREATE TABLE documents (
  id            VARCHAR(64)  NOT NULL PRIMARY KEY,
  kind          VARCHAR(32)  NOT NULL,
  title         VARCHAR(200) NOT NULL,
  title_version INT          NOT NULL DEFAULT 1,
  state         VARCHAR(16)  NOT NULL,
  revision      INT          NOT NULL DEFAULT 0,
  seq           BIGINT       NOT NULL DEFAULT 0,
  steps         INT          NOT NULL DEFAULT 0,
  changed_by    CHAR(36)     NOT NULL,
  changed_at    DATETIME(3)  NOT NULL,
  deleted_at    DATETIME(3)  NULL,
  INDEX (deleted_at, changed_at),
  FOREIGN KEY (changed_by) REFERENCES accounts (id)
);

CREATE TABLE steps (
  document_id VARCHAR(64)  NOT NULL,
  id          VARCHAR(64)  NOT NULL,
  order_key   VARCHAR(191) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  content     LONGTEXT     NOT NULL,
  version     INT          NOT NULL,
  seq         BIGINT       NOT NULL,
  removed     BOOLEAN      NOT NULL DEFAULT FALSE,
  changed_by  CHAR(36)     NOT NULL,
  changed_at  DATETIME(3)  NOT NULL,
  PRIMARY KEY (document_id, id),
  INDEX (document_id, seq),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (changed_by) REFERENCES accounts (id)
);

CREATE TABLE shots (
  id         VARCHAR(64)  NOT NULL PRIMARY KEY,
  sha256     CHAR(64)     CHARACTER SET ascii NOT NULL,
  media_type VARCHAR(32)  NOT NULL,
  width      INT          NOT NULL,
  height     INT          NOT NULL,
  bytes      BIGINT       NOT NULL,
  name       VARCHAR(255) NOT NULL,
  created_by CHAR(36)     NOT NULL,
  created_at DATETIME(3)  NOT NULL,
  INDEX (sha256),
  INDEX (created_at),
  FOREIGN KEY (created_by) REFERENCES accounts (id)
);

-- Which steps, removed ones included, hold which shots: what a sweep must keep.
CREATE TABLE step_shots (
  document_id VARCHAR(64) NOT NULL,
  step_id     VARCHAR(64) NOT NULL,
  shot_id     VARCHAR(64) NOT NULL,
  PRIMARY KEY (document_id, step_id, shot_id),
  FOREIGN KEY (document_id, step_id) REFERENCES steps (document_id, id) ON DELETE CASCADE,
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);

-- Changes that were applied, so that one sent twice is applied once.
CREATE TABLE changes (
  document_id VARCHAR(64) NOT NULL,
  id          VARCHAR(64) NOT NULL,
  seq         BIGINT      NOT NULL,
  made_at     DATETIME(3) NOT NULL,
  PRIMARY KEY (document_id, id),
  INDEX (made_at),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE
);

CREATE TABLE revisions (
  document_id VARCHAR(64) NOT NULL,
  number      INT         NOT NULL,
  content     LONGTEXT    NOT NULL,
  made_by     CHAR(36)    NOT NULL,
  made_at     DATETIME(3) NOT NULL,
  PRIMARY KEY (document_id, number),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (made_by) REFERENCES accounts (id)
);

CREATE TABLE revision_shots (
  document_id VARCHAR(64) NOT NULL,
  number      INT         NOT NULL,
  shot_id     VARCHAR(64) NOT NULL,
  PRIMARY KEY (document_id, number, shot_id),
  FOREIGN KEY (document_id, number) REFERENCES revisions (document_id, number) ON DELETE CASCADE,
  FOREIGN KEY (shot_id) REFERENCES shots (id)
);

CREATE TABLE jobs (
  id          CHAR(36)     NOT NULL PRIMARY KEY,
  kind        VARCHAR(32)  NOT NULL,
  payload     TEXT         NOT NULL,
  state       VARCHAR(16)  NOT NULL,
  done        INT          NOT NULL DEFAULT 0,
  total       INT          NOT NULL DEFAULT 0,
  attempts    INT          NOT NULL DEFAULT 0,
  error       VARCHAR(500) NOT NULL DEFAULT '',
  result      TEXT         NOT NULL DEFAULT '',
  owner       CHAR(36)     NOT NULL,
  created_at  DATETIME(3)  NOT NULL,
  alive_at    DATETIME(3)  NULL,
  finished_at DATETIME(3)  NULL,
  INDEX (state, created_at),
  FOREIGN KEY (owner) REFERENCES accounts (id)
);

-- Pictures made from shots, kept until they are old; they can always be made again.
CREATE TABLE renditions (
  cache_key  CHAR(64)    CHARACTER SET ascii NOT NULL PRIMARY KEY,
  media_type VARCHAR(32) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  INDEX (created_at)
);

-- +goose Down
DROP TABLE renditions, jobs, revision_shots, revisions, changes, step_shots, shots, steps, documents, sessions, accounts;
