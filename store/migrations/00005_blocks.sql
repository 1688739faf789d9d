-- +goose Up
-- A document is facts and typed blocks. What was stored as a step is read as one: core/document.Format 4.
RENAME TABLE steps TO blocks, step_shots TO block_shots, step_figures TO block_figures;
ALTER TABLE blocks ADD COLUMN type VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'step' AFTER id;
ALTER TABLE blocks ALTER COLUMN type DROP DEFAULT;
ALTER TABLE block_shots RENAME COLUMN step_id TO block_id;
ALTER TABLE block_figures RENAME COLUMN step_id TO block_id;
ALTER TABLE documents
  RENAME COLUMN title_version TO facts_version,
  ADD COLUMN facts LONGTEXT NOT NULL DEFAULT '{}' AFTER kind; -- the title stands beside them, to be searched
UPDATE documents SET facts = JSON_OBJECT('title', title);

UPDATE styles SET kind = 'detail' WHERE kind = 'loupe';

-- One kind of job makes files of documents, in whatever format.
ALTER TABLE jobs
  ADD COLUMN document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN bytes BIGINT NOT NULL DEFAULT 0, -- of the file that was made
  ADD INDEX (document_id, created_at),
  ADD INDEX (owner, created_at);
UPDATE jobs SET kind = 'deliver', document_id = JSON_VALUE(payload, '$.document'), payload = JSON_SET(payload, '$.format', 'pdf') WHERE kind = 'pdf';
UPDATE jobs SET document_id = NULL WHERE document_id NOT IN (SELECT id FROM documents);
ALTER TABLE jobs ADD FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE;

-- +goose Down
ALTER TABLE jobs DROP FOREIGN KEY jobs_ibfk_2, DROP COLUMN document_id, DROP COLUMN bytes;
UPDATE styles SET kind = 'loupe' WHERE kind = 'detail';
UPDATE jobs SET kind = 'pdf' WHERE kind = 'deliver';
ALTER TABLE documents RENAME COLUMN facts_version TO title_version, DROP COLUMN facts;
ALTER TABLE block_figures RENAME COLUMN block_id TO step_id;
ALTER TABLE block_shots RENAME COLUMN block_id TO step_id;
ALTER TABLE blocks DROP COLUMN type;
RENAME TABLE blocks TO steps, block_shots TO step_shots, block_figures TO step_figures;
