package server

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io"
	"net/http"
	"strings"

	"raconte/api"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/text"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

const doorClosed = "This door is closed. Ask whoever gave you its address for another."

// ListDoors answers with the doors that are open.
func (s *Server) ListDoors(c *gin.Context) error {
	all, err := s.Store.Exchange.Doors(c.Request.Context())
	if err != nil {
		return err
	}
	out := []api.Door{}
	for _, d := range all {
		out = append(out, api.Door{Id: d.ID, Name: d.Name, By: d.MadeName, At: d.MadeAt})
	}
	return answer(c, http.StatusOK, out)
}

// AddDoor opens a door.
func (s *Server) AddDoor(c *gin.Context, in api.AddDoorJSONRequestBody) error {
	if strings.TrimSpace(in.Name) == "" || strings.ContainsAny(in.Name, "\n\r\x00") {
		return problem(http.StatusUnprocessableEntity, "Say whom the door is for, in a line.")
	}
	token := newToken()
	d, err := s.Store.Exchange.AddDoor(c.Request.Context(), store.Door{Name: strings.TrimSpace(in.Name), TokenHash: hashToken(token), MadeBy: accountOf(c).ID})
	if err != nil {
		return err
	}
	out := struct {
		Door    api.Door `json:"door"`
		Address string   `json:"address"`
	}{api.Door{Id: d.ID, Name: d.Name, By: accountOf(c).DisplayName, At: d.MadeAt}, s.Address + "/ask/" + token}
	return answer(c, http.StatusCreated, out)
}

// CloseDoor closes one for good.
func (s *Server) CloseDoor(c *gin.Context, id string) error {
	return empty(c, s.Store.Exchange.CloseDoor(c.Request.Context(), id, accountOf(c).ID))
}

// door is the one that a request came by. What takes room waits for its turn, by address and
// by door.
func (s *Server) door(c *gin.Context, token string, costs bool) (store.Door, error) {
	c.Header("X-Robots-Tag", "noindex, nofollow")
	if err := s.mustWait(c, s.throttle.fromAddress(c.ClientIP())); err != nil {
		return store.Door{}, err
	}
	d, err := s.Store.Exchange.DoorWith(c.Request.Context(), hashToken(token))
	if errors.Is(err, store.ErrNotFound) {
		err = problem(http.StatusNotFound, doorClosed)
	}
	if err == nil && costs {
		err = s.mustWait(c, s.throttle.atDoor(d.ID, c.ClientIP()))
	}
	return d, err
}

// GetDoor answers with whose door it is.
func (s *Server) GetDoor(c *gin.Context, token string) error {
	d, err := s.door(c, token, false)
	if err != nil {
		return err
	}
	out := struct {
		Name  string `json:"name"`
		House string `json:"house"`
	}{d.Name, s.Works.House}
	return answer(c, http.StatusOK, out)
}

// throughDoor is the id of a shot that came in by a door: nobody can name a shot that did not.
func throughDoor(door, shot string) string {
	sum := sha256.Sum256([]byte(door + " " + shot))
	return "door-" + hex.EncodeToString(sum[:24])
}

// PutDoorPicture takes a picture of a request in.
func (s *Server) PutDoorPicture(c *gin.Context, token, shot string) error {
	d, err := s.door(c, token, true)
	if err != nil {
		return err
	}
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		return bodyFailed(err, "The picture did not arrive whole. Send it again.")
	}
	kept, err := s.Pictures.Keep(pictures.For(c.Request.Context(), "door "+d.ID), pictures.Arrival{ID: throughDoor(d.ID, shot), Name: "picture", Data: data, By: d.MadeBy})
	if errors.Is(err, store.ErrTaken) {
		return problem(http.StatusConflict, "Another picture was sent under the same id.")
	}
	if err != nil {
		return err
	}
	s.Works.Arrived(c.Request.Context(), kept)
	out := struct {
		Height int `json:"height"`
		Width  int `json:"width"`
	}{kept.Height, kept.Width}
	return answer(c, http.StatusOK, out)
}

// AskAtDoor keeps a request of someone without an account.
func (s *Server) AskAtDoor(c *gin.Context, token string, in api.AskAtDoorJSONRequestBody) error {
	d, err := s.door(c, token, true)
	if err != nil {
		return err
	}
	ctx := c.Request.Context()
	came := "door " + d.ID + " " + in.Id
	asked := store.Incoming{DoorID: &d.ID, CameAs: &came, Asker: text.Plain(strings.TrimSpace(in.Name)), Address: strings.TrimSpace(of(in.Mail))}
	if asked.Asker == "" || strings.TrimSpace(in.Wrong) == "" || asked.Address != "" && !strings.Contains(asked.Address, "@") || strings.ContainsAny(asked.Address, " \n\r\x00,;") {
		return problem(http.StatusUnprocessableEntity, "Say who you are and what goes wrong; an e-mail address is one address.")
	}
	var figures []figure.Figure
	for _, f := range in.Pictures {
		f = f.Clone()
		f.ID, f.Shot = uuid.NewString(), throughDoor(d.ID, f.Shot)
		if err := f.Check(); err != nil || len(f.Shots()) > 1 {
			return problem(http.StatusUnprocessableEntity, "A picture is not in order. Take it out and try again.")
		}
		if _, err := s.Store.Captures.Shot(ctx, f.Shot); err != nil {
			return problem(http.StatusUnprocessableEntity, "A picture has not arrived. Send it again.")
		}
		figures = append(figures, f)
	}
	said := map[document.Question]string{
		document.Wanted: of(in.Wanted), document.Wrong: in.Wrong, document.Tried: of(in.Tried), document.Urgent: of(in.Urgent), document.Reach: of(in.Reach),
	}
	_, err = s.Works.Receive(ctx, asked, said, figures, d.MadeBy, in.Follow, hashToken(in.Follow))
	if errors.Is(err, store.ErrConflict) { // it is there already
		err = nil
	}
	return empty(c, err)
}
