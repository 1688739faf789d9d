package server

import (
	"net/http"

	"raconte/api"
	"raconte/core/document"
	"raconte/core/readiness"
	"raconte/core/sight"
	"raconte/store"

	"raconte/core/figure"

	"github.com/gin-gonic/gin"
)

// GetLooks answers with what is worth a look where words, pictures and paper are held against each other.
func (s *Server) GetLooks(c *gin.Context, id string, p api.GetLooksParams) error {
	ctx := c.Request.Context()
	w, err := s.Store.Documents.Whole(ctx, id)
	if err != nil {
		return err
	}
	read, own, err := s.Store.Documents.Read(ctx, w.Core())
	if err != nil {
		return err
	}
	st, err := s.Works.StyleOf(ctx, w)
	if err != nil {
		return err
	}
	findings := append(readiness.Repeated(w.Core(), read, own), readiness.Pictured(w.Core(), st, read)...)
	if of(p.All) {
		around, err := s.Works.Around(ctx, id, false, accountOf(c).Viewer())
		if err != nil {
			return err
		}
		sizes := make(map[string]figure.Size, len(read))
		for shot, r := range read {
			sizes[shot] = r.Size
		}
		findings = append(readiness.Check(w.Core(), sizes, around), findings...)
	}
	return answer(c, http.StatusOK, findings)
}

// GetRepeats answers with the steps whose picture shows the same as the one of the step before.
func (s *Server) GetRepeats(c *gin.Context, id string) error {
	w, err := s.Store.Documents.Whole(c.Request.Context(), id)
	if err != nil {
		return err
	}
	shots := map[string]store.Shot{}
	for _, shot := range w.Shots {
		shots[shot.ID] = shot
	}
	return answer(c, http.StatusOK, repeats(w.Core().Blocks, shots))
}

// repeats are the steps that say nothing of their own, and whose one picture shows the same as that of the step before.
func repeats(blocks []document.Block, shots map[string]store.Shot) []string {
	ids := []string{}
	var before *store.Shot
	said := ""
	for _, b := range blocks {
		if b.Type != document.Step || len(b.Figures) != 1 || b.Document != "" || b.Notice != nil {
			before = nil
			continue
		}
		shot, known := shots[b.Figures[0].Shot]
		words := b.Words.Reading(nil)
		if before != nil && known && same(*before, shot) && (b.Words.Empty() || words == said) {
			ids = append(ids, b.ID)
			continue
		}
		before, said = &shot, words
	}
	return ids
}

// same tells whether a shot shows the same as one before it: the same file, or taken right after it with nothing
// changed but the pointer.
func same(a, b store.Shot) bool {
	if a.SHA256 == b.SHA256 {
		return true
	}
	return a.CaptureID != nil && b.CaptureID != nil && *a.CaptureID == *b.CaptureID && b.Place == a.Place+1 &&
		(b.Verdict == sight.Same || b.Verdict == sight.Pointer)
}
