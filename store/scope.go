package store

import (
	"raconte/core/access"

	"gorm.io/gorm"
)

// scope leaves of a query of documents what a viewer may know of: nothing in folders that are closed to them, and, for
// who only reads, nothing that was never released. Every list, count, event and link asks it.
func scope(q *gorm.DB, v access.Viewer) *gorm.DB {
	if !reviews(v) {
		q = q.Where("documents.revision > 0")
	}
	if len(v.Closed) == 0 {
		return q
	}
	return q.Where("(documents.folder_id IS NULL OR documents.folder_id NOT IN ?)", v.Closed)
}

// reviews tells whether a viewer may see drafts.
func reviews(v access.Viewer) bool { return access.May(v, access.Review, access.Thing{}) }

// titleFor is the column of the title by which a viewer knows a document: who only reads, by that of its valid
// revision.
func titleFor(v access.Viewer) string {
	if reviews(v) {
		return "documents.title"
	}
	return "(SELECT r.title FROM revisions r WHERE r.document_id = documents.id AND r.number = documents.revision) AS title"
}

func first(all []string) string {
	if len(all) == 0 {
		return ""
	}
	return all[0]
}
