-- +goose Up
-- Whoever works on a job holds its newest token; what one with an older token writes is not taken. The same for what a
-- standing delivery puts where.
ALTER TABLE jobs ADD COLUMN token BIGINT NOT NULL DEFAULT 0 AFTER attempts;
ALTER TABLE standings ADD COLUMN turn BIGINT NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE standings DROP COLUMN turn;
ALTER TABLE jobs DROP COLUMN token;
