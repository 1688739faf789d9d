-- +goose Up
-- The team's named styles of marks.
CREATE TABLE styles (
  id      CHAR(36)     NOT NULL PRIMARY KEY,
  name    VARCHAR(100) NOT NULL,
  kind    VARCHAR(32)  NOT NULL,
  style   TEXT         NOT NULL,
  made_by CHAR(36)     NOT NULL,
  made_at DATETIME(3)  NOT NULL,
  UNIQUE (kind, name),
  FOREIGN KEY (made_by) REFERENCES accounts (id)
);

-- The team's own words that are suggested for concealment.
CREATE TABLE secret_words (
  word VARCHAR(200) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL PRIMARY KEY
);

-- +goose Down
DROP TABLE secret_words, styles;
