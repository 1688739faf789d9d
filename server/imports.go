package server

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"path"
	"strconv"
	"strings"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/intake/prose"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// ImportFile makes a document of a file that another program wrote, or of a zipped folder with one.
func (s *Server) ImportFile(c *gin.Context, p api.ImportFileParams) error {
	if !may(c, access.Edit, access.Thing{Folder: of(p.Folder)}) {
		return store.ErrNotFound
	}
	tmp, size, gone, err := s.arrived(c, "raconte-import-*")
	if err != nil {
		return err
	}
	defer gone()
	ctx, cancel := context.WithTimeout(c.Request.Context(), unpacking(size))
	defer cancel()
	d, left, err := s.imported(ctx, tmp, size, p.Name, of(p.Folder), accountOf(c).ID)
	reason, refused := refusal.Reason(err)
	switch {
	case refused:
		return problem(http.StatusUnprocessableEntity, reason+" Nothing was brought in.")
	case errors.Is(err, context.DeadlineExceeded):
		return problem(http.StatusUnprocessableEntity, "The file takes too long to read. Nothing was brought in.")
	case err != nil:
		return err
	}
	s.publish(d, "")
	return answer(c, http.StatusCreated, api.Imported{Document: s.summary(d), Left: left})
}

func (s *Server) imported(ctx context.Context, r io.ReaderAt, size int64, name, folder, by string) (store.Document, []string, error) {
	name = path.Base(strings.ReplaceAll(name, `\`, "/"))
	var files fs.FS
	if prose.Readable(name) {
		data, err := io.ReadAll(io.NewSectionReader(r, 0, size))
		if err != nil {
			return store.Document{}, nil, fmt.Errorf("reading what was brought in: %w", err)
		}
		if !fs.ValidPath(name) {
			return store.Document{}, nil, refusal.New("The file has no usable name.")
		}
		files = prose.File(name, data)
	} else {
		z, err := prose.Unzip(r, size)
		if err != nil {
			return store.Document{}, nil, err
		}
		files = z
	}
	made, err := prose.Read(ctx, name, files, uuid.NewString)
	if err != nil {
		return store.Document{}, nil, err
	}
	left := append([]string{}, made.Left...)
	shots := map[string]string{} // by the pictures' indexes
	for i, p := range made.Pictures {
		shot := uuid.NewString()
		data, err := p.Data()
		if err == nil {
			_, err = s.Pictures.Restore(ctx, pictures.Arrival{ID: shot, Name: p.Name, Data: data, By: by})
		}
		if reason, refused := refusal.Reason(err); refused {
			left = append(left, fmt.Sprintf("The picture %s: %s", p.Name, reason))
			continue
		}
		if err != nil {
			return store.Document{}, nil, err
		}
		shots[strconv.Itoa(i)] = shot
	}
	d, err := s.Store.Documents.CreateWhole(ctx, Shown(made.Document, shots), folder, by)
	return d, left, err
}

// Shown is a document with its figures' shots named as they are kept; figures of those that are not are left out.
func Shown(d document.Document, shots map[string]string) document.Document {
	for i, b := range d.Blocks {
		kept := b.Figures[:0]
		for _, f := range b.Figures {
			if shot, there := shots[f.Shot]; there {
				f.Shot = shot
				kept = append(kept, f)
			}
		}
		d.Blocks[i].Figures = kept
	}
	return d
}
