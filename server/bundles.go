package server

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/engines/media"
	"raconte/intake/pdf"
	"raconte/output/bundle"
	"raconte/store"
	"raconte/works"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// unpacking is how long a bundle may take to unpack once it has arrived: some seconds, and more for more bytes.
func unpacking(bytes int64) time.Duration {
	return 8*time.Second + time.Duration(bytes>>20)*300*time.Millisecond
}

// ImportBundle makes a document from a bundle, all or nothing.
func (s *Server) ImportBundle(c *gin.Context) error {
	tmp, err := os.CreateTemp("", "raconte-import-*")
	if err != nil {
		return err
	}
	defer os.Remove(tmp.Name())
	defer tmp.Close()
	size, err := io.Copy(tmp, c.Request.Body)
	if err != nil {
		return bodyFailed(err, "The bundle did not arrive whole. Nothing was imported. Send it again.")
	}
	select { // few at a time: each takes much memory
	case s.importing <- struct{}{}:
		defer func() { <-s.importing }()
	case <-c.Request.Context().Done():
		return c.Request.Context().Err()
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), unpacking(size))
	defer cancel()
	b, err := bundle.Open(ctx, tmp, size)
	if err == nil {
		var d store.Document
		if d, err = s.unpack(ctx, b, accountOf(c).ID); err == nil {
			return s.created(c, d, nil)
		}
	}
	if reason, refused := refusal.Reason(err); refused {
		return problem(http.StatusUnprocessableEntity, reason+" Nothing was imported.")
	}
	if errors.Is(err, context.DeadlineExceeded) {
		return problem(http.StatusUnprocessableEntity, "The bundle's pictures take too long to read. Nothing was imported.")
	}
	return err
}

// unpack keeps a checked bundle's shots, each under a new id, then its documents in one transaction.
// Shots whose document was refused after all are used nowhere and swept.
func (s *Server) unpack(ctx context.Context, b *bundle.Bundle, by string) (store.Document, error) {
	ids := map[string]string{}
	for sha := range b.Shots {
		data, err := b.Shot(sha)
		if err != nil {
			return store.Document{}, err
		}
		id := uuid.NewString()
		in := arrivalOf(b.Shots[sha], id, data, by)
		if clip := b.Shots[sha].Clip; clip != nil {
			err = s.unpackClip(ctx, b, in, *clip)
		} else {
			_, err = s.Pictures.Restore(ctx, in)
		}
		if reason, refused := refusal.Reason(err); refused {
			return store.Document{}, refusal.New("The shot %.12s… can't be used: %s", sha, reason)
		}
		if err != nil {
			return store.Document{}, err
		}
		ids[sha] = id
	}
	shown := func(d document.Document) document.Document {
		return d.WithShots(func(sha string) string { return ids[sha] })
	}
	if b.Document.Facts.File != nil {
		if err := s.unpackPDF(ctx, b); err != nil {
			return store.Document{}, err
		}
	}
	if err := s.unpackVoices(ctx, b); err != nil {
		return store.Document{}, err
	}
	var kept store.Document
	err := s.Store.AllOrNothing(ctx, func(ctx context.Context) (err error) {
		d, made := b.Document, map[string]string{} // the chapters' new ids, by their old ones
		for _, chapter := range b.Chapters {
			kept, err := s.Store.Documents.CreateWhole(ctx, shown(chapter), "", by)
			if err != nil {
				return err
			}
			made[chapter.ID] = kept.ID
		}
		d.Blocks = slices.Clone(d.Blocks)
		for i, block := range d.Blocks {
			if id, there := made[block.Document]; there {
				d.Blocks[i].Document, d.Blocks[i].Revision = id, 0
			}
			d.Blocks[i].Words = block.Words.Renamed(func(id string) string {
				if now, there := made[id]; there {
					return now
				}
				return id
			})
		}
		kept, err = s.Store.Documents.CreateWhole(ctx, shown(d), "", by)
		return err
	})
	return kept, err
}

// unpackPDF keeps the PDF of a bundle, checked as one that is filed.
func (s *Server) unpackPDF(ctx context.Context, b *bundle.Bundle) error {
	data, err := b.PDF()
	if err != nil {
		return err
	}
	file := b.Document.Facts.File
	return onDisk(bytes.NewReader(data), func(name string) error {
		about, err := pdf.Check(ctx, name)
		if err != nil {
			return err
		}
		texts, err := pdf.Texts(ctx, name, about.Pages)
		if err != nil {
			return err
		}
		file.Pages, file.Bytes = about.Pages, int64(len(data))
		if err := s.Works.Blobs.Put(ctx, works.FileKey(file.SHA256), bytes.NewReader(data)); err != nil {
			return fmt.Errorf("keeping the PDF of a bundle: %w", err)
		}
		return s.Store.Documents.AddPages(ctx, file.SHA256, texts)
	})
}

// unpackClip keeps a recording of a bundle with the picture that stands for it.
func (s *Server) unpackClip(ctx context.Context, b *bundle.Bundle, in pictures.Arrival, clip bundle.Clip) error {
	dir, err := os.MkdirTemp("", "raconte-unpacked-*")
	if err != nil {
		return fmt.Errorf("unpacking a recording: %w", err)
	}
	defer os.RemoveAll(dir)
	path, camera := filepath.Join(dir, "clip"), ""
	if err := b.Extract(clip.File, path); err != nil {
		return err
	}
	if clip.Camera != "" {
		camera = filepath.Join(dir, "camera")
		if err := b.Extract(clip.Camera, camera); err != nil {
			return err
		}
	}
	rec := store.Recording{MediaType: "video/mp4", Ms: clip.Ms, Poster: clip.Poster, Sounds: clip.Sounds}
	if strings.HasSuffix(clip.File, ".webm") {
		rec.MediaType = "video/webm"
	}
	_, err = s.Pictures.RestoreClip(ctx, in, rec, path, camera)
	return err
}

// unpackVoices keeps what is spoken in a bundle's documents, as far as it is there; what is named and not there is left
// out.
func (s *Server) unpackVoices(ctx context.Context, b *bundle.Bundle) error {
	brought := map[string]bool{}
	for _, d := range append([]document.Document{b.Document}, b.Chapters...) {
		for _, sha := range d.Voices() {
			name := bundle.VoiceName(sha)
			if !b.Has(name) {
				continue
			}
			err := onDisk(bytes.NewReader(nil), func(path string) error {
				if err := b.Extract(name, path); err != nil {
					return err
				}
				if _, err := media.SoundMs(path); err != nil {
					return refusal.New("A voice in the bundle is no sound that can be used.")
				}
				f, err := os.Open(path)
				if err != nil {
					return fmt.Errorf("unpacking a voice: %w", err)
				}
				defer f.Close()
				return s.Works.Blobs.Put(ctx, works.FileKey(sha), f)
			})
			if err != nil {
				return err
			}
			brought[sha] = true
		}
	}
	here := func(sha string) bool { return brought[sha] }
	b.Document = b.Document.OnlyVoices(here)
	for i, d := range b.Chapters {
		b.Chapters[i] = d.OnlyVoices(here)
		b.Chapters[i].Facts.File = nil // a chapter is no filed PDF; a bundle holds one file at most
	}
	return nil
}

// arrivalOf is a bundle's shot as it comes in.
func arrivalOf(shot bundle.Shot, id string, data []byte, by string) pictures.Arrival {
	in := pictures.Arrival{ID: id, Name: shot.Name, Data: data, By: by}
	if shot.About != nil {
		in.About = *shot.About
	}
	return in
}
