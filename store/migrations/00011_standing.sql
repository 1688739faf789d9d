-- +goose Up
-- Deliveries that are made again at each release, into a place of the house: a folder of the server, or an object store.
CREATE TABLE standings (
  id          CHAR(36)     CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  document_id VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  payload     MEDIUMTEXT   NOT NULL, -- what is ordered
  place       VARCHAR(64)  NOT NULL, -- by its name in the configuration
  path        VARCHAR(200) NOT NULL, -- in it
  revision    INT          NOT NULL DEFAULT 0, -- that lies there
  files       MEDIUMTEXT   NOT NULL, -- that were put there, as JSON
  error       VARCHAR(500) NOT NULL DEFAULT '', -- why the last was not
  made_by     VARCHAR(64)  CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  made_at     DATETIME(3)  NOT NULL,
  put_at      DATETIME(3)  NULL,
  deleted     BOOLEAN      NOT NULL DEFAULT FALSE, -- its files are still to be taken away
  INDEX (document_id),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (made_by) REFERENCES accounts (id)
);

-- +goose Down
DROP TABLE standings;
