-- +goose Up
-- What is looked at each second or minute is read by an index, however large the house is.
ALTER TABLE documents
  ADD COLUMN unfound BOOLEAN AS ((found_seq < seq OR found_revision < revision) AND deleted_at IS NULL) PERSISTENT,
  ADD INDEX (unfound),
  ADD INDEX (review, id);
ALTER TABLE confirmations ADD INDEX (due);
ALTER TABLE reviews ADD INDEX (closed_at, due);
ALTER TABLE revisions ADD INDEX (holds_from);

-- +goose Down
ALTER TABLE revisions DROP INDEX holds_from;
ALTER TABLE reviews DROP INDEX closed_at;
ALTER TABLE confirmations DROP INDEX due;
ALTER TABLE documents DROP INDEX review, DROP INDEX unfound, DROP COLUMN unfound;
