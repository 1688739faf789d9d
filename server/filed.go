package server

import (
	"context"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"os"
	"path"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/intake/pdf"
	"raconte/store"
	"raconte/works"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// arrived keeps a request's body in a file of its own while it is read. The caller closes and removes it by calling
// gone.
func (s *Server) arrived(c *gin.Context, pattern string) (f *os.File, size int64, gone func(), err error) {
	tmp, err := os.CreateTemp("", pattern)
	if err != nil {
		return nil, 0, nil, err
	}
	remove := func() {
		_ = tmp.Close()
		_ = os.Remove(tmp.Name())
	}
	if size, err = io.Copy(tmp, c.Request.Body); err != nil {
		remove()
		return nil, 0, nil, bodyFailed(err, "The file did not arrive whole. Nothing was kept of it. Send it again.")
	}
	select { // few at a time: each takes much memory
	case s.importing <- struct{}{}:
	case <-c.Request.Context().Done():
		remove()
		return nil, 0, nil, c.Request.Context().Err()
	}
	return tmp, size, func() { <-s.importing; remove() }, nil
}

// FilePDF makes a document of a PDF: checked, its text taken for the search, the file kept as it is.
func (s *Server) FilePDF(c *gin.Context, p api.FilePDFParams) error {
	if !may(c, access.Edit, access.Thing{Folder: of(p.Folder)}) {
		return store.ErrNotFound
	}
	tmp, size, gone, err := s.arrived(c, "raconte-filed-*.pdf")
	if err != nil {
		return err
	}
	defer gone()
	d, err := s.filed(c.Request.Context(), tmp, size, of(p.Name), of(p.Folder), accountOf(c).ID)
	if reason, refused := refusal.Reason(err); refused {
		return problem(http.StatusUnprocessableEntity, reason+" Nothing was filed.")
	}
	return s.created(c, d, err)
}

func (s *Server) filed(ctx context.Context, tmp *os.File, size int64, name, folder, by string) (store.Document, error) {
	about, err := pdf.Check(ctx, tmp.Name())
	if err != nil {
		return store.Document{}, err
	}
	texts, err := pdf.Texts(ctx, tmp.Name(), about.Pages)
	if err != nil {
		return store.Document{}, err
	}
	name = path.Base(strings.ReplaceAll(name, `\`, "/"))
	file := &document.File{Name: name, Bytes: size, Pages: about.Pages}
	title := strings.TrimSpace(about.Title)
	if document.CheckTitle(title) != nil {
		title = strings.TrimSuffix(name, path.Ext(name))
	}
	if document.CheckTitle(title) != nil {
		title = "Filed PDF"
	}
	if file.SHA256, _, err = s.Works.Blobs.PutSum(ctx, works.FileKey(""), tmp); err != nil {
		return store.Document{}, fmt.Errorf("filing a PDF: %w", err)
	}
	d, err := s.Store.Documents.CreateWhole(ctx, document.Document{ID: "new", Kind: document.Filed, Facts: document.Facts{Title: title, File: file}}, folder, by)
	if err == nil {
		err = s.Store.Documents.AddPages(ctx, file.SHA256, texts)
	}
	return d, err
}

// file opens the PDF of a filed document as the caller may see it.
func (s *Server) file(c *gin.Context, id string) (document.File, io.ReadSeekCloser, error) {
	w, err := s.visible(c, id, false)
	if err == nil && w.Facts.File == nil {
		err = store.ErrNotFound
	}
	if err != nil {
		return document.File{}, nil, err
	}
	f, err := s.Works.Blobs.Open(c.Request.Context(), works.FileKey(w.Facts.File.SHA256))
	return *w.Facts.File, f, err
}

// GetFile answers with the PDF of a filed document.
func (s *Server) GetFile(c *gin.Context, id string) error {
	about, f, err := s.file(c, id)
	if err != nil {
		return err
	}
	defer f.Close()
	c.Header("Content-Type", "application/pdf")
	c.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": about.Name}))
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, f)
	return nil
}

// GetFilePage answers with a page of a filed PDF as a picture.
func (s *Server) GetFilePage(c *gin.Context, id string, page int) error {
	about, f, err := s.file(c, id)
	if err != nil {
		return err
	}
	defer f.Close()
	return s.sendPage(c, about, f, page)
}

// sendPage answers with a page of a PDF as a picture.
func (s *Server) sendPage(c *gin.Context, about document.File, f io.Reader, page int) error {
	if page < 1 || page > about.Pages {
		return store.ErrNotFound
	}
	file, err := s.Pictures.Kept(c.Request.Context(), fmt.Sprintf("pdf page %s %d", about.SHA256, page), "image/png", func(ctx context.Context) ([]byte, error) {
		var png []byte
		err := onDisk(f, func(name string) (err error) {
			png, err = pdf.Page(ctx, name, page)
			return err
		})
		return png, err
	})
	return s.sendPicture(c, file, err)
}

// onDisk has work done with a file that lies on the disk for as long.
func onDisk(r io.Reader, work func(name string) error) error {
	tmp, err := os.CreateTemp("", "raconte-page-*.pdf")
	if err != nil {
		return fmt.Errorf("keeping a PDF for a moment: %w", err)
	}
	defer os.Remove(tmp.Name())
	defer tmp.Close()
	if _, err := io.Copy(tmp, r); err != nil {
		return fmt.Errorf("keeping a PDF for a moment: %w", err)
	}
	return work(tmp.Name())
}

// mostRewritten bounds the pages that are made pictures of at once.
const mostRewritten = 60

// RewriteFile makes a draft of a filed PDF: its numbered lines become steps, each under the picture of its page.
func (s *Server) RewriteFile(c *gin.Context, id string) error {
	ctx := c.Request.Context()
	head, err := s.Store.Documents.Head(ctx, id)
	if err == nil && (head.Kind != document.Filed || head.Facts.File == nil) {
		err = refusal.New("Only a filed PDF is rewritten.")
	}
	if err != nil {
		return err
	}
	if head.Facts.File.Pages > mostRewritten {
		return problem(http.StatusUnprocessableEntity, fmt.Sprintf("The PDF has %d pages; at most %d are rewritten at once. Divide it first.", head.Facts.File.Pages, mostRewritten))
	}
	select {
	case s.importing <- struct{}{}:
		defer func() { <-s.importing }()
	case <-ctx.Done():
		return ctx.Err()
	}
	if err := s.rewrite(ctx, head, accountOf(c).ID); err != nil {
		if errors.Is(err, store.ErrConflict) {
			return problem(http.StatusConflict, "Someone has begun to rewrite it already. Open it anew.")
		}
		return err
	}
	d, err := s.Store.Documents.Head(ctx, id)
	if err != nil {
		return err
	}
	s.publish(d, "")
	return answer(c, http.StatusOK, s.summary(d))
}

func (s *Server) rewrite(ctx context.Context, head store.Document, by string) error {
	file := head.Facts.File
	texts, err := s.Store.Documents.PagesOf(ctx, file.SHA256)
	if err != nil {
		return err
	}
	f, err := s.Works.Blobs.Open(ctx, works.FileKey(file.SHA256))
	if err != nil {
		return fmt.Errorf("opening a filed PDF: %w", err)
	}
	defer f.Close()
	var shots []string
	err = onDisk(f, func(name string) error {
		for page := 1; page <= file.Pages; page++ {
			png, err := pdf.Page(ctx, name, page)
			if err != nil {
				return err
			}
			shot := uuid.NewString()
			named := fmt.Sprintf("%s, page %d.png", strings.TrimSuffix(file.Name, ".pdf"), page)
			if _, err := s.Pictures.Restore(ctx, pictures.Arrival{ID: shot, Name: named, Data: png, By: by}); err != nil {
				return err
			}
			shots = append(shots, shot)
		}
		return nil
	})
	if err != nil {
		return err
	}
	blocks := document.Rewritten(texts, shots, uuid.NewString)
	keys := document.Arrange(nil, 0, len(blocks)).Keys
	change := store.Change{ID: uuid.NewString()}
	for i, b := range blocks {
		change.Blocks = append(change.Blocks, store.BlockEdit{ID: b.ID, OrderKey: keys[i], Content: b.Content})
	}
	return s.Store.Documents.Rewrite(ctx, head.ID, change, by)
}
