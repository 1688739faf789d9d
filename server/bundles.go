package server

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"time"

	"raconte/intake"
	"raconte/output/bundle"
	"raconte/pictures"
	"raconte/store"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// ExportBundle answers with a document and its shots in one file.
func (s *Server) ExportBundle(c *gin.Context, id string) {
	w, err := s.Store.Whole(c, id)
	if err != nil {
		s.fail(c, err)
		return
	}
	byID, bySHA := map[string]store.Shot{}, map[string]store.Shot{}
	for _, shot := range w.Shots {
		byID[shot.ID], bySHA[shot.SHA256] = shot, shot
	}
	d := w.Core()
	for i := range d.Steps {
		for j := range d.Steps[i].Figures {
			d.Steps[i].Figures[j] = d.Steps[i].Figures[j].WithShots(func(id string) string { return byID[id].SHA256 })
		}
	}
	tmp, err := os.CreateTemp("", "raconte-export-*")
	if err != nil {
		s.fail(c, err)
		return
	}
	defer os.Remove(tmp.Name())
	defer tmp.Close()
	err = bundle.Write(tmp, d, func(sha string) (bundle.Content, error) {
		shot := bySHA[sha]
		file, err := s.Pictures.Original(c, shot.ID)
		return bundle.Content{Data: file.Data, Type: file.Type, Name: shot.Name, About: &shot.About}, err
	})
	if err == nil {
		_, err = tmp.Seek(0, io.SeekStart)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Type", "application/zip")
	c.Header("Content-Disposition", disposition(fileName(w.Title, "bundle")))
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, tmp)
}

// ImportBundle makes a document from a bundle, all or nothing.
func (s *Server) ImportBundle(c *gin.Context) {
	tmp, err := os.CreateTemp("", "raconte-import-*")
	if err != nil {
		s.fail(c, err)
		return
	}
	defer os.Remove(tmp.Name())
	defer tmp.Close()
	size, err := io.Copy(tmp, c.Request.Body)
	if err != nil {
		if large := bodyError(err); large != nil {
			s.fail(c, large)
			return
		}
		problem(c, http.StatusBadRequest, "The bundle did not arrive whole. Nothing was imported. Send it again.")
		return
	}
	b, err := bundle.Open(tmp, size)
	if err == nil {
		var d store.Document
		if d, err = s.unpack(c, b, accountOf(c).ID); err == nil {
			s.created(c, d, nil)
			return
		}
	}
	var refusal bundle.Refusal
	if errors.As(err, &refusal) {
		problem(c, http.StatusUnprocessableEntity, refusal.Reason+" Nothing was imported.")
		return
	}
	s.fail(c, err)
}

// unpack keeps a checked bundle's shots, each under a new id, then the document in one transaction.
// Shots whose document was refused after all are used nowhere and swept.
func (s *Server) unpack(ctx context.Context, b *bundle.Bundle, by string) (store.Document, error) {
	ids := map[string]string{}
	for _, sha := range b.Document.Shots() {
		data, err := b.Shot(sha)
		if err != nil {
			return store.Document{}, err
		}
		id := uuid.NewString()
		_, err = s.Pictures.Restore(ctx, arrivalOf(b.Shots[sha], id, data, by))
		var refusal intake.Refusal
		if errors.As(err, &refusal) {
			return store.Document{}, bundle.Refusal{Reason: fmt.Sprintf("The shot %.12s… can't be used: %s", sha, refusal.Reason)}
		}
		if err != nil {
			return store.Document{}, err
		}
		ids[sha] = id
	}
	d := b.Document
	for i := range d.Steps {
		for j := range d.Steps[i].Figures {
			d.Steps[i].Figures[j] = d.Steps[i].Figures[j].WithShots(func(sha string) string { return ids[sha] })
		}
	}
	return s.Store.CreateWhole(ctx, d, by)
}

// arrivalOf is a bundle's shot as it comes in.
func arrivalOf(shot bundle.Shot, id string, data []byte, by string) pictures.Arrival {
	in := pictures.Arrival{ID: id, Name: shot.Name, Data: data, By: by}
	if shot.About != nil {
		in.About = *shot.About
	}
	return in
}
