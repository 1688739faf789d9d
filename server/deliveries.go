package server

import (
	"bytes"
	"context"
	"errors"
	"mime"
	"net/http"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/output/formats"
	"raconte/store"
	"raconte/works"

	"github.com/gin-gonic/gin"
)

// ListFormats answers with the forms that a document can be delivered in.
func (s *Server) ListFormats(c *gin.Context) error {
	own, err := s.Store.Setup.Templates(c.Request.Context())
	if err != nil {
		return err
	}
	type template = struct {
		Name  string `json:"name"`
		Own   bool   `json:"own"`
		Title string `json:"title"`
	}
	out := []api.Format{}
	for _, f := range formats.All {
		about := f.About()
		if about.Whole && !may(c, access.Edit, access.Thing{}) {
			continue
		}
		f := api.Format{Name: about.Name, Title: about.Title, Layouts: about.Paged, Whole: about.Whole, Templates: []template{}}
		for _, t := range about.Templates {
			f.Templates = append(f.Templates, template{Name: t.Name, Title: t.Title})
		}
		for _, t := range own {
			if t.Kind == about.Own {
				if len(f.Templates) == 0 {
					f.Templates = append(f.Templates, template{Title: "Raconte’s own"})
				}
				f.Templates = append(f.Templates, template{Name: t.ID, Title: t.Name, Own: true})
			}
		}
		out = append(out, f)
	}
	return answer(c, http.StatusOK, out)
}

// ordered is what a delivery is to be; it fails where that is not the caller's to have.
func (s *Server) ordered(c *gin.Context, id string, in api.Order) (works.Order, error) {
	if f, ok := formats.Named(in.Format); ok && f.About().Whole && !may(c, access.Edit, access.Thing{}) {
		return works.Order{}, problem(http.StatusForbidden, "Your account may read documents, but not take away the shots they were made from.")
	}
	o := order(in)
	o.Document, o.Draft = id, reviews(c)
	return o, nil
}

func order(in api.Order) works.Order {
	return works.Order{Format: in.Format, Layout: of(in.Layout), Template: of(in.Template), Steps: of(in.Steps), Quality: of(in.Quality), PDF: of(in.Pdf), Number: of(in.Revision)}
}

// CreateDelivery begins a file of a document.
func (s *Server) CreateDelivery(c *gin.Context, id string, in api.CreateDeliveryJSONRequestBody) error {
	o, err := s.ordered(c, id, in)
	if err != nil {
		return err
	}
	w, err := s.visible(c, id, true)
	if err != nil {
		return err
	}
	j, err := s.Works.Order(c.Request.Context(), w.Whole, o, accountOf(c).ID)
	if err != nil {
		return err
	}
	j.OwnerName = accountOf(c).DisplayName
	return answer(c, http.StatusAccepted, deliveryFor(accountOf(c).ID)(j))
}

// longestWeighing is how long someone waits for the size of a delivery.
const longestWeighing = 8 * time.Second

// WeighDelivery answers with the bytes that a delivery will have.
func (s *Server) WeighDelivery(c *gin.Context, id string, in api.WeighDeliveryJSONRequestBody) error {
	o, err := s.ordered(c, id, in)
	if err != nil {
		return err
	}
	if _, err := s.visible(c, id, true); err != nil {
		return err
	}
	if f, _ := formats.Named(o.Format); f != nil && f.About().Slow {
		return answer(c, http.StatusOK, struct{}{}) // nobody waits for that
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), longestWeighing)
	defer cancel()
	select { // few at a time: each makes all pictures
	case s.weighing <- struct{}{}:
		defer func() { <-s.weighing }()
	case <-ctx.Done():
	}
	var out struct {
		Bytes *int64 `json:"bytes,omitempty"`
	}
	n, err := s.Works.Weigh(ctx, o, accountOf(c).Viewer())
	switch {
	case err == nil:
		out.Bytes = &n
	case ctx.Err() == nil || c.Request.Context().Err() != nil:
		return err
	}
	return answer(c, http.StatusOK, out)
}

// mostCopied bounds what is copied to a clipboard, in bytes.
const mostCopied = 40 << 20

// CopyDocument answers with a document for the clipboard.
func (s *Server) CopyDocument(c *gin.Context, id string, in api.CopyDocumentJSONRequestBody) error {
	if _, err := s.visible(c, id, true); err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), longestWeighing)
	defer cancel()
	var buf bounded
	err := s.Works.Copy(ctx, &buf, string(in.As), works.Order{Document: id, Steps: of(in.Steps), Draft: reviews(c), Bare: of(in.Bare), Fill: of(in.Fill)}, accountOf(c).Viewer())
	if errors.Is(err, errTooMuch) || ctx.Err() != nil && c.Request.Context().Err() == nil {
		err = refusal.New("That is too much for a clipboard. Choose fewer steps, or make a file of it.")
	}
	if err != nil {
		return err
	}
	return sent(c, "text/plain; charset=utf-8", buf.Bytes())
}

var errTooMuch = errors.New("too much for a clipboard")

// bounded is a buffer that takes no more than mostCopied.
type bounded struct{ bytes.Buffer }

func (b *bounded) Write(p []byte) (int, error) {
	if b.Len()+len(p) > mostCopied {
		return 0, errTooMuch
	}
	return b.Buffer.Write(p)
}

// ListDeliveries answers with the caller's deliveries.
func (s *Server) ListDeliveries(c *gin.Context) error {
	return s.listDeliveries(c, accountOf(c).ID, "")
}

// ListDocumentDeliveries answers with a document's deliveries: all of them to those who edit it, their own to readers.
func (s *Server) ListDocumentDeliveries(c *gin.Context, id string) error {
	owner := accountOf(c).ID
	if reviews(c) {
		owner = ""
	}
	return s.listDeliveries(c, owner, id)
}

func (s *Server) listDeliveries(c *gin.Context, owner, document string) error {
	all, err := s.Store.Jobs.Deliveries(c.Request.Context(), owner, document)
	if err != nil {
		return err
	}
	seen := all[:0]
	for _, j := range all {
		if s.maySee(c, j) {
			seen = append(seen, j)
		}
	}
	return answer(c, http.StatusOK, each(s, c, seen, deliveryFor(accountOf(c).ID)))
}

// seesAsMuch tells whether the caller may see all that a delivery's owner had put in it: chapters of an open manual may
// lie in folders that are closed to them.
func (s *Server) seesAsMuch(c *gin.Context, j store.Job) bool {
	if j.DocumentID == nil || len(accountOf(c).Closed) == 0 {
		return true
	}
	holds, err := s.Store.Documents.HoldsIn(c.Request.Context(), *j.DocumentID, accountOf(c).Closed)
	if err != nil {
		s.Log.Error("looking at what a delivery holds", "job", j.ID, "error", err)
	}
	return err == nil && !holds
}

// maySee tells whether the caller may see a delivery: its owner, while they may still see what it holds, and those who
// edit the document.
func (s *Server) maySee(c *gin.Context, j store.Job) bool {
	if j.Owner != accountOf(c).ID && !s.seesAsMuch(c, j) {
		return false
	}
	o, is := works.OrderOf(j)
	if o.Folder != "" { // it holds what its owner may read, and others perhaps may not
		return j.Owner == accountOf(c).ID && may(c, access.Read, access.Thing{Folder: o.Folder})
	}
	return is && (reviews(c) || may(c, access.Own, access.Thing{Owner: j.Owner, Draft: o.Draft}))
}

// aDelivery is a delivery that the caller may see; own asks for one of their own.
func (s *Server) aDelivery(c *gin.Context, id string, own bool) (store.Job, error) {
	j, err := s.Store.Jobs.Job(c.Request.Context(), id)
	if err != nil {
		return j, err
	}
	if !s.maySee(c, j) || (own && j.Owner != accountOf(c).ID) {
		return j, store.ErrNotFound
	}
	if j.DocumentID == nil {
		return j, nil
	}
	d, err := s.Store.Documents.Head(c.Request.Context(), *j.DocumentID) // what was deleted is not handed out any more
	if err == nil && !may(c, access.Read, access.Thing{Folder: of(d.FolderID)}) {
		err = store.ErrNotFound
	}
	return j, err
}

// GetDelivery tells how far a delivery is.
func (s *Server) GetDelivery(c *gin.Context, id string) error {
	j, err := s.aDelivery(c, id, false)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, deliveryFor(accountOf(c).ID)(j))
}

// CancelDelivery cancels a delivery.
func (s *Server) CancelDelivery(c *gin.Context, id string) error {
	j, err := s.aDelivery(c, id, true)
	if err == nil {
		err = s.Store.Jobs.CancelJob(c.Request.Context(), j.ID)
	}
	if err != nil {
		return err
	}
	if j, err = s.Store.Jobs.Job(c.Request.Context(), j.ID); err == nil {
		s.jobChanged(j) // one that waited has no worker to tell of it
	}
	return empty(c, nil)
}

// RepeatDelivery makes a file as an earlier one was made, from the document as it is now.
func (s *Server) RepeatDelivery(c *gin.Context, id string) error {
	j, err := s.aDelivery(c, id, false)
	o, _ := works.OrderOf(j)
	if err == nil && o.Folder != "" {
		return s.orderFolder(c, o.Folder, o)
	}
	var w works.Reading
	if err == nil {
		w, err = s.visible(c, *j.DocumentID, true)
	}
	if err != nil {
		return err
	}
	if f, known := formats.Named(o.Format); known && f.About().Whole && !may(c, access.Edit, access.Thing{}) {
		return store.ErrNotFound
	}
	o.Draft = reviews(c)
	o.PDF.Attached, o.Number = o.PDF.Attached && o.Draft, 0 // from the present one
	if j, err = s.Works.Order(c.Request.Context(), w.Whole, o, accountOf(c).ID); err != nil {
		return err
	}
	j.OwnerName = accountOf(c).DisplayName
	return answer(c, http.StatusAccepted, deliveryFor(accountOf(c).ID)(j))
}

// RetryDelivery begins a delivery again.
func (s *Server) RetryDelivery(c *gin.Context, id string) error {
	j, err := s.aDelivery(c, id, true)
	if err == nil {
		err = s.Works.Retry(c.Request.Context(), j.ID)
	}
	if err == nil {
		j, err = s.Store.Jobs.Job(c.Request.Context(), j.ID)
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusAccepted, deliveryFor(accountOf(c).ID)(j))
}

// GetDeliveryFile answers with the finished file, or the part of it that is asked for.
func (s *Server) GetDeliveryFile(c *gin.Context, id string) error {
	j, err := s.aDelivery(c, id, false)
	if err != nil {
		return err
	}
	file, err := s.Works.File(c.Request.Context(), j)
	if err != nil {
		return err
	}
	defer file.Close()
	o, _ := works.OrderOf(j)
	if part := c.GetHeader("Range"); part == "" || strings.HasPrefix(part, "bytes=0-") { // what follows is the same download
		if err := s.Store.Jobs.Taken(c.Request.Context(), j, o.Title, o.Format, accountOf(c).ID); err != nil {
			return err
		}
	}
	media := "application/octet-stream"
	if o.Folder != "" {
		media = "application/zip"
	} else if f, ok := formats.Named(o.Format); ok {
		media = f.About().MediaType
	}
	c.Header("Content-Type", media)
	c.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": o.File}))
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, file)
	return nil
}

// deliveryFor tells an account of deliveries.
func deliveryFor(account string) func(store.Job) api.Delivery {
	return func(j store.Job) api.Delivery {
		o, _ := works.OrderOf(j)
		d := api.Delivery{
			Id: j.ID, Document: o.Document, Title: o.Title, Format: o.Format, State: api.DeliveryState(j.State), Done: j.Done, All: j.Total,
			Mine: j.Owner == account, By: j.OwnerName, At: j.CreatedAt, Goes: j.CreatedAt.Add(works.KeepDeliveries), File: o.File,
		}
		if f, ok := formats.Named(o.Format); ok {
			d.Format = f.About().Title
		}
		if o.Folder != "" {
			d.Folder = &o.Folder
		}
		if o.Layout != style.Own {
			d.Layout = &o.Layout
		}
		if j.Error != "" {
			d.Error = &j.Error
		}
		d.From, d.Taken = o.Revision, j.TakenBy
		if n := len(o.Steps); n > 0 {
			d.Steps = &n
		}
		if j.Bytes > 0 {
			d.Bytes = &j.Bytes
		}
		return d
	}
}
