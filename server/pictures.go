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
func (s *Server) PutShot(c *gin.Context, id string, params api.PutShotParams) error {
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		return bodyFailed(err, "The picture did not arrive whole. Send it again.")
	}
	name := ""
	if params.Name != nil {
		name = *params.Name
	}
	return s.take(c, pictures.Arrival{ID: id, Name: name, Data: data, By: accountOf(c).ID}, func(shot store.Shot) any { return shotAnswer(shot) })
}

// take keeps a picture that came in, queues what is made of it, and answers.
func (s *Server) take(c *gin.Context, a pictures.Arrival, told func(store.Shot) any) error {
	s.Works.Busy()
	shot, err := s.Pictures.Keep(c.Request.Context(), a)
	switch {
	case errors.Is(err, store.ErrTaken):
		return problem(http.StatusConflict, "Another picture was sent under the same id.")
	case err != nil:
		return err
	}
	s.Works.Arrived(c.Request.Context(), shot)
	if a.Capture != nil {
		s.events.send(event{kind: "shot", data: takenAnswer(shot), to: toOwner(a.By)})
	}
	return answer(c, http.StatusOK, told(shot))
}

// seesShot tells whether the caller may see a shot, and answers where not.
func (s *Server) seesShot(c *gin.Context, id string) error {
	may, err := s.Store.Captures.MaySeeShot(c.Request.Context(), id, accountOf(c).Viewer())
	if err == nil && !may {
		err = store.ErrNotFound
	}
	return err
}

// GetShot answers with a shot, whole.
func (s *Server) GetShot(c *gin.Context, id string) error {
	if err := s.seesShot(c, id); err != nil {
		return err
	}
	shot, err := s.Store.Captures.Shot(c.Request.Context(), id)
	if err != nil {
		return s.sendPicture(c, pictures.File{}, err)
	}
	file, err := s.Pictures.Open(c.Request.Context(), shot)
	if err != nil {
		return s.sendPicture(c, pictures.File{}, err)
	}
	defer file.Close()
	pictureHeader(c, shot.SHA256, shot.MediaType)
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, file)
	return nil
}

// GetPreview answers with a small copy of a shot.
func (s *Server) GetPreview(c *gin.Context, id string) error {
	if err := s.seesShot(c, id); err != nil {
		return err
	}
	file, err := s.Pictures.Preview(c.Request.Context(), id)
	return s.sendPicture(c, file, err)
}

// GetFigure answers with a finished picture.
func (s *Server) GetFigure(c *gin.Context, id, figureID string, params api.GetFigureParams) error {
	w, err := s.revised(c, id, params.Revision)
	if err != nil {
		return err
	}
	return s.sendFigure(c, w.Whole, figureID, of(params.Width))
}

// sendFigure answers with a finished picture of a document, some pixels wide; 0 is as wide as it is.
func (s *Server) sendFigure(c *gin.Context, w store.Whole, figureID string, width int) error {
	d := w.Core()
	f, _, ok := d.Figure(figureID)
	first := d.Numbers().Markers[figureID]
	if !ok {
		return store.ErrNotFound
	}
	if width != 0 {
		if width < 16 || width > 8192 {
			return problem(http.StatusBadRequest, "The width is 16 to 8192 pixels.")
		}
		width = (width + 99) / 100 * 100 // few different sizes, so that kept pictures are found again
	}
	key, err := s.Pictures.FinishedKey(c.Request.Context(), f, first, width)
	if err == nil && c.GetHeader("If-None-Match") == strconv.Quote(key) {
		c.Status(http.StatusNotModified)
		return nil
	}
	file, err := s.Pictures.Finished(c.Request.Context(), f, first, width)
	return s.sendPicture(c, file, err)
}

// sendPicture answers with a picture. Browsers may keep it but ask each time whether they may still
// show it: who may see what can change.
func (s *Server) sendPicture(c *gin.Context, file pictures.File, err error) error {
	if errors.Is(err, blobs.ErrNotFound) {
		s.Log.Error("a picture's file is missing", "error", err)
		return problem(http.StatusNotFound, "The picture's file is missing on the server. Tell your administrator.")
	}
	if err != nil {
		return err
	}
	pictureHeader(c, file.Key, file.Type)
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, bytes.NewReader(file.Data))
	return nil
}

func pictureHeader(c *gin.Context, key, mediaType string) {
	c.Header("Cache-Control", "private, no-cache")
	c.Header("ETag", strconv.Quote(key))
	c.Header("Content-Type", mediaType)
	c.Header("Content-Disposition", "inline")
}
