package server

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/comment"
	"raconte/core/refusal"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// ListComments answers with what is said of a document.
func (s *Server) ListComments(c *gin.Context, id string) error {
	_, err := s.Store.Documents.Head(c.Request.Context(), id)
	var all []store.Comment
	if err == nil {
		all, err = s.Store.Reviews.Comments(c.Request.Context(), id)
	}
	if err != nil {
		return err
	}
	needs := func(c store.Comment) bool { return c.Suggestion != nil || c.Place.Pin != nil }
	if !slices.ContainsFunc(all, needs) {
		return answer(c, http.StatusOK, threads(all, accountOf(c).ID))
	}
	w, err := s.Store.Documents.Whole(c.Request.Context(), id)
	if err != nil {
		return err
	}
	s.follow(c.Request.Context(), all, w.Core())
	out := threads(all, accountOf(c).ID)
	suggested(out, all, w.Core())
	return answer(c, http.StatusOK, out)
}

// threads puts comments together that answer each other. One of which every comment was taken back is gone.
func threads(all []store.Comment, account string) []api.Thread {
	out := []api.Thread{}
	place := map[string]int{}
	said := map[string]bool{}
	for _, c := range all {
		said[c.Thread] = said[c.Thread] || !c.Deleted
	}
	for _, c := range all {
		if !said[c.Thread] {
			continue
		}
		at, known := place[c.Thread]
		if !known {
			at = len(out)
			place[c.Thread] = at
			out = append(out, api.Thread{Id: c.Thread, Place: c.Place, Comments: []api.Comment{}})
			if c.ResolvedAt != nil {
				out[at].Resolved = &struct {
					At time.Time `json:"at"`
					By string    `json:"by"`
				}{*c.ResolvedAt, c.ResolvedName}
			}
		}
		out[at].Comments = append(out[at].Comments, api.Comment{
			Id: c.ID, By: c.MadeName, Mine: c.MadeBy == account && c.Guest == "", At: c.MadeAt, Edited: c.EditedAt, Body: c.Body, Mentions: c.Mentions, Deleted: c.Deleted,
		})
	}
	return out
}

// saying checks what a comment says and whom it names: people who may see the document.
func (s *Server) saying(c *gin.Context, id, body string, mentions []string) (string, []string, error) {
	body = strings.TrimSpace(body)
	if body == "" || utf8.RuneCountInString(body) > comment.Longest {
		return "", nil, refusal.New("A comment has 1 to %d characters.", comment.Longest)
	}
	d, err := s.Store.Documents.Head(c.Request.Context(), id)
	if err != nil {
		return "", nil, err
	}
	kept := []string{}
	for _, m := range mentions {
		a, err := s.Store.Identity.Account(c.Request.Context(), m)
		if err == nil {
			a.Closed, err = s.Store.Setup.ClosedTo(c.Request.Context(), a)
		}
		if errors.Is(err, store.ErrNotFound) {
			return "", nil, refusal.New("Someone who is named is not here any more.")
		}
		if err != nil {
			return "", nil, err
		}
		if !access.May(a.Viewer(), access.Review, access.Thing{Folder: of(d.FolderID)}) {
			return "", nil, refusal.New("%s may not see this document while it is written, and can't be named.", a.DisplayName)
		}
		kept = append(kept, a.ID)
	}
	return body, kept, nil
}

// AddComment keeps a comment.
func (s *Server) AddComment(c *gin.Context, id string, in api.AddCommentJSONRequestBody) error {
	place := of(in.Place)
	body, mentions, err := s.saying(c, id, in.Body, of(in.Mentions))
	if err == nil {
		if bad := place.Check(); bad != nil {
			err = refusal.New("%s", sentence(bad))
		}
	}
	var suggestion *store.Suggestion
	if err == nil && (in.Suggestion != nil || in.Figure != nil) {
		suggestion, err = s.suggesting(c, id, place, in.Suggestion, in.Figure)
	}
	if err == nil {
		err = s.Store.Reviews.AddComment(c.Request.Context(), store.Comment{
			ID: in.Id, DocumentID: id, Thread: of(in.Thread), Place: place, Body: body, Mentions: mentions, MadeBy: accountOf(c).ID, Suggestion: suggestion,
		})
	}
	switch {
	case errors.Is(err, store.ErrLimit):
		err = refusal.New("There are as many comments as a document may have. Settle some first.")
	case errors.Is(err, store.ErrConflict):
		err = refusal.New("The comment has the id of another.")
	}
	if err == nil {
		s.tellNamed(c, id, in.Id, body, mentions)
	}
	return s.commented(c, id, err)
}

// tellNamed tells those whom a comment names. The comment is there whether or not that succeeds.
func (s *Server) tellNamed(c *gin.Context, id, comment, body string, people []string) {
	ctx, me := c.Request.Context(), accountOf(c)
	d, err := s.Store.Documents.Head(ctx, id)
	if err == nil {
		n := store.Notice{Kind: store.AboutMention, Ref: comment, Who: me.DisplayName, Told: fmt.Sprintf("%s names you in a comment on “%s”: %s", me.DisplayName, d.Title, body)}
		err = s.Works.Tell(ctx, d, n, people...)
	}
	if err != nil {
		s.Log.Error("telling whom a comment names", "document", id, "error", err)
	}
}

// ChangeComment changes one's own comment, or settles a thread.
func (s *Server) ChangeComment(c *gin.Context, id, commentID string, in api.ChangeCommentJSONRequestBody) error {
	var err error
	if in.Body != nil {
		var body string
		var mentions []string
		if body, mentions, err = s.saying(c, id, *in.Body, of(in.Mentions)); err == nil {
			err = s.Store.Reviews.RewordComment(c.Request.Context(), id, commentID, accountOf(c).ID, body, mentions)
		}
	}
	if err == nil && in.Outcome != nil {
		if !may(c, access.Edit, access.Thing{}) {
			return problem(http.StatusForbidden, denied[access.Edit])
		}
		err = s.Store.Reviews.DecideSuggestion(c.Request.Context(), id, commentID, accountOf(c).ID, string(*in.Outcome))
	}
	if err == nil && in.Resolved != nil {
		err = s.Store.Reviews.ResolveComments(c.Request.Context(), id, commentID, accountOf(c).ID, *in.Resolved)
	}
	return s.commented(c, id, err)
}

// DeleteComment takes one's own comment back.
func (s *Server) DeleteComment(c *gin.Context, id, commentID string) error {
	return s.commented(c, id, s.Store.Reviews.DeleteComment(c.Request.Context(), id, commentID, accountOf(c).ID))
}

// commented tells everyone who edits that something else is said of a document.
func (s *Server) commented(c *gin.Context, id string, err error) error {
	if err != nil {
		return err
	}
	s.tellReviewers("comments", id, documentEvent{Document: id})
	return empty(c, nil)
}
