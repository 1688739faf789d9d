-- +goose Up
-- Addresses, subjects and names are compared byte by byte: without regard neither to accents nor to blanks at the end.
ALTER TABLE accounts
  MODIFY name    VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  MODIFY email   VARCHAR(254) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
  MODIFY subject VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL;

-- +goose Down
ALTER TABLE accounts
  MODIFY name    VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  MODIFY email   VARCHAR(254) NULL,
  MODIFY subject VARCHAR(255) CHARACTER SET ascii COLLATE ascii_bin NULL;
