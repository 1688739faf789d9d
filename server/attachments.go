package server

import (
	"bytes"
	"io"
	"mime"
	"net/http"
	"strings"

	"raconte/api"
	"raconte/core/text"
	"raconte/store"
	"raconte/works"

	"github.com/gin-gonic/gin"
)

// ListAttachments answers with the files beside a document.
func (s *Server) ListAttachments(c *gin.Context, id string) error {
	all, err := s.Store.Documents.Attachments(c.Request.Context(), id)
	if err != nil {
		return err
	}
	out := []api.Attachment{}
	for _, a := range all {
		out = append(out, api.Attachment{Id: a.ID, Name: a.Name, Bytes: a.Bytes})
	}
	return answer(c, http.StatusOK, out)
}

// AddAttachment keeps a file beside a document, whatever it is: it is only ever handed out as a file.
func (s *Server) AddAttachment(c *gin.Context, id string, params api.AddAttachmentParams) error {
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		return bodyFailed(err, "The file did not arrive whole. Send it again.")
	}
	name := strings.TrimSpace(text.Plain(params.Name))
	if i := strings.LastIndexAny(name, `/\`); i >= 0 {
		name = name[i+1:]
	}
	if name == "" || name == "." || name == ".." || len(data) == 0 {
		return problem(http.StatusUnprocessableEntity, "The file has no name, or nothing in it.")
	}
	ctx := c.Request.Context()
	sha := ""
	if _, err = s.Store.Documents.Head(ctx, id); err == nil {
		sha, _, err = s.Works.Blobs.PutSum(ctx, works.AttachedKey(""), bytes.NewReader(data))
	}
	if err == nil {
		err = s.Store.Documents.Attach(ctx, store.Attachment{DocumentID: id, Name: name, Bytes: int64(len(data)), SHA256: sha, AddedBy: accountOf(c).ID})
	}
	return empty(c, err)
}

// GetAttachment answers with a file beside a document, to be kept and never shown in the browser.
func (s *Server) GetAttachment(c *gin.Context, id, attachment string) error {
	a, err := s.Store.Documents.Attachment(c.Request.Context(), id, attachment)
	var data []byte
	if err == nil {
		data, err = s.Works.Blobs.Get(c.Request.Context(), works.AttachedKey(a.SHA256))
	}
	if err != nil {
		return err
	}
	c.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": a.Name}))
	c.Header("Cache-Control", "private, no-store")
	return sent(c, "application/octet-stream", data)
}

// DeleteAttachment takes a file from a document.
func (s *Server) DeleteAttachment(c *gin.Context, id, attachment string) error {
	return empty(c, s.Store.Documents.Detach(c.Request.Context(), id, attachment))
}
