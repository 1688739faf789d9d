package server

import (
	"net/http"

	"raconte/api"
	"raconte/core/document"
	"raconte/store"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// GetLinks answers with what leads to a document.
func (s *Server) GetLinks(c *gin.Context, id string) error {
	all, err := s.Store.Documents.LinkedFrom(c.Request.Context(), id, accountOf(c).Viewer())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, func(l store.Linking) api.Linking {
		return api.Linking{Id: l.ID, Title: l.Title, How: api.LinkingHow(l.How), Block: l.Block, Draft: l.Draft}
	}))
}

// GetOthers answers with what a draft leads to, and what else is asked for.
func (s *Server) GetOthers(c *gin.Context, id string, p api.GetOthersParams) error {
	ctx, v := c.Request.Context(), accountOf(c).Viewer()
	around, err := s.Works.Around(ctx, id, false, v)
	if err == nil && p.Also != nil {
		var more document.Around
		if more, err = s.Store.Documents.Around(ctx, *p.Also, v); err == nil {
			more, err = s.Store.Documents.Timed(ctx, more, v)
		}
		if err == nil {
			for other, o := range s.Works.Addressed(more) {
				around[other] = o
			}
		}
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, around)
}

// AddSteps adds blocks to the end of a document.
func (s *Server) AddSteps(c *gin.Context, id string, in api.AddStepsJSONRequestBody) error {
	ctx := c.Request.Context()
	w, err := s.Store.Documents.Whole(ctx, id)
	if err != nil {
		return err
	}
	keys := make([]string, len(w.Rows))
	for i, r := range w.Rows {
		keys[i] = r.OrderKey
	}
	place := document.Arrange(keys, len(keys), len(in.Blocks))
	change := store.Change{ID: uuid.NewString()}
	for i, content := range in.Blocks {
		b := document.Block{ID: uuid.NewString(), Content: content}
		if err := b.Check(); err != nil {
			return problem(http.StatusUnprocessableEntity, sentence(err))
		}
		change.Blocks = append(change.Blocks, store.BlockEdit{ID: b.ID, OrderKey: place.Keys[i], Content: anew(content)})
	}
	for i, key := range place.Anew {
		r := w.Rows[i]
		change.Blocks = append(change.Blocks, store.BlockEdit{ID: r.ID, Base: r.Version, OrderKey: key, Content: r.Content})
	}
	if _, err := s.Store.Documents.Apply(ctx, id, change, accountOf(c).Viewer()); err != nil {
		return err
	}
	d, err := s.Store.Documents.Head(ctx, id)
	if err != nil {
		return err
	}
	s.publish(d, change.ID)
	return answer(c, http.StatusOK, s.summary(d))
}

// anew is content that may stand beside what it was copied from: its figures have ids of their own.
func anew(content document.Content) document.Content {
	for i := range content.Figures {
		content.Figures[i].ID = uuid.NewString()
	}
	return content
}

// GiveNumber gives a document a number.
func (s *Server) GiveNumber(c *gin.Context, id string) error {
	d, err := s.Store.Documents.GiveNumber(c.Request.Context(), id, accountOf(c).Viewer())
	if err != nil {
		return err
	}
	s.publish(d, "")
	return answer(c, http.StatusOK, s.summary(d))
}

// GetAlike answers with the documents that share many of their steps with one.
func (s *Server) GetAlike(c *gin.Context, id string) error {
	all, err := s.Store.Search.Alike(c.Request.Context(), id, accountOf(c).Viewer())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, func(a store.Alike) api.Alike {
		return api.Alike{Document: s.summary(a.Document), Share: a.Share}
	}))
}
