-- +goose Up
-- What approval keeps of a document since its last release: all who have written in it, and where it has lain, so that the
-- strictest rule that held is kept.
CREATE TABLE document_writers (
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  seq         BIGINT      NOT NULL, -- of the document, when they wrote last
  PRIMARY KEY (document_id, account_id),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE
);
CREATE TABLE document_places (
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  folder_id   CHAR(36)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL, -- '' for none
  seq         BIGINT      NOT NULL, -- of the document, when it was moved away from there
  PRIMARY KEY (document_id, folder_id),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE
);
ALTER TABLE revisions ADD COLUMN seq BIGINT NOT NULL DEFAULT 0; -- of the document, when it was made
INSERT INTO document_writers (document_id, account_id, seq)
  SELECT b.document_id, b.changed_by, MAX(b.seq) FROM blocks b JOIN documents d ON d.id = b.document_id
    LEFT JOIN revisions r ON r.document_id = d.id AND r.number = d.revision
    WHERE r.made_at IS NULL OR b.changed_at > r.made_at GROUP BY b.document_id, b.changed_by;
INSERT IGNORE INTO document_writers (document_id, account_id, seq)
  SELECT d.id, d.changed_by, d.seq FROM documents d LEFT JOIN revisions r ON r.document_id = d.id AND r.number = d.revision
    WHERE r.made_at IS NULL OR d.changed_at > r.made_at;

-- +goose Down
ALTER TABLE revisions DROP COLUMN seq;
DROP TABLE document_places, document_writers;
