-- +goose Up
-- Which documents hold which voices: a voice is heard, trimmed and taken over only by whom may see one of them. What was
-- known as a file of a document until now is a voice where it has no pages.
CREATE TABLE voices (
  document_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sha256      CHAR(64)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (document_id, sha256),
  KEY (sha256),
  FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE
);
INSERT INTO voices (document_id, sha256)
  SELECT f.document_id, f.sha256 FROM document_files f WHERE NOT EXISTS (SELECT 1 FROM file_pages p WHERE p.sha256 = f.sha256);

-- +goose Down
DROP TABLE voices;
