package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/readiness"
	"raconte/core/refusal"
	"raconte/store"

	"github.com/gin-gonic/gin"
	openapi_types "github.com/oapi-codegen/runtime/types"
)

// people are accounts that are named, and those in groups, each once, in the order in which they are named.
func (s *Server) people(ctx context.Context, named, groups []string) ([]store.Account, error) {
	if len(groups) > 0 {
		all, err := s.Store.Identity.Groups(ctx)
		if err != nil {
			return nil, err
		}
		for _, g := range all {
			if slices.Contains(groups, g.ID) {
				named = append(named, g.Accounts...)
			}
		}
	}
	all, err := s.Store.Identity.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	var out []store.Account
	seen := map[string]bool{}
	for _, id := range named {
		i := slices.IndexFunc(all, func(a store.Account) bool { return a.ID == id })
		if i < 0 {
			return nil, refusal.New("Someone who is named is not here any more.")
		}
		if !seen[id] && all[i].DisabledAt == nil {
			out = append(out, all[i])
		}
		seen[id] = true
	}
	return out, nil
}

func ids(people []store.Account) (all []string) {
	for _, p := range people {
		all = append(all, p.ID)
	}
	return all
}

// dayIn is a day that came in; nil for none.
func dayIn(d *openapi_types.Date) *time.Time {
	if d == nil {
		return nil
	}
	return &d.Time
}

func dayOut(t *time.Time) *openapi_types.Date {
	if t == nil {
		return nil
	}
	return &openapi_types.Date{Time: *t}
}

// GetApproval answers with what is asked for before a revision is released.
func (s *Server) GetApproval(c *gin.Context, id string) error {
	ctx := c.Request.Context()
	d, err := s.Store.Documents.Head(ctx, id)
	var all []store.Account
	if err == nil {
		all, err = s.Store.Identity.Accounts(ctx)
	}
	if err != nil {
		return err
	}
	rule, err := s.Store.Releases.RulesOf(ctx, d)
	out := api.Approval{Rule: rule.Strictest(), Said: rule.Said(), May: []api.Person{}}
	for _, a := range all {
		if err != nil {
			break
		}
		if a.DisabledAt != nil {
			continue
		}
		if a.Closed, err = s.Store.Setup.ClosedTo(ctx, a); err == nil && rule.May(a.Viewer(), of(d.FolderID), nil) == nil {
			out.May = append(out.May, api.Person{Id: a.ID, Name: a.DisplayName})
		}
	}
	if coming, missing := s.Store.Releases.Coming(ctx, id); missing == nil && coming.HoldsFrom != nil {
		out.Coming = &api.Coming{Revision: d.Facts.SayRevision(coming.Number), HoldsFrom: *dayOut(coming.HoldsFrom)}
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, out)
}

// WithdrawComing takes back an approved revision before its day.
func (s *Server) WithdrawComing(c *gin.Context, id string) error {
	return empty(c, s.Store.Releases.Withdraw(c.Request.Context(), id, accountOf(c).ID))
}

// ListReviews answers with to whom a document was sent.
func (s *Server) ListReviews(c *gin.Context, id string) error {
	_, err := s.Store.Documents.Head(c.Request.Context(), id)
	var all []store.Review
	if err == nil {
		all, err = s.Store.Reviews.Reviews(c.Request.Context(), id)
	}
	return s.answerReviews(c, all, err)
}

// ListMyReviews answers with what waits for the caller, and what they have asked for.
func (s *Server) ListMyReviews(c *gin.Context) error {
	v := accountOf(c).Viewer()
	all, err := s.Store.Reviews.WaitingFor(c.Request.Context(), v)
	var asked []store.Review
	if err == nil {
		asked, err = s.Store.Reviews.AskedFor(c.Request.Context(), v)
	}
	for _, r := range asked {
		if !slices.ContainsFunc(all, func(o store.Review) bool { return o.ID == r.ID }) {
			all = append(all, r)
		}
	}
	return s.answerReviews(c, all, err)
}

func (s *Server) answerReviews(c *gin.Context, all []store.Review, err error) error {
	if err != nil {
		return err
	}
	// Of closed ones it does not matter whether the document has changed since; of each document it is asked once.
	present := map[string]string{}
	for _, r := range all {
		if _, known := present[r.DocumentID]; !known && r.ClosedAt == nil {
			if present[r.DocumentID], err = s.Store.Reviews.DigestOf(c.Request.Context(), r.DocumentID); err != nil {
				return err
			}
		}
	}
	return answer(c, http.StatusOK, each(s, c, all, func(r store.Review) api.Review {
		return reviewAnswer(r, present[r.DocumentID], accountOf(c).ID)
	}))
}

func reviewAnswer(r store.Review, present, me string) api.Review {
	out := api.Review{
		Id: r.ID, Document: r.DocumentID, Title: r.Title, Approval: r.Approval, Digest: r.Digest, Note: r.Note, AskedBy: r.AskedName, AskedAt: r.AskedAt,
		Mine: r.AskedBy == me, ClosedAt: r.ClosedAt, Due: dayOut(r.Due), HoldsFrom: dayOut(r.HoldsFrom), Changed: present != "" && r.Digest != present,
		Outcome: (*api.ReviewOutcome)(orNil(r.Outcome)),
	}
	for _, p := range r.People {
		one := struct {
			Answer  *api.ReviewPeopleAnswer `json:"answer,omitempty"`
			At      *time.Time              `json:"at,omitempty"`
			Changed bool                    `json:"changed"`
			Id      string                  `json:"id"`
			Me      bool                    `json:"me"`
			Name    string                  `json:"name"`
			Words   string                  `json:"words"`
		}{
			Answer: (*api.ReviewPeopleAnswer)(orNil(p.Answer)), At: p.AnsweredAt, Changed: p.Digest != "" && present != "" && p.Digest != present,
			Id: p.AccountID, Me: p.AccountID == me, Name: p.Name, Words: p.Words,
		}
		out.People = append(out.People, one)
	}
	return out
}

// SendForReview sends a document to people.
func (s *Server) SendForReview(c *gin.Context, id string, in api.SendForReviewJSONRequestBody) error {
	ctx, me := c.Request.Context(), accountOf(c)
	people, err := s.people(ctx, in.People, in.Groups)
	var sent store.Review
	var findings []readiness.Finding
	if err == nil {
		r := store.Review{DocumentID: id, Approval: in.Approval, Note: strings.TrimSpace(of(in.Note)), Due: dayIn(in.Due), HoldsFrom: dayIn(in.HoldsFrom)}
		sent, findings, err = s.Store.Reviews.SendForReview(ctx, r, people, in.Seq, me)
	}
	if errors.Is(err, store.ErrConflict) {
		return problem(http.StatusConflict, "Someone changed the document since you saw it. Read what is new, then try again.")
	}
	if err != nil {
		return err
	}
	if readiness.Blocks(findings) {
		return answer(c, http.StatusUnprocessableEntity, api.Findings{Message: "The document can't be sent before these are fixed.", Findings: findings})
	}
	d, err := s.Store.Documents.Head(ctx, id)
	if err == nil {
		n := store.Notice{Kind: store.AboutReview, Ref: sent.ID, Who: me.DisplayName, Told: fmt.Sprintf("%s asks you to look at “%s”.", me.DisplayName, d.Title)}
		if in.Approval {
			n.Kind, n.Told = store.AboutApproval, fmt.Sprintf("%s asks you to approve “%s”.", me.DisplayName, d.Title)
		}
		if sent.Note != "" {
			n.Told += " " + sent.Note
		}
		err = s.Works.Tell(ctx, d, n, ids(people)...)
	}
	if err != nil {
		s.Log.Error("telling reviewers", "document", id, "error", err) // it is in their Reviews all the same
	}
	s.reviewed(id)
	sent.Title = d.Title
	return answer(c, http.StatusCreated, reviewAnswer(sent, sent.Digest, me.ID))
}

// reviewed tells the screens that show a document's reviews.
func (s *Server) reviewed(id string) {
	s.tellReviewers("reviews", id, documentEvent{Document: id})
}

// EndReview waits for no more answers.
func (s *Server) EndReview(c *gin.Context, id, review string) error {
	err := s.Store.Reviews.EndReview(c.Request.Context(), id, review)
	if err == nil {
		s.reviewed(id)
	}
	return empty(c, err)
}

// AnswerReview keeps what someone says who was asked.
func (s *Server) AnswerReview(c *gin.Context, id, review string, in api.AnswerReviewJSONRequestBody) error {
	words := strings.TrimSpace(of(in.Words))
	if in.Answer == api.AnswerReviewJSONBodyAnswerChanges && words == "" {
		return problem(http.StatusUnprocessableEntity, "Say in a few words what should change.")
	}
	ctx, me := c.Request.Context(), accountOf(c)
	r, err := s.Store.Reviews.Answer(ctx, id, review, me.ID, string(in.Answer), words)
	said := map[api.AnswerReviewJSONBodyAnswer]string{api.AnswerReviewJSONBodyAnswerFine: "has no objection to", api.AnswerReviewJSONBodyAnswerChanges: "asks for changes in"}[in.Answer]
	return s.answered(c, r, err, fmt.Sprintf("%s %s “%s”.", me.DisplayName, said, r.Title), words)
}

// answered tells who has asked what came of it.
func (s *Server) answered(c *gin.Context, r store.Review, err error, told, words string) error {
	if err != nil {
		return err
	}
	ctx, me := c.Request.Context(), accountOf(c)
	d, err := s.Store.Documents.Head(ctx, r.DocumentID)
	if err == nil {
		ref := fmt.Sprintf("%s %s %d", r.ID, me.ID, s.Store.Jobs.Clock().Unix())
		err = s.Works.Tell(ctx, d, store.Notice{Kind: store.AboutAnswer, Ref: ref, Who: me.DisplayName, Told: strings.TrimSpace(told + " " + words)}, r.AskedBy)
	}
	if err != nil {
		s.Log.Error("telling of an answer", "document", r.DocumentID, "error", err)
	}
	s.reviewed(r.DocumentID)
	present, err := s.Store.Reviews.DigestOf(ctx, r.DocumentID)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, reviewAnswer(r, present, me.ID))
}

// SignReview signs a document, or refuses to.
func (s *Server) SignReview(c *gin.Context, id, review string, in api.SignReviewJSONRequestBody) error {
	me, words := accountOf(c), strings.TrimSpace(of(in.Words))
	if of(in.Refuse) && words == "" {
		return problem(http.StatusUnprocessableEntity, "Say in a few words why not.")
	}
	if !of(in.Refuse) {
		if err := s.signsThemselves(c, of(in.Password)); err != nil {
			return err
		}
	}
	ctx := c.Request.Context()
	before, err := s.Store.Documents.Head(ctx, id)
	var r store.Review
	if err == nil {
		r, err = s.Store.Reviews.Sign(ctx, id, review, me, in.Digest, words, of(in.Refuse))
	}
	told := fmt.Sprintf("%s has signed “%s”.", me.DisplayName, r.Title)
	switch {
	case of(in.Refuse):
		told = fmt.Sprintf("%s does not approve “%s”.", me.DisplayName, r.Title)
	case r.Outcome == store.Approved && r.HoldsFrom != nil:
		told += " It is approved and valid from " + r.HoldsFrom.Format("2 January 2006") + "."
	case r.Outcome == store.Approved:
		told += " It is approved."
	}
	if err == nil {
		if d, gone := s.Store.Documents.Head(ctx, id); gone == nil {
			s.publish(d, "")
			if d.Revision > before.Revision {
				s.publishRevision(d)
				s.Works.Released(ctx, d)
			}
		}
	}
	return s.answered(c, r, err, told, words)
}

// signsThemselves asks for the password again, or, of who has none since the house's own sign-in knows them, that they
// have just come through it.
func (s *Server) signsThemselves(c *gin.Context, password string) error {
	if accountOf(c).PasswordHash != "" {
		return s.itIsThem(c, password)
	}
	at := time.Unix(s.sessions.GetInt64(c.Request.Context(), "signed-in"), 0)
	if time.Since(at) > freshSignIn {
		return problem(http.StatusUnprocessableEntity, "Your house’s sign-in has to say that it is you: sign in there once more, and sign within five minutes. Nothing was signed.")
	}
	return nil
}

// freshSignIn is for how long someone without a password counts as having just signed in.
const freshSignIn = 5 * time.Minute

// SayStillValid moves the day of a document's next review on.
func (s *Server) SayStillValid(c *gin.Context, id string, in api.SayStillValidJSONRequestBody) error {
	me := accountOf(c)
	review := in.Review.Format(time.DateOnly)
	if review <= s.Store.Today() {
		return problem(http.StatusUnprocessableEntity, "The next review lies ahead. Choose a later day.")
	}
	d, err := s.Store.Documents.Head(c.Request.Context(), id)
	if err == nil && d.Owner != me.DisplayName && !may(c, access.Edit, access.Thing{}) && !may(c, access.Approve, access.Thing{}) {
		return problem(http.StatusForbidden, "This is for who answers for the document.")
	}
	if err == nil {
		d, err = s.Store.Releases.StillValid(c.Request.Context(), id, review, strings.TrimSpace(of(in.Note)), me.ID)
	}
	if err != nil {
		return err
	}
	s.publish(d, "")
	return answer(c, http.StatusOK, s.summary(d))
}

// GetValidity tells whoever holds a printed page whether it is still valid. The document's name is told to who may read
// it.
func (s *Server) GetValidity(c *gin.Context, id string, number int) error {
	ctx := c.Request.Context()
	d, err := s.Store.Documents.Head(ctx, id)
	out := api.Validity{State: api.ValidityStateUnknown}
	if errors.Is(err, store.ErrNotFound) {
		return answer(c, http.StatusOK, out)
	}
	if err != nil {
		return err
	}
	reads := may(c, access.Read, access.Thing{Folder: of(d.FolderID)})
	if number <= d.Revision {
		valid, err := s.Store.Releases.RevisionHead(ctx, id, d.Revision)
		if err != nil {
			return err
		}
		said, by := d.Facts.SayRevision(number), d.Facts.SayRevision(d.Revision)
		out.Revision, out.Since = &said, &valid.MadeAt
		switch {
		case d.State == "retired":
			out.State = api.ValidityStateRetired
			if d.ReplacedBy != nil && reads {
				if other, gone := s.Store.Documents.Head(ctx, *d.ReplacedBy); gone == nil && may(c, access.Read, access.Thing{Folder: of(other.FolderID)}) {
					out.Instead = &api.Instead{Id: other.ID, Title: other.Title}
				}
			}
		case number == d.Revision:
			out.State = api.ValidityStateValid
		default:
			out.State, out.By = api.ValidityStateReplaced, &by
		}
		if reads {
			out.Title = &valid.Title
		}
	}
	return answer(c, http.StatusOK, out)
}
