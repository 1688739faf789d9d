package server

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"mime"
	"net/http"
	"strings"
	"time"

	"raconte/api"
	"raconte/blobs"
	"raconte/core/access"
	"raconte/core/page"
	"raconte/core/text"
	"raconte/pictures"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// Files keeps finished deliveries.
type Files interface {
	Put(ctx context.Context, key string, data []byte) error
	Get(ctx context.Context, key string) ([]byte, error)
}

var _ Files = (*blobs.Bucket)(nil)

// order is what a PDF job is told.
type order struct {
	Document string      `json:"document"`
	Layout   page.Layout `json:"layout"`
	Draft    bool        `json:"draft"` // it holds what only those who edit may see
	File     string      `json:"file"`
}

// CreateDelivery begins a PDF.
func (s *Server) CreateDelivery(c *gin.Context, id string) {
	var in api.CreateDeliveryJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil || (in.Layout != 2 && in.Layout != 4) {
		problem(c, http.StatusBadRequest, "The layout is 2 or 4 steps to a page.")
		return
	}
	w, _, err := s.visible(c, id)
	if err != nil {
		s.fail(c, err)
		return
	}
	o := order{Document: id, Layout: page.Layout(in.Layout), Draft: edits(c), File: fileName(w.Title, "pdf")}
	payload, err := json.Marshal(o)
	if err != nil {
		s.fail(c, err)
		return
	}
	j, err := s.Jobs.Add(c, "pdf", string(payload), accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusAccepted, delivery(j))
}

// MakePDF is the work of a PDF job.
func (s *Server) MakePDF(ctx context.Context, j store.Job, progress func(done, all int)) (string, error) {
	var o order
	if err := json.Unmarshal([]byte(j.Payload), &o); err != nil {
		return "", fmt.Errorf("reading the order: %w", err)
	}
	ctx = pictures.For(ctx, j.Owner)
	load := s.Store.LastRevision
	if o.Draft {
		load = s.Store.Whole
	}
	w, err := load(ctx, o.Document)
	if err != nil {
		return "", fmt.Errorf("reading the document: %w", err)
	}
	var buf bytes.Buffer
	if err := s.Press.PDF(ctx, &buf, w, o.Layout, progress); err != nil {
		return "", err
	}
	key := "deliveries/" + j.ID
	return key, s.Files.Put(ctx, key, buf.Bytes())
}

// MakePreview is the work of a preview job.
func (s *Server) MakePreview(ctx context.Context, j store.Job, _ func(done, all int)) (string, error) {
	_, err := s.Pictures.Preview(pictures.For(ctx, j.Owner), j.Payload)
	return "", err
}

// ownDelivery is a delivery of the caller's.
func (s *Server) ownDelivery(c *gin.Context, id string) (store.Job, error) {
	j, err := s.Store.Job(c, id)
	if err != nil {
		return j, err
	}
	o := orderOf(j)
	if j.Kind != "pdf" || !may(c, access.Own, access.Thing{Owner: j.Owner, Draft: o.Draft}) {
		return j, store.ErrNotFound
	}
	_, err = s.Store.Head(c, o.Document) // what was deleted is not handed out any more
	return j, err
}

func orderOf(j store.Job) order {
	var o order
	_ = json.Unmarshal([]byte(j.Payload), &o) // written by CreateDelivery
	return o
}

// GetDelivery tells how far a delivery is.
func (s *Server) GetDelivery(c *gin.Context, id string) {
	j, err := s.ownDelivery(c, id)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, delivery(j))
}

// CancelDelivery cancels a delivery.
func (s *Server) CancelDelivery(c *gin.Context, id string) {
	j, err := s.ownDelivery(c, id)
	if err == nil {
		err = s.Store.CancelJob(c, j.ID)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// GetDeliveryFile answers with the finished file.
func (s *Server) GetDeliveryFile(c *gin.Context, id string) {
	j, err := s.ownDelivery(c, id)
	if err == nil && j.State != store.Done {
		err = store.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	data, err := s.Files.Get(c, j.Result)
	if err != nil {
		s.fail(c, err)
		return
	}
	sendFile(c, delivery(j).fileName(), "application/pdf", data)
}

func sendFile(c *gin.Context, name, mediaType string, data []byte) {
	c.Header("Content-Type", mediaType)
	c.Header("Content-Disposition", disposition(name))
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, bytes.NewReader(data))
}

type deliveryAnswer api.Delivery

func (d deliveryAnswer) fileName() string {
	if d.File == nil {
		return "raconte.pdf"
	}
	return *d.File
}

func delivery(j store.Job) deliveryAnswer {
	o := orderOf(j)
	d := deliveryAnswer{Id: j.ID, State: api.DeliveryState(j.State), Done: j.Done, All: j.Total, Document: &o.Document, File: &o.File}
	if j.Error != "" {
		d.Error = &j.Error
	}
	return d
}

// fileName is a title as a name that every system takes.
func fileName(title, extension string) string {
	name := strings.Map(func(r rune) rune {
		if r < ' ' || strings.ContainsRune(`\/:*?"<>|`, r) {
			return ' '
		}
		return r
	}, text.Plain(title))
	name = strings.Trim(strings.Join(strings.Fields(name), " "), ". ")
	if r := []rune(name); len(r) > 80 {
		name = strings.TrimSpace(string(r[:80]))
	}
	if name == "" {
		name = "document"
	}
	return name + "." + extension
}

func disposition(name string) string {
	return mime.FormatMediaType("attachment", map[string]string{"filename": name})
}
