package server

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/intake"
	"raconte/pictures"
	"raconte/store"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// ListCaptures answers with the caller's sessions.
func (s *Server) ListCaptures(c *gin.Context) {
	all, err := s.Store.Captures(c, accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	out := make([]api.Capture, 0, len(all))
	for _, x := range all {
		out = append(out, captureAnswer(x))
	}
	c.JSON(http.StatusOK, out)
}

// PutCapture begins a session or names it anew.
func (s *Server) PutCapture(c *gin.Context, id string) {
	var in api.PutCaptureJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil || strings.TrimSpace(in.Name) == "" || len([]rune(in.Name)) > 200 || id == "" || len(id) > 64 {
		problem(c, http.StatusBadRequest, "Give the session a name of at most 200 characters.")
		return
	}
	made, err := s.Store.BeginCapture(c, id, strings.TrimSpace(in.Name), accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.JSON(http.StatusOK, captureAnswer(made))
}

// GetCapture answers with a session and its shots.
func (s *Server) GetCapture(c *gin.Context, id string) {
	session, shots, err := s.session(c, id)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.JSON(http.StatusOK, sessionAnswer(session, shots))
}

func (s *Server) session(c *gin.Context, id string) (store.Capture, []store.Shot, error) {
	session, err := s.Store.Capture(c, id, accountOf(c).ID)
	if err != nil {
		return session, nil, err
	}
	shots, err := s.Store.FindShots(c, accountOf(c).ID, store.ShotQuery{Capture: id})
	return session, shots, err
}

// OrderShots puts a session's shots in another order.
func (s *Server) OrderShots(c *gin.Context, id string) {
	var in api.OrderShotsJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil || len(in.Shots) > 5000 {
		problem(c, http.StatusBadRequest, "Name the session's shots in their new order.")
		return
	}
	if err := s.Store.Reorder(c, accountOf(c).ID, id, in.Shots); err != nil {
		s.fail(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// EvenShots gives shots that differ a little in size one crop.
func (s *Server) EvenShots(c *gin.Context, id string) {
	session, shots, err := s.session(c, id)
	if err != nil {
		s.fail(c, err)
		return
	}
	sizes := make([]figure.Size, len(shots))
	for i, shot := range shots {
		sizes[i] = figure.Size{W: shot.Width, H: shot.Height}
	}
	for i, size := range capture.Evened(sizes) {
		shots[i].About.Crop = &scene.Rect{W: float64(size.W), H: float64(size.H)}
		if err := s.Store.SetAbout(c, shots[i].ID, shots[i].About); err != nil {
			s.fail(c, err)
			return
		}
	}
	c.JSON(http.StatusOK, sessionAnswer(session, shots))
}

// CompareShots compares all shots of a session again.
func (s *Server) CompareShots(c *gin.Context, id string) {
	session, shots, err := s.session(c, id)
	if err == nil {
		err = s.Pictures.CompareAgain(c, shots)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.JSON(http.StatusOK, sessionAnswer(session, shots))
}

// PutCapturedShot takes a shot in at the end of a session.
func (s *Server) PutCapturedShot(c *gin.Context, session, id string) {
	in, ok := s.arrival(c, id)
	if !ok {
		return
	}
	in.Capture = &session
	s.take(c, in.Arrival, func(shot store.Shot) any { return takenAnswer(shot) })
}

// PutFeedShot takes a shot in that a recorder outside the browser brings.
func (s *Server) PutFeedShot(c *gin.Context, id string) {
	in, ok := s.arrival(c, id)
	if !ok {
		return
	}
	in.About.Source = "feed"
	owner := accountOf(c).ID
	if in.session == "" {
		in.session = c.GetString("device") + ", " + in.About.Taken.Format("2 January 2006")
	}
	if r := []rune(in.session); len(r) > 200 {
		in.session = string(r[:200])
	}
	// The same name is the same session, so that a recorder need keep no ids.
	session := uuid.NewSHA1(uuid.NameSpaceURL, []byte("feed "+owner+" "+in.session)).String()
	if _, err := s.Store.BeginCapture(c, session, in.session, owner); err != nil {
		s.fail(c, err)
		return
	}
	in.Capture = &session
	s.take(c, in.Arrival, func(shot store.Shot) any { return takenAnswer(shot) })
}

type arrival struct {
	pictures.Arrival
	session string
}

// arrival reads a shot that comes in as a form of several parts; it answers where the form is not in order.
func (s *Server) arrival(c *gin.Context, id string) (arrival, bool) {
	in := arrival{Arrival: pictures.Arrival{ID: id, By: accountOf(c).ID}}
	if id == "" || len(id) > 64 {
		problem(c, http.StatusBadRequest, "The shot has no usable id.")
		return in, false
	}
	parts, err := c.Request.MultipartReader()
	if err != nil {
		problem(c, http.StatusBadRequest, "Send a form (multipart/form-data) with the parts about and picture.")
		return in, false
	}
	told := false
	for {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err == nil {
			err = in.read(part, &told)
		}
		if large := bodyError(err); large != nil {
			s.fail(c, large)
			return in, false
		}
		if err != nil {
			problem(c, http.StatusBadRequest, "The shot did not arrive whole or its part about is not in order: "+err.Error()+". Nothing was kept; send it again.")
			return in, false
		}
	}
	if !told || len(in.Data) == 0 {
		problem(c, http.StatusBadRequest, "The parts about and picture are both needed.")
		return in, false
	}
	if in.About.Taken.IsZero() || in.About.Taken.Year() < 1990 || in.About.Taken.After(time.Now().AddDate(1, 0, 0)) {
		problem(c, http.StatusBadRequest, "The time the shot was taken is missing or can't be right.")
		return in, false
	}
	return in, true
}

func (in *arrival) read(part *multipart.Part, told *bool) error {
	defer part.Close()
	most := int64(mostAbout)
	if part.FormName() == "picture" {
		most = intake.MostBytes
	}
	data, err := io.ReadAll(io.LimitReader(part, most+1))
	if err != nil {
		return err
	}
	if int64(len(data)) > most && part.FormName() != "picture" {
		return fmt.Errorf("the part %s is too large", part.FormName())
	}
	switch part.FormName() {
	case "picture":
		in.Data = data
	case "about":
		*told = true
		if err := json.Unmarshal(data, &in.About); err != nil {
			return fmt.Errorf("reading the part about: %w", err)
		}
	case "name":
		in.Name = strings.TrimSpace(string(data))
	case "session":
		in.session = strings.TrimSpace(string(data))
	}
	return nil
}

func captureAnswer(x store.Capture) api.Capture {
	out := api.Capture{Id: x.ID, Name: x.Name, BeganAt: x.BeganAt, LastAt: x.LastAt, Shots: x.Shots}
	if x.First != "" {
		out.First = &x.First
	}
	return out
}

func sessionAnswer(session store.Capture, shots []store.Shot) api.CaptureWithShots {
	out := api.CaptureWithShots{Capture: captureAnswer(session), Shots: make([]api.Taken, 0, len(shots))}
	for i, shot := range shots {
		taken := takenAnswer(shot)
		if i > 0 {
			taken.Uneven = capture.Uneven(framed(shots[i-1]), framed(shot))
		}
		out.Shots = append(out.Shots, taken)
	}
	return out
}

// framed is the size of what is meant of a shot.
func framed(shot store.Shot) figure.Size {
	size := figure.Size{W: shot.Width, H: shot.Height}
	f := figure.Figure{Crop: shot.About.Crop}.Frame(size)
	return figure.Size{W: int(f.W), H: int(f.H)}
}

func takenAnswer(shot store.Shot) api.Taken {
	out := api.Taken{
		Id: shot.ID, Name: shot.Name, Width: shot.Width, Height: shot.Height, Bytes: shot.Bytes, Capture: shot.CaptureID,
		Place: shot.Place, About: shot.About, Verdict: api.TakenVerdict(shot.Verdict), Text: shot.FoundText, Placed: shot.Placed,
	}
	if p, ok := capture.PrintOf(figure.Size{W: shot.Width, H: shot.Height}, shot.About.Scale, sight.TextHeight(shot.Words), page.PictureWidth); ok {
		out.Print = &p
	}
	return out
}
