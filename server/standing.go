package server

import (
	"net/http"

	"raconte/api"
	"raconte/core/access"
	"raconte/output/formats"
	"raconte/store"
	"raconte/works"

	"github.com/gin-gonic/gin"
)

// CreateFolderDelivery begins a file of all that is valid in a folder.
func (s *Server) CreateFolderDelivery(c *gin.Context, folder string) {
	o, ok := s.ordered(c, "")
	if ok {
		s.orderFolder(c, folder, o)
	}
}

func (s *Server) orderFolder(c *gin.Context, id string, o works.Order) {
	all, err := s.Store.Setup.Folders(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	for _, f := range all {
		if f.ID != id || !may(c, access.Read, access.Thing{Folder: f.ID}) {
			continue
		}
		j, err := s.Works.OrderFolder(c.Request.Context(), f, o, accountOf(c).Viewer())
		if err != nil {
			s.fail(c, err)
			return
		}
		j.OwnerName = accountOf(c).DisplayName
		s.answer(c, http.StatusAccepted, deliveryFor(accountOf(c).ID)(j))
		return
	}
	s.fail(c, store.ErrNotFound)
}

// ListPlaces answers with the places that standing deliveries can go to.
func (s *Server) ListPlaces(c *gin.Context) {
	out := []string{}
	for _, p := range s.Works.Places {
		out = append(out, p.Name)
	}
	s.answer(c, http.StatusOK, out)
}

// ListStandings answers with the standing deliveries of documents that the caller may open.
func (s *Server) ListStandings(c *gin.Context) {
	all, err := s.Store.Exchange.Standings(c.Request.Context(), accountOf(c).Viewer())
	if err != nil {
		s.fail(c, err)
		return
	}
	out := []api.Standing{}
	for _, n := range all {
		d, err := s.Store.Documents.Head(c.Request.Context(), n.DocumentID)
		if err != nil {
			s.fail(c, err)
			return
		}
		out = append(out, standingOf(n, d))
	}
	s.answer(c, http.StatusOK, out)
}

func standingOf(n store.Standing, d store.Document) api.Standing {
	o := works.OrderOfStanding(n)
	out := api.Standing{Id: n.ID, Document: n.DocumentID, Title: d.Title, Format: o.Format, Place: n.Place, Path: n.Path, By: n.MadeName, At: n.MadeAt, Put: n.PutAt}
	if f, ok := formats.Named(o.Format); ok {
		out.Format = f.About().Title
	}
	if n.Revision > 0 {
		said := d.Facts.SayRevision(n.Revision)
		out.Revision = &said
	}
	if n.Error != "" {
		out.Error = &n.Error
	}
	return out
}

// CreateStanding keeps a delivery that is made again at each release.
func (s *Server) CreateStanding(c *gin.Context, id string) {
	var in api.CreateStandingJSONBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Say what to make, and where it goes.")
		return
	}
	w, _, err := s.visible(c, id, true)
	if err != nil {
		s.fail(c, err)
		return
	}
	n, err := s.Works.Stand(c.Request.Context(), w, order(in.Order), in.Place, in.Path, accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	n.MadeName = accountOf(c).DisplayName
	s.answer(c, http.StatusCreated, standingOf(n, w.Document))
}

// aStanding is a standing delivery of a document that the caller may open.
func (s *Server) aStanding(c *gin.Context, id string) (store.Standing, bool) {
	n, err := s.Store.Exchange.Standing(c.Request.Context(), id)
	var d store.Document
	if err == nil {
		d, err = s.Store.Documents.Head(c.Request.Context(), n.DocumentID)
	}
	if err == nil && (n.Deleted || !may(c, access.Read, access.Thing{Folder: of(d.FolderID)})) {
		err = store.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
	}
	return n, err == nil
}

// RepeatStanding makes a standing delivery now.
func (s *Server) RepeatStanding(c *gin.Context, id string) {
	n, ok := s.aStanding(c, id)
	if !ok {
		return
	}
	if err := s.Store.Exchange.QueueStanding(c.Request.Context(), n.ID); err != nil {
		s.fail(c, err)
		return
	}
	s.Works.Rouse()
	c.Status(http.StatusAccepted)
}

// DeleteStanding ends a standing delivery.
func (s *Server) DeleteStanding(c *gin.Context, id string) {
	n, ok := s.aStanding(c, id)
	if !ok {
		return
	}
	if err := s.Store.Exchange.DeleteStanding(c.Request.Context(), n.ID); err != nil {
		s.fail(c, err)
		return
	}
	s.Works.Rouse()
	c.Status(http.StatusNoContent)
}
