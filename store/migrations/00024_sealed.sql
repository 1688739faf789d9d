-- +goose Up
-- What opens something is sealed, and a sealed text is longer than what it holds.
ALTER TABLE accounts MODIFY COLUMN otp_secret VARCHAR(255) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE accounts MODIFY COLUMN otp_secret VARCHAR(64) NOT NULL DEFAULT '';
