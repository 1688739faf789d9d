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
func (s *Server) CreateFolderDelivery(c *gin.Context, folder string, in api.CreateFolderDeliveryJSONRequestBody) error {
	o, err := s.ordered(c, "", in)
	if err != nil {
		return err
	}
	return s.orderFolder(c, folder, o)
}

func (s *Server) orderFolder(c *gin.Context, id string, o works.Order) error {
	all, err := s.Store.Setup.Folders(c.Request.Context())
	if err != nil {
		return err
	}
	for _, f := range all {
		if f.ID != id || !may(c, access.Read, access.Thing{Folder: f.ID}) {
			continue
		}
		j, err := s.Works.OrderFolder(c.Request.Context(), f, o, accountOf(c).Viewer())
		if err != nil {
			return err
		}
		j.OwnerName = accountOf(c).DisplayName
		return answer(c, http.StatusAccepted, deliveryFor(accountOf(c).ID)(j))
	}
	return store.ErrNotFound
}

// ListPlaces answers with the places that standing deliveries can go to.
func (s *Server) ListPlaces(c *gin.Context) error {
	out := []string{}
	for _, p := range s.Works.Places {
		out = append(out, p.Name)
	}
	return answer(c, http.StatusOK, out)
}

// ListStandings answers with the standing deliveries of documents that the caller may open.
func (s *Server) ListStandings(c *gin.Context) error {
	all, err := s.Store.Exchange.Standings(c.Request.Context(), accountOf(c).Viewer())
	if err != nil {
		return err
	}
	out := []api.Standing{}
	for _, n := range all {
		d, err := s.Store.Documents.Head(c.Request.Context(), n.DocumentID)
		if err != nil {
			return err
		}
		out = append(out, standingOf(n, d))
	}
	return answer(c, http.StatusOK, out)
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
func (s *Server) CreateStanding(c *gin.Context, id string, in api.CreateStandingJSONRequestBody) error {
	w, err := s.visible(c, id, true)
	if err != nil {
		return err
	}
	n, err := s.Works.Stand(c.Request.Context(), w.Whole, order(in.Order), in.Place, in.Path, accountOf(c).ID)
	if err != nil {
		return err
	}
	n.MadeName = accountOf(c).DisplayName
	return answer(c, http.StatusCreated, standingOf(n, w.Document))
}

// aStanding is a standing delivery of a document that the caller may open.
func (s *Server) aStanding(c *gin.Context, id string) (store.Standing, error) {
	n, err := s.Store.Exchange.Standing(c.Request.Context(), id)
	var d store.Document
	if err == nil {
		d, err = s.Store.Documents.Head(c.Request.Context(), n.DocumentID)
	}
	if err == nil && (n.Deleted || !may(c, access.Read, access.Thing{Folder: of(d.FolderID)})) {
		err = store.ErrNotFound
	}
	return n, err
}

// RepeatStanding makes a standing delivery now.
func (s *Server) RepeatStanding(c *gin.Context, id string) error {
	n, err := s.aStanding(c, id)
	if err != nil {
		return err
	}
	if err := s.Store.Exchange.QueueStanding(c.Request.Context(), n.ID); err != nil {
		return err
	}
	s.Works.Rouse()
	c.Status(http.StatusAccepted)
	return nil
}

// DeleteStanding ends a standing delivery.
func (s *Server) DeleteStanding(c *gin.Context, id string) error {
	n, err := s.aStanding(c, id)
	if err != nil {
		return err
	}
	if err := s.Store.Exchange.DeleteStanding(c.Request.Context(), n.ID); err != nil {
		return err
	}
	s.Works.Rouse()
	return empty(c, nil)
}
