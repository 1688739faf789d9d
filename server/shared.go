package server

import (
	"bytes"
	"context"
	"fmt"
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
func (s *Server) sharedDocument(c *gin.Context, sh store.Share) (store.Whole, error) {
	ctx := pictures.For(c.Request.Context(), "link "+sh.ID)
	c.Request = c.Request.WithContext(ctx)
	head, err := s.Store.Documents.Head(ctx, sh.DocumentID)
	if err != nil {
		return store.Whole{}, err
	}
	if head.State == document.Retired {
		return store.Whole{}, refusal.New("“%s” is retired: it is not valid any more. Nobody should follow it.", head.Title)
	}
	if sh.Converses {
		return s.followedRequest(ctx, sh)
	}
	number := sh.Revision
	if number == 0 {
		number = head.Revision
	}
	v, err := s.Store.Exchange.GuestViewer(ctx, sh)
	var withheld string
	if err == nil {
		withheld, err = s.Store.Releases.WithheldKey(ctx, sh.DocumentID, number)
	}
	if err != nil {
		return store.Whole{}, err
	}
	if withheld != "" && number != head.Revision {
		// Its pictures conceal it; its words may still tell it.
		return store.Whole{}, refusal.New("Something in this revision was concealed since, so that it is not shown any more. Ask whoever gave you the link for one to the valid revision.")
	}
	around, err := s.Store.Documents.AroundOf(ctx, sh.DocumentID, true, v)
	made := ""
	if err == nil && len(around) > 0 {
		made, err = s.Store.Documents.Composition(ctx, around)
	}
	if err != nil {
		return store.Whole{}, err
	}
	key := fmt.Sprintf("%s by a link %d of %d %s %s", sh.DocumentID, number, head.Revision, withheld, made)
	if w, ok := s.documents.Get(key); ok {
		return w, nil
	}
	w, err := s.Store.Documents.Revision(ctx, sh.DocumentID, number)
	if err == nil {
		w.State = document.Ready
		w, err = s.Works.Read(ctx, w, true, v)
	}
	if err == nil {
		s.documents.Add(key, w)
	}
	return w, err
}

// followedRequest is a request as its asker follows it: as it is written.
func (s *Server) followedRequest(ctx context.Context, sh store.Share) (store.Whole, error) {
	v, err := s.Store.Exchange.GuestViewer(ctx, sh)
	var w store.Whole
	if err == nil {
		w, err = s.Store.Documents.Whole(ctx, sh.DocumentID)
	}
	if err != nil {
		return w, err
	}
	return s.Works.Read(ctx, w, false, v)
}

// ListSharedComments answers with what is said of a request, for its asker.
func (s *Server) ListSharedComments(c *gin.Context, token string, p api.ListSharedCommentsParams) {
	sh, ok := s.shared(c, token, p.Opening)
	if !ok {
		return
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
			s.fail(c, err)
			return
		}
		for _, one := range all {
			// What is said at a place of the text is said among those who help.
			if !one.Deleted && one.Via == "" && one.Place.Block == "" {
				out = append(out, said{one.MadeAt, one.Body, one.MadeName})
			}
		}
	}
	s.answer(c, http.StatusOK, out)
}

// fromShare answers with something of the document that a link shows.
func (s *Server) fromShare(c *gin.Context, token string, opening *string, answer func(store.Share, store.Whole)) {
	sh, ok := s.shared(c, token, opening)
	if !ok {
		return
	}
	w, err := s.sharedDocument(c, sh)
	if err != nil {
		s.fail(c, err)
		return
	}
	answer(sh, w)
}

// GetShared answers with the document of a link.
func (s *Server) GetShared(c *gin.Context, token string, p api.GetSharedParams) {
	s.fromShare(c, token, p.Opening, func(_ store.Share, w store.Whole) {
		out := s.documentAnswer(w)
		forReader(&out)
		out.Summary.Folder = nil
		for id, o := range *out.Others { // they are not opened by this link
			o.Address = ""
			(*out.Others)[id] = o
		}
		s.answer(c, http.StatusOK, out)
	})
}

// GetSharedState answers with which revision a link shows.
func (s *Server) GetSharedState(c *gin.Context, token string, p api.GetSharedStateParams) {
	s.fromShare(c, token, p.Opening, func(_ store.Share, w store.Whole) {
		out := struct {
			Revision int   `json:"revision"`
			Seq      int64 `json:"seq"`
		}{w.Document.Revision, w.Seq}
		s.answer(c, http.StatusOK, out)
	})
}

// GetSharedFigure answers with a finished picture.
func (s *Server) GetSharedFigure(c *gin.Context, token, figure string, p api.GetSharedFigureParams) {
	s.fromShare(c, token, p.Opening, func(_ store.Share, w store.Whole) { s.sendFigure(c, w, figure, of(p.Width)) })
}

// GetSharedPage answers with a page of a filed PDF.
func (s *Server) GetSharedPage(c *gin.Context, token string, page int, p api.GetSharedPageParams) {
	s.fromShare(c, token, p.Opening, func(_ store.Share, w store.Whole) {
		f, err := s.sharedFile(c.Request.Context(), w)
		if err != nil {
			s.fail(c, err)
			return
		}
		defer f.Close()
		s.sendPage(c, *w.Facts.File, f, page)
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
func (s *Server) GetSharedPDF(c *gin.Context, token string, p api.GetSharedPDFParams) {
	ctx := c.Request.Context()
	sh, err := s.Store.Exchange.ShareWith(ctx, hashToken(token))
	if err != nil || sh.PasswordHash != "" || sh.Most > 0 {
		var ok bool
		if sh, ok = s.shared(c, token, p.Opening); !ok {
			return
		}
	}
	if !sh.Downloads {
		problem(c, http.StatusForbidden, "This link is for reading. It does not let the document be taken.")
		return
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
		s.fail(c, err)
		return
	}
	c.Header("X-Robots-Tag", "noindex, nofollow")
	c.Header("Content-Disposition", mime.FormatMediaType("inline", map[string]string{"filename": w.Title + ".pdf"}))
	c.Header("Content-Type", "application/pdf")
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, bytes.NewReader(data))
}

// sharedPDF is the document as a PDF, kept as long as nothing of it changes.
func (s *Server) sharedPDF(c *gin.Context, w store.Whole) ([]byte, error) {
	ctx := c.Request.Context()
	if w.Facts.File != nil {
		f, err := s.sharedFile(ctx, w)
		if err != nil {
			return nil, err
		}
		defer f.Close()
		var out bytes.Buffer
		_, err = out.ReadFrom(f)
		return out.Bytes(), err
	}
	withheld, err := s.Store.Releases.WithheldKey(ctx, w.ID, w.Document.Revision)
	if err != nil {
		return nil, err
	}
	made, err := s.Store.Documents.Composition(ctx, w.Around)
	if err != nil {
		return nil, err
	}
	name := fmt.Sprintf("pdf of %s %d of %d %s %s", w.ID, w.Document.Revision, w.Latest, withheld, made)
	file, err := s.Pictures.Kept(ctx, name, "application/pdf", func(ctx context.Context) ([]byte, error) {
		var out bytes.Buffer
		err := s.Works.PDF(ctx, &out, w)
		return out.Bytes(), err
	})
	return file.Data, err
}

// AddSharedComment keeps a comment of someone without an account, under the name that they give.
func (s *Server) AddSharedComment(c *gin.Context, token string, p api.AddSharedCommentParams) {
	var in api.AddSharedCommentJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Say something, and who you are.")
		return
	}
	sh, ok := s.shared(c, token, p.Opening)
	if !ok {
		return
	}
	if !sh.Comments {
		problem(c, http.StatusForbidden, "This link is for reading. It does not take comments.")
		return
	}
	if s.mustWait(c, s.throttle.forAccount("comments by "+sh.ID, c.ClientIP())) {
		return
	}
	name, body := strings.TrimSpace(text.Plain(in.Name)), strings.TrimSpace(strings.ReplaceAll(in.Body, "\x00", ""))
	if name == "" || body == "" {
		problem(c, http.StatusUnprocessableEntity, "Say something, and who you are.")
		return
	}
	err := s.Store.Reviews.AddComment(c.Request.Context(), store.Comment{
		ID: in.Id, DocumentID: sh.DocumentID, Place: comment.Place{Block: of(in.Block)}, Body: body, Mentions: []string{}, MadeBy: sh.MadeBy, Guest: name,
	})
	if err == nil && sh.Converses {
		err = s.Works.AskedAgain(c.Request.Context(), sh.DocumentID, body, sh.MadeBy)
	}
	s.commented(c, sh.DocumentID, err)
}
