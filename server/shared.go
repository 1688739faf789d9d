package server

import (
	"bytes"
	"context"
	"mime"
	"net/http"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/comment"
	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/core/text"
	"raconte/platform/blobs"
	"raconte/store"
	"raconte/works"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
	"golang.org/x/time/rate"
)

// sharedDocument is the document of a link as its reader has it: the valid revision, or the fixed one.
func (s *Server) sharedDocument(c *gin.Context, sh store.Share) (works.Reading, error) {
	ctx := pictures.For(c.Request.Context(), "link "+sh.ID)
	c.Request = c.Request.WithContext(ctx)
	head, err := s.Store.Documents.Head(ctx, sh.DocumentID)
	if err != nil {
		return works.Reading{}, err
	}
	if head.State == document.Retired { // what takes its place is not told to whoever has a link
		return works.Reading{}, refusal.New("“%s” is retired: it is not valid any more. Nobody should follow it.", head.Title)
	}
	v, err := s.Store.Exchange.GuestViewer(ctx, sh)
	if err != nil {
		return works.Reading{}, err
	}
	return s.Works.Reading(ctx, v, sh.DocumentID, works.Which{Asked: sh.Converses, Revision: sh.Revision})
}

// ListSharedComments answers with what is said of a request, for its asker.
func (s *Server) ListSharedComments(c *gin.Context, token string, p api.ListSharedCommentsParams) error {
	sh, err := s.shared(c, token, p.Opening)
	if err != nil {
		return err
	}
	type said struct {
		At   time.Time `json:"at"`
		Body string    `json:"body"`
		By   string    `json:"by"`
	}
	out := []said{}
	if sh.Converses {
		all, err := s.Store.Reviews.Comments(c.Request.Context(), sh.DocumentID)
		if err != nil {
			return err
		}
		for _, one := range all {
			// What is said at a place of the text is said among those who help.
			if !one.Deleted && one.Via == "" && one.Place.Block == "" {
				out = append(out, said{one.MadeAt, one.Body, one.MadeName})
			}
		}
	}
	return answer(c, http.StatusOK, out)
}

// fromShare answers with something of the document that a link shows.
func (s *Server) fromShare(c *gin.Context, token string, opening *string, answered func(store.Share, store.Whole) error) error {
	sh, err := s.shared(c, token, opening)
	if err != nil {
		return err
	}
	w, err := s.sharedDocument(c, sh)
	if err != nil {
		return err
	}
	return answered(sh, w.Whole)
}

// GetShared answers with the document of a link.
func (s *Server) GetShared(c *gin.Context, token string, p api.GetSharedParams) error {
	return s.fromShare(c, token, p.Opening, func(_ store.Share, w store.Whole) error {
		out := s.documentAnswer(w)
		forReader(&out)
		out.Summary.Folder = nil
		for id, o := range *out.Others { // they are not opened by this link
			o.Address = ""
			(*out.Others)[id] = o
		}
		return answer(c, http.StatusOK, out)
	})
}

// GetSharedState answers with which revision a link shows.
func (s *Server) GetSharedState(c *gin.Context, token string, p api.GetSharedStateParams) error {
	return s.fromShare(c, token, p.Opening, func(_ store.Share, w store.Whole) error {
		out := struct {
			Revision int   `json:"revision"`
			Seq      int64 `json:"seq"`
		}{w.Document.Revision, w.Seq}
		return answer(c, http.StatusOK, out)
	})
}

// GetSharedFigure answers with a finished picture.
func (s *Server) GetSharedFigure(c *gin.Context, token, figure string, p api.GetSharedFigureParams) error {
	return s.fromShare(c, token, p.Opening, func(_ store.Share, w store.Whole) error { return s.sendFigure(c, w, figure, of(p.Width)) })
}

// GetSharedPage answers with a page of a filed PDF.
func (s *Server) GetSharedPage(c *gin.Context, token string, page int, p api.GetSharedPageParams) error {
	return s.fromShare(c, token, p.Opening, func(_ store.Share, w store.Whole) error {
		f, err := s.sharedFile(c.Request.Context(), w)
		if err != nil {
			return err
		}
		defer f.Close()
		return s.sendPage(c, *w.Facts.File, f, page)
	})
}

func (s *Server) sharedFile(ctx context.Context, w store.Whole) (blobs.Blob, error) {
	if w.Facts.File == nil {
		return nil, store.ErrNotFound
	}
	return s.Works.Blobs.Open(ctx, works.FileKey(w.Facts.File.SHA256))
}

// GetSharedPDF answers with the document as a PDF. Where a link asks for no password and has no limit, its address is
// enough.
func (s *Server) GetSharedPDF(c *gin.Context, token string, p api.GetSharedPDFParams) error {
	ctx := c.Request.Context()
	sh, err := s.Store.Exchange.ShareWith(ctx, hashToken(token))
	if err != nil || sh.PasswordHash != "" || sh.Most > 0 {
		if sh, err = s.shared(c, token, p.Opening); err != nil {
			return err
		}
	}
	if !sh.Downloads {
		return problem(http.StatusForbidden, "This link is for reading. It does not let the document be taken.")
	}
	w, err := s.sharedDocument(c, sh)
	var data []byte
	if err == nil {
		data, err = s.sharedPDF(c, w)
	}
	if part := c.GetHeader("Range"); err == nil && (part == "" || strings.HasPrefix(part, "bytes=0-")) { // what follows is the same download
		if s.throttle.take(s.throttle.accounts, "taken by "+sh.ID, rate.NewLimiter(rate.Every(15*time.Minute), 100)) == 0 { // a line for each of a million would be no trail
			err = s.Store.Trail.Note(ctx, w.Document, "", store.ActDownloaded, "PDF, by the link for "+sh.Name)
		}
	}
	if err != nil {
		return err
	}
	c.Header("X-Robots-Tag", "noindex, nofollow")
	c.Header("Content-Disposition", mime.FormatMediaType("inline", map[string]string{"filename": w.Title + ".pdf"}))
	c.Header("Content-Type", "application/pdf")
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, bytes.NewReader(data))
	return nil
}

// sharedPDF is the document as a PDF, kept as long as nothing of it changes.
func (s *Server) sharedPDF(c *gin.Context, w works.Reading) ([]byte, error) {
	ctx := c.Request.Context()
	if w.Facts.File != nil {
		f, err := s.sharedFile(ctx, w.Whole)
		if err != nil {
			return nil, err
		}
		defer f.Close()
		var out bytes.Buffer
		_, err = out.ReadFrom(f)
		return out.Bytes(), err
	}
	file, err := s.Pictures.Kept(ctx, "pdf of "+w.Key, "application/pdf", func(ctx context.Context) ([]byte, error) {
		var out bytes.Buffer
		err := s.Works.PDF(ctx, &out, w.Whole)
		return out.Bytes(), err
	})
	return file.Data, err
}

// AddSharedComment keeps a comment of someone without an account, under the name that they give.
func (s *Server) AddSharedComment(c *gin.Context, token string, p api.AddSharedCommentParams, in api.AddSharedCommentJSONRequestBody) error {
	sh, err := s.shared(c, token, p.Opening)
	if err != nil {
		return err
	}
	if !sh.Comments {
		return problem(http.StatusForbidden, "This link is for reading. It does not take comments.")
	}
	if err := s.mustWait(c, s.throttle.forAccount("comments by "+sh.ID, c.ClientIP())); err != nil {
		return err
	}
	name, body := strings.TrimSpace(text.Plain(in.Name)), strings.TrimSpace(strings.ReplaceAll(in.Body, "\x00", ""))
	if name == "" || body == "" {
		return problem(http.StatusUnprocessableEntity, "Say something, and who you are.")
	}
	err = s.Store.Reviews.AddComment(c.Request.Context(), store.Comment{
		ID: in.Id, DocumentID: sh.DocumentID, Place: comment.Place{Block: of(in.Block)}, Body: body, Mentions: []string{}, MadeBy: sh.MadeBy, Guest: name,
	})
	if err == nil && sh.Converses {
		err = s.Works.AskedAgain(c.Request.Context(), sh.DocumentID, body, sh.MadeBy)
	}
	return s.commented(c, sh.DocumentID, err)
}
