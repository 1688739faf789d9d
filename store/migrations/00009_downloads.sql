-- +goose Up
-- Who has taken the file of a delivery, and when last.
CREATE TABLE downloads (
  job_id     CHAR(36)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  at         DATETIME(3) NOT NULL,
  PRIMARY KEY (job_id, account_id),
  FOREIGN KEY (job_id) REFERENCES jobs (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES accounts (id)
);
-- An order may name all the steps of a long document.
ALTER TABLE jobs MODIFY payload MEDIUMTEXT NOT NULL;

-- +goose Down
ALTER TABLE jobs MODIFY payload TEXT NOT NULL;
DROP TABLE downloads;
