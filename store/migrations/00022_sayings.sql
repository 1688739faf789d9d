-- +goose Up
-- How the house says words, for synthetic voices.
CREATE TABLE sayings (
  word VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
  said VARCHAR(100) NOT NULL
);
INSERT INTO list_versions (list, version) VALUES ('sayings', 1);

-- +goose Down
DELETE FROM list_versions WHERE list = 'sayings';
DROP TABLE sayings;
