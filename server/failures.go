package server

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"raconte/api"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/store"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// TellFailure keeps what someone says who follows a document, and fails at a step: as a request of theirs, with the
// step and its picture, in the document's folder, for whoever answers for the document.
func (s *Server) TellFailure(c *gin.Context, id string, in api.TellFailureJSONRequestBody) error {
	if strings.TrimSpace(in.Wrong) == "" {
		return problem(http.StatusBadRequest, "Say in a few words what happens instead.")
	}
	who, ctx := accountOf(c), c.Request.Context()
	if err := s.mustWait(c, s.throttle.atDoor("failures", who.ID)); err != nil { // as at a door that is open to everybody in the house
		return err
	}
	w, err := s.visible(c, id, false)
	if err != nil {
		return err
	}
	// A manual's chapters may lie elsewhere: what stands in one is told of where it is followed by itself.
	if w.Kind != document.Procedure {
		return problem(http.StatusUnprocessableEntity, "Steps of procedures are told of. Open the procedure itself.")
	}
	d := w.Core()
	at := slices.IndexFunc(d.Blocks, func(b document.Block) bool { return b.ID == in.Block })
	if at < 0 {
		return problem(http.StatusNotFound, "That step is not in the document any more. Load the page again.")
	}
	step := d.Blocks[at]
	folder, _, err := s.Store.Setup.Whereabouts(ctx, id)
	by := w.ChangedBy
	if err == nil {
		if a, gone := s.Store.Identity.Account(ctx, by); gone != nil || a.DisabledAt != nil {
			by, err = s.Store.Identity.FirstAdministrator(ctx)
		}
	}
	if err != nil {
		return err
	}
	var figures []figure.Figure
	for _, f := range step.Figures {
		f = f.Clone()
		f.ID = uuid.NewString()
		figures = append(figures, f)
	}
	came := "failure " + who.ID + " " + in.Id
	asked := store.Incoming{CameAs: &came, Asker: who.DisplayName, Address: of(who.Email), Folder: folder}
	_, err = s.Works.Receive(ctx, asked, map[document.Question]string{
		document.Wrong: in.Wrong,
		document.Wanted: fmt.Sprintf("Step %s of “%s”, %s:\n%s", d.Numbers().Blocks[step.ID], strings.TrimSpace(w.Facts.Number+" "+w.Title), w.Facts.SayRevision(w.Revision),
			step.Words.Named(d.Names(w.Around.Titles(), nil)).Reading(nil)),
	}, figures, by, in.Follow, hashToken(in.Follow))
	if err != nil && !errors.Is(err, store.ErrConflict) { // else it is there already
		return err
	}
	return empty(c, nil)
}
