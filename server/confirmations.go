package server

import (
	"encoding/csv"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/refusal"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

func confirmationAnswer(c store.Confirmation) api.Confirmation {
	return api.Confirmation{
		Document: c.DocumentID, Title: c.Title, Account: c.AccountID, Name: c.Name, Due: dayOut(c.Due), Revision: c.Revision, Said: strconv.Itoa(c.Revision),
		Valid: c.Valid, Confirmed: c.Confirmed(), At: c.ConfirmedAt,
	}
}

// ListConfirmations answers with who is asked to confirm a document.
func (s *Server) ListConfirmations(c *gin.Context, id string) error {
	_, err := s.Store.Documents.Head(c.Request.Context(), id)
	var all []store.Confirmation
	if err == nil {
		all, err = s.Store.Reviews.ConfirmationsOf(c.Request.Context(), id)
	}
	return s.answerConfirmations(c, all, err)
}

// ListMyConfirmations answers with what the caller is asked to confirm.
func (s *Server) ListMyConfirmations(c *gin.Context) error {
	all, err := s.Store.Reviews.ConfirmationsAsked(c.Request.Context(), accountOf(c).Viewer())
	return s.answerConfirmations(c, all, err)
}

func (s *Server) answerConfirmations(c *gin.Context, all []store.Confirmation, err error) error {
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, confirmationAnswer))
}

// AskToConfirm asks people to confirm the valid revision.
func (s *Server) AskToConfirm(c *gin.Context, id string, in api.AskToConfirmJSONRequestBody) error {
	ctx, me := c.Request.Context(), accountOf(c)
	d, err := s.Store.Documents.Head(ctx, id)
	if err == nil && d.Revision == 0 {
		err = refusal.New("There is no valid revision yet that could be confirmed. Release it first.")
	}
	var people []store.Account
	if err == nil {
		people, err = s.people(ctx, in.People, in.Groups)
	}
	for _, p := range people {
		if err != nil {
			break
		}
		if p.Closed, err = s.Store.Setup.ClosedTo(ctx, p); err == nil && !access.May(p.Viewer(), access.Read, access.Thing{Folder: of(d.FolderID)}) {
			err = refusal.New("%s may not open the folder that the document lies in.", p.DisplayName)
		}
	}
	if err == nil {
		err = s.Store.Reviews.AskToConfirm(ctx, d, ids(people), dayIn(in.Due), of(in.Again), me.ID)
	}
	if err == nil {
		err = s.Works.Tell(ctx, d, store.Notice{
			Kind: store.AboutConfirm, Ref: fmt.Sprintf("%s %d", id, d.Revision), Who: me.DisplayName,
			Told: fmt.Sprintf("%s asks you to read “%s” and to confirm that you have understood it.", me.DisplayName, d.Title),
		}, ids(people)...)
	}
	return empty(c, err)
}

// Confirm keeps that the caller has read and understood a revision: the valid one.
func (s *Server) Confirm(c *gin.Context, id string, in api.ConfirmJSONRequestBody) error {
	d, err := s.Store.Documents.Head(c.Request.Context(), id)
	if err == nil && in.Revision != d.Revision {
		return problem(http.StatusConflict, "There is a newer revision than the one you have read. Read that one.")
	}
	if err == nil {
		err = s.Store.Reviews.Confirm(c.Request.Context(), d, in.Revision, accountOf(c).ID)
	}
	if err == nil {
		s.reviewed(id)
	}
	return empty(c, err)
}

// StopConfirming asks someone no longer.
func (s *Server) StopConfirming(c *gin.Context, id, account string) error {
	return empty(c, s.Store.Reviews.StopConfirming(c.Request.Context(), id, account))
}

// GetConfirmationsFile answers with who has confirmed what, and who has not, as a file.
func (s *Server) GetConfirmationsFile(c *gin.Context, p api.GetConfirmationsFileParams) error {
	ctx := c.Request.Context()
	var all []store.Confirmation
	var err error
	switch {
	case p.Document != nil:
		var folder string
		if folder, _, err = s.Store.Setup.Whereabouts(ctx, *p.Document); err == nil && !may(c, access.Review, access.Thing{Folder: folder}) {
			err = store.ErrNotFound
		}
		if err == nil {
			all, err = s.Store.Reviews.ConfirmationsOf(ctx, *p.Document)
		}
	case may(c, access.Administer, access.Thing{}):
		all, err = s.Store.Reviews.AllConfirmations(ctx)
	default:
		return problem(http.StatusForbidden, denied[access.Administer])
	}
	if err != nil {
		return err
	}
	var out strings.Builder
	w := csv.NewWriter(&out)
	w.UseCRLF = true
	_ = w.Write([]string{"person", "document", "valid revision", "confirmed revision", "confirmed at", "due", "state"}) // a strings.Builder takes everything
	for _, a := range all {
		state, at, due, revision := "open", "", "", ""
		if a.ConfirmedAt != nil {
			at, revision = a.ConfirmedAt.UTC().Format(time.RFC3339), strconv.Itoa(a.Revision)
		}
		if a.Due != nil {
			due = a.Due.Format(time.DateOnly)
		}
		if a.Confirmed() {
			state = "confirmed"
		}
		_ = w.Write([]string{cell(a.Name), cell(a.Title), strconv.Itoa(a.Valid), revision, at, due, state})
	}
	w.Flush()
	c.Header("Content-Disposition", `attachment; filename="confirmations.csv"`)
	return sent(c, "text/csv; charset=utf-8", []byte(out.String()))
}
