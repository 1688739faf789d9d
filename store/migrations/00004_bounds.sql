-- +goose Up
-- Ids are the same bytes everywhere: [A-Za-z0-9_-]{1,64}, compared byte by byte. One that is not so gets the id that
-- core/id.Mended makes of it; stored words and figures are read with the same.
ALTER TABLE documents DROP FOREIGN KEY documents_ibfk_1;
ALTER TABLE steps DROP FOREIGN KEY steps_ibfk_1, DROP FOREIGN KEY steps_ibfk_2;
ALTER TABLE shots DROP FOREIGN KEY shots_ibfk_1, DROP FOREIGN KEY shots_ibfk_2;
ALTER TABLE step_shots DROP FOREIGN KEY step_shots_ibfk_1, DROP FOREIGN KEY step_shots_ibfk_2;
ALTER TABLE changes DROP FOREIGN KEY changes_ibfk_1;
ALTER TABLE revisions DROP FOREIGN KEY revisions_ibfk_1, DROP FOREIGN KEY revisions_ibfk_2;
ALTER TABLE revision_shots DROP FOREIGN KEY revision_shots_ibfk_1, DROP FOREIGN KEY revision_shots_ibfk_2;
ALTER TABLE captures DROP FOREIGN KEY captures_ibfk_1;
ALTER TABLE jobs DROP FOREIGN KEY jobs_ibfk_1;
ALTER TABLE devices DROP FOREIGN KEY devices_ibfk_1;
ALTER TABLE styles DROP FOREIGN KEY styles_ibfk_1;

UPDATE shots SET id = CONCAT('x', LEFT(SHA2(id, 256), 40)) WHERE CAST(id AS BINARY) NOT REGEXP '^[A-Za-z0-9_-]{1,64}$';
UPDATE step_shots SET shot_id = CONCAT('x', LEFT(SHA2(shot_id, 256), 40)) WHERE CAST(shot_id AS BINARY) NOT REGEXP '^[A-Za-z0-9_-]{1,64}$';
UPDATE revision_shots SET shot_id = CONCAT('x', LEFT(SHA2(shot_id, 256), 40)) WHERE CAST(shot_id AS BINARY) NOT REGEXP '^[A-Za-z0-9_-]{1,64}$';
UPDATE steps SET id = CONCAT('x', LEFT(SHA2(id, 256), 40)) WHERE CAST(id AS BINARY) NOT REGEXP '^[A-Za-z0-9_-]{1,64}$';
UPDATE step_shots SET step_id = CONCAT('x', LEFT(SHA2(step_id, 256), 40)) WHERE CAST(step_id AS BINARY) NOT REGEXP '^[A-Za-z0-9_-]{1,64}$';
UPDATE captures SET id = CONCAT('x', LEFT(SHA2(id, 256), 40)) WHERE CAST(id AS BINARY) NOT REGEXP '^[A-Za-z0-9_-]{1,64}$';
UPDATE shots SET capture_id = CONCAT('x', LEFT(SHA2(capture_id, 256), 40)) WHERE CAST(capture_id AS BINARY) NOT REGEXP '^[A-Za-z0-9_-]{1,64}$';
UPDATE changes SET id = CONCAT('x', LEFT(SHA2(id, 256), 40)) WHERE CAST(id AS BINARY) NOT REGEXP '^[A-Za-z0-9_-]{1,64}$';

ALTER TABLE accounts
  MODIFY id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY name VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  ADD COLUMN epoch INT NOT NULL DEFAULT 1; -- sessions of an earlier one have ended
ALTER TABLE documents
  MODIFY id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY changed_by CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  ADD COLUMN deleted_by CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL;
ALTER TABLE steps
  MODIFY document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY changed_by CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  ADD COLUMN bytes INT NOT NULL DEFAULT 0, -- of content
  ADD INDEX (removed, changed_at);
ALTER TABLE shots
  MODIFY id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY created_by CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY capture_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD INDEX (created_by, discarded_at);
ALTER TABLE step_shots
  MODIFY document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY step_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY shot_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE changes
  MODIFY document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE revisions
  MODIFY document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY made_by CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  ADD COLUMN title VARCHAR(200) NOT NULL DEFAULT '',
  ADD COLUMN steps INT NOT NULL DEFAULT 0;
ALTER TABLE revision_shots
  MODIFY document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY shot_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE captures
  MODIFY id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY owner CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE jobs
  MODIFY id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY owner CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  ADD INDEX (kind, state, created_at), -- the next to claim, and none but it
  ADD INDEX (kind, state, alive_at),
  ADD INDEX (finished_at);
ALTER TABLE devices
  MODIFY id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY owner CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE styles
  MODIFY id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  MODIFY made_by CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;

ALTER TABLE documents ADD FOREIGN KEY (changed_by) REFERENCES accounts (id);
ALTER TABLE steps ADD FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE, ADD FOREIGN KEY (changed_by) REFERENCES accounts (id);
ALTER TABLE captures ADD FOREIGN KEY (owner) REFERENCES accounts (id);
ALTER TABLE shots ADD FOREIGN KEY (created_by) REFERENCES accounts (id), ADD FOREIGN KEY (capture_id) REFERENCES captures (id);
ALTER TABLE step_shots ADD FOREIGN KEY (document_id, step_id) REFERENCES steps (document_id, id) ON DELETE CASCADE, ADD FOREIGN KEY (shot_id) REFERENCES shots (id);
ALTER TABLE changes ADD FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE;
ALTER TABLE revisions ADD FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE, ADD FOREIGN KEY (made_by) REFERENCES accounts (id);
ALTER TABLE revision_shots ADD FOREIGN KEY (document_id, number) REFERENCES revisions (document_id, number) ON DELETE CASCADE, ADD FOREIGN KEY (shot_id) REFERENCES shots (id);
ALTER TABLE jobs ADD FOREIGN KEY (owner) REFERENCES accounts (id);
ALTER TABLE devices ADD FOREIGN KEY (owner) REFERENCES accounts (id);
ALTER TABLE styles ADD FOREIGN KEY (made_by) REFERENCES accounts (id);

UPDATE steps SET bytes = LENGTH(content);
UPDATE revisions SET title = COALESCE(JSON_VALUE(content, '$.title'), ''), steps = COALESCE(JSON_LENGTH(content, '$.steps'), 0);

-- Which step of a document holds which figure, removed steps left out: no figure is in two of them.
CREATE TABLE step_figures (
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  figure_id   VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  step_id     VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (document_id, figure_id),
  INDEX (document_id, step_id),
  FOREIGN KEY (document_id, step_id) REFERENCES steps (document_id, id) ON DELETE CASCADE
);
INSERT IGNORE INTO step_figures (document_id, figure_id, step_id)
  SELECT s.document_id, IF(CAST(f.id AS BINARY) REGEXP '^[A-Za-z0-9_-]{1,64}$', f.id, CONCAT('x', LEFT(SHA2(f.id, 256), 40))), s.id
  FROM steps s, JSON_TABLE(s.content, '$.figures[*]' COLUMNS (id VARCHAR(64) CHARACTER SET utf8mb4 PATH '$.id')) f
  WHERE NOT s.removed AND f.id IS NOT NULL;

-- Browsers that an account has signed in from, by a hash of what their cookie holds. Guesses from elsewhere do not
-- keep them waiting.
CREATE TABLE places (
  account CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  token_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  PRIMARY KEY (account, token_hash),
  INDEX (seen_at),
  FOREIGN KEY (account) REFERENCES accounts (id) ON DELETE CASCADE
);

-- How often a shared list was replaced, so that nobody replaces one that they have not seen.
CREATE TABLE list_versions (
  list    VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  version INT NOT NULL
);
INSERT INTO list_versions (list, version) VALUES ('secret-words', 1);

-- What is concealed in everything that was handed out before, whatever the revision says: areas of shots in their pixels.
CREATE TABLE withheld (
  id       CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  shot_id  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  areas    TEXT NOT NULL,
  made_by  CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  made_at  DATETIME(3) NOT NULL,
  INDEX (shot_id),
  FOREIGN KEY (shot_id) REFERENCES shots (id) ON DELETE CASCADE,
  FOREIGN KEY (made_by) REFERENCES accounts (id)
);

-- What happened to a document besides its revisions.
CREATE TABLE history (
  id          BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  what        VARCHAR(32) NOT NULL,
  told        VARCHAR(500) NOT NULL,
  made_by     CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  made_at     DATETIME(3) NOT NULL,
  INDEX (document_id, id),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE,
  FOREIGN KEY (made_by) REFERENCES accounts (id)
);

-- +goose Down
DROP TABLE history, withheld, list_versions, places, step_figures;
ALTER TABLE revisions DROP COLUMN title, DROP COLUMN steps;
ALTER TABLE steps DROP COLUMN bytes;
ALTER TABLE documents DROP COLUMN deleted_by;
ALTER TABLE accounts DROP COLUMN epoch;
