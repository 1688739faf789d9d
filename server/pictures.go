package server

import (
	"bytes"
	"errors"
	"io"
	"net/http"
	"strconv"
	"time"

	"raconte/api"
	"raconte/platform/blobs"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
)

// PutShot takes a picture in.
func (s *Server) PutShot(c *gin.Context, id string, params api.PutShotParams) {
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		s.failBody(c, err, "The picture did not arrive whole. Send it again.")
		return
	}
	name := ""
	if params.Name != nil {
		name = *params.Name
	}
	s.take(c, pictures.Arrival{ID: id, Name: name, Data: data, By: accountOf(c).ID}, func(shot store.Shot) any { return shotAnswer(shot) })
}

// take keeps a picture that came in, queues what is made of it, and answers.
func (s *Server) take(c *gin.Context, a pictures.Arrival, answer func(store.Shot) any) {
	s.Works.Busy()
	shot, err := s.Pictures.Keep(c.Request.Context(), a)
	switch {
	case errors.Is(err, store.ErrTaken):
		problem(c, http.StatusConflict, "Another picture was sent under the same id.")
		return
	case err != nil:
		s.fail(c, err)
		return
	}
	s.Works.Arrived(c.Request.Context(), shot)
	if a.Capture != nil {
		s.events.send(event{kind: "shot", data: takenAnswer(shot), to: toOwner(a.By)})
	}
	s.answer(c, http.StatusOK, answer(shot))
}

// seesShot tells whether the caller may see a shot, and answers where not.
func (s *Server) seesShot(c *gin.Context, id string) bool {
	may, err := s.Store.Captures.MaySeeShot(c.Request.Context(), id, accountOf(c).Viewer())
	if err == nil && !may {
		err = store.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
	}
	return err == nil
}

// GetShot answers with a shot, whole.
func (s *Server) GetShot(c *gin.Context, id string) {
	if !s.seesShot(c, id) {
		return
	}
	shot, err := s.Store.Captures.Shot(c.Request.Context(), id)
	if err != nil {
		s.sendPicture(c, pictures.File{}, err)
		return
	}
	file, err := s.Pictures.Open(c.Request.Context(), shot)
	if err != nil {
		s.sendPicture(c, pictures.File{}, err)
		return
	}
	defer file.Close()
	pictureHeader(c, shot.SHA256, shot.MediaType)
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, file)
}

// GetPreview answers with a small copy of a shot.
func (s *Server) GetPreview(c *gin.Context, id string) {
	if !s.seesShot(c, id) {
		return
	}
	file, err := s.Pictures.Preview(c.Request.Context(), id)
	s.sendPicture(c, file, err)
}

// GetFigure answers with a finished picture.
func (s *Server) GetFigure(c *gin.Context, id, figureID string, params api.GetFigureParams) {
	w, _, err := s.revised(c, id, params.Revision)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendFigure(c, w, figureID, of(params.Width))
}

// sendFigure answers with a finished picture of a document, some pixels wide; 0 is as wide as it is.
func (s *Server) sendFigure(c *gin.Context, w store.Whole, figureID string, width int) {
	d := w.Core()
	f, _, ok := d.Figure(figureID)
	first := d.Numbers().Markers[figureID]
	if !ok {
		s.fail(c, store.ErrNotFound)
		return
	}
	if width != 0 {
		if width < 16 || width > 8192 {
			problem(c, http.StatusBadRequest, "The width is 16 to 8192 pixels.")
			return
		}
		width = (width + 99) / 100 * 100 // few different sizes, so that kept pictures are found again
	}
	key, err := s.Pictures.FinishedKey(c.Request.Context(), f, first, width)
	if err == nil && c.GetHeader("If-None-Match") == strconv.Quote(key) {
		c.Status(http.StatusNotModified)
		return
	}
	file, err := s.Pictures.Finished(c.Request.Context(), f, first, width)
	s.sendPicture(c, file, err)
}

// sendPicture answers with a picture. Browsers may keep it but ask each time whether they may still
// show it: who may see what can change.
func (s *Server) sendPicture(c *gin.Context, file pictures.File, err error) {
	if errors.Is(err, blobs.ErrNotFound) {
		s.Log.Error("a picture's file is missing", "error", err)
		problem(c, http.StatusNotFound, "The picture's file is missing on the server. Tell your administrator.")
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	pictureHeader(c, file.Key, file.Type)
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, bytes.NewReader(file.Data))
}

func pictureHeader(c *gin.Context, key, mediaType string) {
	c.Header("Cache-Control", "private, no-cache")
	c.Header("ETag", strconv.Quote(key))
	c.Header("Content-Type", mediaType)
	c.Header("Content-Disposition", "inline")
}
