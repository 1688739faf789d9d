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
	"unicode/utf8"

	"raconte/api"
	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/page"
	"raconte/core/sight"
	"raconte/core/style"
	"raconte/intake"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// ListCaptures answers with the caller's sessions.
func (s *Server) ListCaptures(c *gin.Context) error {
	all, err := s.Store.Captures.Captures(c.Request.Context(), accountOf(c).ID)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, captureAnswer))
}

// PutCapture begins a session or names it anew.
func (s *Server) PutCapture(c *gin.Context, id string, in api.PutCaptureJSONRequestBody) error {
	if strings.TrimSpace(in.Name) == "" || len([]rune(in.Name)) > 200 {
		return problem(http.StatusBadRequest, "Give the session a name of at most 200 characters.")
	}
	made, err := s.Store.Captures.BeginCapture(c.Request.Context(), id, strings.TrimSpace(in.Name), accountOf(c).ID)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, captureAnswer(made))
}

// GetCapture answers with a session and its shots.
func (s *Server) GetCapture(c *gin.Context, id string) error {
	session, shots, err := s.session(c, id)
	if err != nil {
		return err
	}
	return s.sendSession(c, session, shots)
}

func (s *Server) session(c *gin.Context, id string) (store.Capture, []store.Shot, error) {
	session, err := s.Store.Captures.Capture(c.Request.Context(), id, accountOf(c).ID)
	if err != nil {
		return session, nil, err
	}
	shots, err := s.Store.Captures.FindShots(c.Request.Context(), accountOf(c).ID, store.ShotQuery{Capture: id})
	return session, shots, err
}

// OrderShots puts a session's shots in another order.
func (s *Server) OrderShots(c *gin.Context, id string, in api.OrderShotsJSONRequestBody) error {
	return empty(c, s.Store.Captures.Reorder(c.Request.Context(), accountOf(c).ID, id, in.Shots))
}

// EvenShots gives shots that differ a little in size one crop.
func (s *Server) EvenShots(c *gin.Context, id string) error {
	if err := s.Store.Captures.Even(c.Request.Context(), accountOf(c).ID, id); err != nil {
		return err
	}
	session, shots, err := s.session(c, id)
	if err != nil {
		return err
	}
	return s.sendSession(c, session, shots)
}

// CompareShots compares all shots of a session again.
func (s *Server) CompareShots(c *gin.Context, id string) error {
	session, shots, err := s.session(c, id)
	if err == nil {
		err = s.Pictures.CompareAgain(c.Request.Context(), shots)
	}
	if err != nil {
		return err
	}
	return s.sendSession(c, session, shots)
}

// PutCapturedShot takes a shot in at the end of a session.
func (s *Server) PutCapturedShot(c *gin.Context, session, id string) error {
	in, err := s.arrival(c, id)
	if err != nil {
		return err
	}
	in.Capture = &session
	return s.take(c, in.Arrival, func(shot store.Shot) any { return takenAnswer(shot) })
}

// PutFeedShot takes a shot in that a recorder outside the browser brings.
func (s *Server) PutFeedShot(c *gin.Context, id string) error {
	in, err := s.arrival(c, id)
	if err != nil {
		return err
	}
	in.About.Source = "feed"
	owner := accountOf(c).ID
	if in.session == "" {
		in.session = c.GetString("device") + ", " + s.Store.Here(in.About.Taken).Format("2 January 2006")
	}
	if r := []rune(in.session); len(r) > 200 {
		in.session = string(r[:200])
	}
	session := in.run
	if session == "" {
		// The same name is the same session, so that a recorder need keep no ids.
		session = uuid.NewSHA1(uuid.NameSpaceURL, []byte("feed "+owner+" "+in.session)).String()
	}
	_, err = s.Store.Captures.Capture(c.Request.Context(), session, owner)
	if errors.Is(err, store.ErrNotFound) {
		_, err = s.Store.Captures.BeginCapture(c.Request.Context(), session, in.session, owner)
	}
	if err != nil {
		return err
	}
	in.Capture = &session
	return s.take(c, in.Arrival, func(shot store.Shot) any { return takenAnswer(shot) })
}

type arrival struct {
	pictures.Arrival
	session string
	run     string // the session's id, where the recorder chose one
}

// arrival reads a shot that comes in as a form of several parts.
func (s *Server) arrival(c *gin.Context, id string) (arrival, error) {
	in := arrival{Arrival: pictures.Arrival{ID: id, By: accountOf(c).ID}}
	parts, err := c.Request.MultipartReader()
	if err != nil {
		return in, problem(http.StatusBadRequest, "Send a form (multipart/form-data) with the parts about and picture.")
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
			return in, large
		}
		if err != nil {
			return in, problem(http.StatusBadRequest, "The shot did not arrive whole or its part about is not in order: "+err.Error()+". Nothing was kept; send it again.")
		}
	}
	if !told || len(in.Data) == 0 {
		return in, problem(http.StatusBadRequest, "The parts about and picture are both needed.")
	}
	if in.About.Taken.IsZero() || in.About.Taken.After(time.Now().AddDate(1, 0, 0)) {
		return in, problem(http.StatusBadRequest, "The time the shot was taken is missing or can't be right.")
	}
	return in, nil
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
		if err := intake.CheckJSON(data, mostUsualValues); err != nil {
			return err
		}
		if err := json.Unmarshal(data, &in.About); err != nil {
			return fmt.Errorf("reading the part about: %w", err)
		}
		return in.About.Check()
	case "run":
		in.run = string(data)
		if !id.Valid(in.run) {
			return errors.New("the part run is no id")
		}
	case "name", "session":
		if !utf8.Valid(data) {
			return fmt.Errorf("the part %s holds bytes that are no characters (it is not UTF-8)", part.FormName())
		}
		value := strings.TrimSpace(string(data))
		if part.FormName() == "name" {
			in.Name = value
		} else {
			in.session = value
		}
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

// sendSession answers with a session and its shots.
func (s *Server) sendSession(c *gin.Context, session store.Capture, shots []store.Shot) error {
	i := 0
	taken := each(s, c, shots, func(shot store.Shot) api.Taken {
		taken := takenAnswer(shot)
		if i > 0 {
			taken.Uneven = capture.Uneven(framed(shots[i-1]), framed(shot))
		}
		i++
		return taken
	})
	return answer(c, http.StatusOK, struct {
		Capture api.Capture       `json:"capture"`
		Shots   []json.RawMessage `json:"shots"`
	}{captureAnswer(session), taken})
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
		Place: shot.Place, About: shot.About, Verdict: api.TakenVerdict(shot.Verdict), Text: shot.FoundText, Placed: shot.Placed, Clip: recordingAnswer(shot.Recording),
	}
	if shot.DiscardedAt != nil && !shot.Used {
		goes := later(shot.CreatedAt, *shot.DiscardedAt).Add(pictures.KeepDeleted)
		out.Goes = &goes
	}
	if p, ok := capture.PrintOf(figure.Size{W: shot.Width, H: shot.Height}, shot.About.Scale, sight.TextHeight(shot.Words), page.PictureWidth(style.Default())); ok {
		out.Print = &p
	}
	return out
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}
