package server

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/engines/media"
	"raconte/intake"
	"raconte/platform/blobs"
	"raconte/store"
	"raconte/works"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
)

func recordingAnswer(r store.Recording) *api.Recording {
	if !r.Moves() {
		return nil
	}
	return &api.Recording{Ms: r.Ms, Poster: r.Poster, Sounds: r.Sounds, Camera: r.Camera != "", Type: r.MediaType}
}

// PutClip takes a recording in, at the end of a session where one is named.
func (s *Server) PutClip(c *gin.Context, id string, p api.PutClipParams) {
	dir, err := os.MkdirTemp("", "raconte-arriving-*")
	if err != nil {
		s.fail(c, err)
		return
	}
	defer os.RemoveAll(dir)
	in := pictures.Arrival{ID: id, By: accountOf(c).ID, Capture: p.Capture}
	files, err := readClip(c.Request, dir, &in)
	if large := bodyError(err); large != nil {
		s.fail(c, large)
		return
	}
	if err != nil {
		problem(c, http.StatusBadRequest, "The recording did not arrive whole: "+err.Error()+". Nothing was kept; send it again.")
		return
	}
	if files["clip"] == "" || in.About.Taken.IsZero() || in.About.Taken.After(time.Now().AddDate(1, 0, 0)) {
		problem(c, http.StatusBadRequest, "The parts about and clip are both needed, and when it was recorded.")
		return
	}
	s.Works.Busy()
	shot, err := s.Pictures.KeepClip(c.Request.Context(), in, files["clip"], files["camera"])
	if errors.Is(err, store.ErrTaken) {
		problem(c, http.StatusConflict, "Another picture was sent under the same id.")
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.Works.Arrived(c.Request.Context(), shot)
	if in.Capture != nil {
		s.events.send(event{kind: "shot", data: takenAnswer(shot), to: toOwner(in.By)})
	}
	s.answer(c, http.StatusOK, takenAnswer(shot))
}

// readClip reads a form: what is told of a recording, and its files, which it writes into a folder.
func readClip(r *http.Request, dir string, in *pictures.Arrival) (files map[string]string, err error) {
	parts, err := r.MultipartReader()
	if err != nil {
		return nil, errors.New("it is no form (multipart/form-data)")
	}
	files = map[string]string{}
	for {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			return files, nil
		}
		if err != nil {
			return nil, err
		}
		switch name := part.FormName(); name {
		case "clip", "camera":
			files[name] = filepath.Join(dir, name)
			err = writePart(part, files[name])
		case "about":
			var data []byte
			if data, err = io.ReadAll(io.LimitReader(part, mostAbout)); err == nil {
				err = intake.CheckJSON(data, mostUsualValues)
			}
			if err == nil {
				err = json.Unmarshal(data, &in.About)
			}
		case "name":
			var data []byte
			data, err = io.ReadAll(io.LimitReader(part, 1000))
			in.Name = strings.ToValidUTF8(strings.TrimSpace(string(data)), "")
		}
		part.Close()
		if err != nil {
			return nil, err
		}
	}
}

func writePart(part *multipart.Part, path string) error {
	f, err := os.Create(path)
	if err != nil {
		return fmt.Errorf("keeping what arrived: %w", err)
	}
	n, err := io.Copy(f, io.LimitReader(part, media.MostBytes+1))
	if n > media.MostBytes {
		err = fmt.Errorf("it is larger than %d MB", media.MostBytes>>20)
	}
	return errors.Join(err, f.Close())
}

// clipOf is a shot that the caller may see; not ok: it has answered.
func (s *Server) clipOf(c *gin.Context, id string) (store.Shot, bool) {
	if !s.seesShot(c, id) {
		return store.Shot{}, false
	}
	shot, err := s.Store.Captures.Shot(c.Request.Context(), id)
	if err == nil && !shot.Recording.Moves() {
		err = store.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
		return shot, false
	}
	return shot, true
}

// GetClip answers with a recording as it was made.
func (s *Server) GetClip(c *gin.Context, id string, p api.GetClipParams) {
	shot, ok := s.clipOf(c, id)
	if !ok {
		return
	}
	file, err := s.Pictures.OpenClip(c.Request.Context(), shot, of(p.Camera))
	s.stream(c, file, err, shot.Recording.SHA256+shot.Recording.Camera, shot.Recording.MediaType)
}

// stream answers with a file by ranges.
func (s *Server) stream(c *gin.Context, file blobs.Blob, err error, key, mediaType string) {
	if err != nil {
		s.sendPicture(c, pictures.File{}, err)
		return
	}
	defer file.Close()
	pictureHeader(c, key, mediaType)
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, file)
}

// GetClipFrame answers with what is seen at a moment.
func (s *Server) GetClipFrame(c *gin.Context, id string, p api.GetClipFrameParams) {
	if shot, ok := s.clipOf(c, id); ok {
		file, err := s.Pictures.ClipFrame(pictures.For(c.Request.Context(), accountOf(c).ID), shot, min(p.At, shot.Recording.Ms))
		s.sendPicture(c, file, err)
	}
}

// GetClipStrip answers with moments beside each other.
func (s *Server) GetClipStrip(c *gin.Context, id string) {
	if shot, ok := s.clipOf(c, id); ok {
		file, err := s.Pictures.ClipStrip(c.Request.Context(), shot)
		s.sendPicture(c, file, err)
	}
}

// GetClipStills answers with where nothing moves, or with how far the search for it is.
func (s *Server) GetClipStills(c *gin.Context, id string) {
	shot, ok := s.clipOf(c, id)
	if !ok {
		return
	}
	ctx := c.Request.Context()
	if !s.Pictures.HasStills(ctx, shot) {
		s.looking(c, shot, nil, 0)
		return
	}
	spans, err := s.Pictures.Stills(ctx, shot)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, spans)
}

func (s *Server) looking(c *gin.Context, shot store.Shot, part *scene.Rect, at int) {
	m, err := s.Works.Looked(c.Request.Context(), shot, part, at, accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	if m.Error != "" {
		problem(c, http.StatusUnprocessableEntity, m.Error)
		return
	}
	s.answer(c, http.StatusAccepted, makingAnswer(m))
}

// FollowInClip answers with where a part of the picture is at every moment, or with how far the search for it is.
func (s *Server) FollowInClip(c *gin.Context, id string) {
	var in api.FollowInClipJSONBody
	if err := c.ShouldBindJSON(&in); err != nil || in.Part.W < 4 || in.Part.H < 4 {
		problem(c, http.StatusBadRequest, "Say which part of the picture is to be followed; at least 4 × 4 pixels.")
		return
	}
	shot, ok := s.clipOf(c, id)
	if !ok {
		return
	}
	ctx := c.Request.Context()
	at := min(in.At, shot.Recording.Ms)
	if !s.Pictures.HasFollowed(ctx, shot, in.Part, at) {
		s.looking(c, shot, &in.Part, at)
		return
	}
	path, err := s.Pictures.Follow(ctx, shot, in.Part, at)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, path)
}

// MakeClip begins a finished clip of a figure, or tells how far it is.
func (s *Server) MakeClip(c *gin.Context) {
	var in api.MakeClipJSONBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Send a figure, the number of its first marker and a form.")
		return
	}
	if err := in.Figure.Check(); err != nil {
		problem(c, http.StatusBadRequest, sentence(err))
		return
	}
	for _, shot := range in.Figure.Shots() {
		if !s.seesShot(c, shot) {
			return
		}
	}
	if clip := in.Figure.Clip; clip != nil && clip.Voice != "" && !s.plays(c, clip.Voice) {
		return
	}
	m, err := s.Works.Moving(c.Request.Context(), in.Figure, in.First, string(in.Form), of(in.Most), accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	if m.Key != "" {
		m.Key += "." + s.Works.Key.Sign(m.Key, accountOf(c).ID)
	}
	s.answer(c, http.StatusOK, makingAnswer(m))
}

func makingAnswer(m works.Making) api.Making {
	out := api.Making{Key: m.Key, Done: m.Done, Total: m.Total}
	if m.Error != "" {
		out.Error = &m.Error
	}
	return out
}

// GetMadeClip answers with a finished clip, to whom it was made for.
func (s *Server) GetMadeClip(c *gin.Context, clip string, p api.GetMadeClipParams) {
	key, signed, _ := strings.Cut(clip, ".")
	if !s.Works.Key.Signed(signed, key, accountOf(c).ID) {
		s.fail(c, store.ErrNotFound)
		return
	}
	for _, f := range media.Forms {
		if f.Name == string(p.Form) {
			file, err := s.Pictures.OpenMoving(c.Request.Context(), key)
			s.stream(c, file, err, key, f.Type)
			return
		}
	}
}

// GetFigureClip answers with a finished clip of a document, once it is made.
func (s *Server) GetFigureClip(c *gin.Context, id, figureID string, p api.GetFigureClipParams) {
	w, _, err := s.revised(c, id, p.Revision)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendMoving(c, w, figureID, accountOf(c).ID)
}

// sendMoving answers with a finished clip of a document, or with how far it is.
func (s *Server) sendMoving(c *gin.Context, w store.Whole, figureID, account string) {
	d := w.Core()
	f, _, ok := d.Figure(figureID)
	if !ok || f.Clip == nil {
		s.fail(c, store.ErrNotFound)
		return
	}
	s.playMoving(c, f, d.Numbers().Markers[figureID], account)
}

func (s *Server) playMoving(c *gin.Context, f figure.Figure, first int, account string) {
	m, err := s.Works.Moving(c.Request.Context(), f, first, media.MP4.Name, 0, account)
	if err != nil {
		s.fail(c, err)
		return
	}
	if m.Key == "" {
		s.answer(c, http.StatusAccepted, makingAnswer(m))
		return
	}
	file, err := s.Pictures.OpenMoving(c.Request.Context(), m.Key)
	s.stream(c, file, err, m.Key, media.MP4.Type)
}

// GetSharedClip answers with a finished clip of a link's document.
func (s *Server) GetSharedClip(c *gin.Context, token, figure string, p api.GetSharedClipParams) {
	s.fromShare(c, token, p.Opening, func(sh store.Share, w store.Whole) { s.sendMoving(c, w, figure, sh.MadeBy) })
}
