package server

import (
	"errors"
	"net/http"
	"net/url"
	"strings"

	"raconte/api"
	"raconte/core/refusal"
	"raconte/platform/passwords"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

func shareAnswer(sh store.Share) api.Share {
	return api.Share{
		Id: sh.ID, Document: sh.DocumentID, Title: sh.Title, Name: sh.Name, Revision: sh.Revision, Password: sh.PasswordHash != "", LastDay: dayOut(sh.LastDay),
		Most: sh.Most, Openings: sh.Openings, Comments: sh.Comments, Downloads: sh.Downloads, MadeBy: sh.MadeName, MadeAt: sh.MadeAt, OpenedAt: sh.OpenedAt,
	}
}

// ListShares answers with the links of a document.
func (s *Server) ListShares(c *gin.Context, id string) error {
	_, err := s.Store.Documents.Head(c.Request.Context(), id)
	return s.answerShares(c, id, err)
}

// ListAllShares answers with all links of the house.
func (s *Server) ListAllShares(c *gin.Context) error { return s.answerShares(c, "", nil) }

func (s *Server) answerShares(c *gin.Context, id string, err error) error {
	var all []store.Share
	if err == nil {
		all, err = s.Store.Exchange.Shares(c.Request.Context(), id, accountOf(c).Viewer())
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, shareAnswer))
}

// AddShare makes a link.
func (s *Server) AddShare(c *gin.Context, id string, in api.AddShareJSONRequestBody) error {
	if strings.TrimSpace(in.Name) == "" {
		return problem(http.StatusBadRequest, "Say whom or what the link is for.")
	}
	if in.LastDay != nil && in.LastDay.Format("2006-01-02") < s.Store.Today() {
		return problem(http.StatusUnprocessableEntity, "The last day is over already.")
	}
	token := newToken()
	sh := store.Share{
		DocumentID: id, TokenHash: hashToken(token), Name: strings.TrimSpace(in.Name), Revision: of(in.Revision), LastDay: dayIn(in.LastDay), Most: of(in.Most),
		Comments: of(in.Comments), Downloads: of(in.Downloads), MadeBy: accountOf(c).ID,
	}
	var err error
	if of(in.Password) != "" {
		sh.PasswordHash, err = passwords.Hash(*in.Password)
	}
	if err == nil {
		sh, err = s.Store.Exchange.AddShare(c.Request.Context(), sh)
	}
	if err != nil {
		return err
	}
	sh.MadeName = accountOf(c).DisplayName
	return answer(c, http.StatusCreated, api.MadeShare{Share: shareAnswer(sh), Address: s.Address + "/s/" + token})
}

// RevokeShare ends a link.
func (s *Server) RevokeShare(c *gin.Context, id, share string) error {
	return empty(c, s.Store.Exchange.RevokeShare(c.Request.Context(), id, share, accountOf(c).ID))
}

const shareGone = "This link is not valid, or not any more. Ask whoever gave it to you."

// shared is the link that a request came by, where its reader has opened it. Not ok: it has answered.
func (s *Server) shared(c *gin.Context, token string, opening *string) (store.Share, error) {
	c.Header("X-Robots-Tag", "noindex, nofollow")
	sh, err := s.Store.Exchange.ShareWith(c.Request.Context(), hashToken(token))
	opened := false
	if err == nil && opening != nil {
		opened, err = s.Store.Exchange.HasOpened(c.Request.Context(), sh.ID, hashToken(*opening))
	}
	switch {
	case errors.Is(err, store.ErrNotFound):
		err = problem(http.StatusNotFound, shareGone)
	case err == nil && !opened:
		err = problem(http.StatusUnauthorized, "Open the link first.")
	}
	return sh, err
}

// OpenShared opens a link.
func (s *Server) OpenShared(c *gin.Context, token string, in api.OpenSharedJSONRequestBody) error {
	c.Header("X-Robots-Tag", "noindex, nofollow")
	if err := s.mustWait(c, s.throttle.fromAddress(c.ClientIP())); err != nil {
		return err
	}
	ctx := c.Request.Context()
	sh, err := s.Store.Exchange.ShareWith(ctx, hashToken(token))
	if errors.Is(err, store.ErrNotFound) {
		return problem(http.StatusNotFound, shareGone)
	}
	if err != nil {
		return err
	}
	if sh.PasswordHash != "" {
		if err := s.opensWith(c, sh, of(in.Password)); err != nil {
			return err
		}
	}
	w, err := s.sharedDocument(c, sh)
	opening := newToken()
	if err == nil {
		err = s.Store.Exchange.OpenShare(ctx, sh.ID, hashToken(opening))
	}
	if errors.Is(err, store.ErrLimit) {
		return problem(http.StatusForbidden, "This link has been opened as often as it may be. Ask whoever gave it to you.")
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, api.Opening{Opening: opening, Title: w.Title, Comments: sh.Comments, Downloads: sh.Downloads, Converses: sh.Converses})
}

// opensWith fails where a password is not that of a link.
func (s *Server) opensWith(c *gin.Context, sh store.Share, password string) error {
	if password == "" {
		return needs(api.Password, "A password is asked for.")
	}
	if err := s.mustWait(c, s.throttle.forAccount("link "+sh.ID, c.ClientIP())); err != nil {
		return err
	}
	match, err := s.passwordIs(c, password, sh.PasswordHash)
	if err != nil {
		return err
	}
	if !match {
		s.throttle.failed("link "+sh.ID, c.ClientIP())
		return needs(api.Password, "The password is wrong.")
	}
	s.throttle.succeeded("link "+sh.ID, c.ClientIP())
	return nil
}

// framesOf are the origins of pages that may show links in a frame. The error is a refusal where one is no origin (RFC
// 6454): nothing else may get into the header that lists them.
func framesOf(all []string) ([]string, error) {
	origins := []string{}
	for _, one := range all {
		one = strings.TrimSuffix(strings.TrimSpace(one), "/")
		if one == "" {
			continue
		}
		u, err := url.Parse(one)
		if err != nil || (u.Scheme != "https" && u.Scheme != "http") || u.Host == "" || one != u.Scheme+"://"+u.Host || strings.ContainsAny(one, " ;,'\"*") {
			return nil, refusal.New("“%.60s” is no address of a site, as in https://intranet.house.example.", one)
		}
		origins = append(origins, one)
	}
	return origins, nil
}
