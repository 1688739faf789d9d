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
func (s *Server) PutClip(c *gin.Context, id string, p api.PutClipParams) error {
	dir, err := os.MkdirTemp("", "raconte-arriving-*")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	in := pictures.Arrival{ID: id, By: accountOf(c).ID, Capture: p.Capture}
	files, err := readClip(c.Request, dir, &in)
	if large := bodyError(err); large != nil {
		return large
	}
	if err != nil {
		return problem(http.StatusBadRequest, "The recording did not arrive whole: "+err.Error()+". Nothing was kept; send it again.")
	}
	if files["clip"] == "" || in.About.Taken.IsZero() || in.About.Taken.After(time.Now().AddDate(1, 0, 0)) {
		return problem(http.StatusBadRequest, "The parts about and clip are both needed, and when it was recorded.")
	}
	s.Works.Busy()
	shot, err := s.Pictures.KeepClip(c.Request.Context(), in, files["clip"], files["camera"])
	if errors.Is(err, store.ErrTaken) {
		return problem(http.StatusConflict, "Another picture was sent under the same id.")
	}
	if err != nil {
		return err
	}
	s.Works.Arrived(c.Request.Context(), shot)
	if in.Capture != nil {
		s.events.send(event{kind: "shot", data: takenAnswer(shot), to: toOwner(in.By)})
	}
	return answer(c, http.StatusOK, takenAnswer(shot))
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

// clipOf is a recording that the caller may see.
func (s *Server) clipOf(c *gin.Context, id string) (store.Shot, error) {
	if err := s.seesShot(c, id); err != nil {
		return store.Shot{}, err
	}
	shot, err := s.Store.Captures.Shot(c.Request.Context(), id)
	if err == nil && !shot.Recording.Moves() {
		err = store.ErrNotFound
	}
	return shot, err
}

// GetClip answers with a recording as it was made.
func (s *Server) GetClip(c *gin.Context, id string, p api.GetClipParams) error {
	shot, err := s.clipOf(c, id)
	if err != nil {
		return err
	}
	file, err := s.Pictures.OpenClip(c.Request.Context(), shot, of(p.Camera))
	return s.stream(c, file, err, shot.Recording.SHA256+shot.Recording.Camera, shot.Recording.MediaType)
}

// stream answers with a file by ranges.
func (s *Server) stream(c *gin.Context, file blobs.Blob, err error, key, mediaType string) error {
	if err != nil {
		return s.sendPicture(c, pictures.File{}, err)
	}
	defer file.Close()
	pictureHeader(c, key, mediaType)
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, file)
	return nil
}

// GetClipFrame answers with what is seen at a moment.
func (s *Server) GetClipFrame(c *gin.Context, id string, p api.GetClipFrameParams) error {
	shot, err := s.clipOf(c, id)
	if err != nil {
		return err
	}
	file, err := s.Pictures.ClipFrame(pictures.For(c.Request.Context(), accountOf(c).ID), shot, min(p.At, shot.Recording.Ms))
	return s.sendPicture(c, file, err)
}

// GetClipStrip answers with moments beside each other.
func (s *Server) GetClipStrip(c *gin.Context, id string) error {
	shot, err := s.clipOf(c, id)
	if err != nil {
		return err
	}
	file, err := s.Pictures.ClipStrip(c.Request.Context(), shot)
	return s.sendPicture(c, file, err)
}

// GetClipStills answers with where nothing moves, or with how far the search for it is.
func (s *Server) GetClipStills(c *gin.Context, id string) error {
	shot, err := s.clipOf(c, id)
	if err != nil {
		return err
	}
	ctx := c.Request.Context()
	if !s.Pictures.HasStills(ctx, shot) {
		return s.looking(c, shot, nil, 0)
	}
	spans, err := s.Pictures.Stills(ctx, shot)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, spans)
}

func (s *Server) looking(c *gin.Context, shot store.Shot, part *scene.Rect, at int) error {
	m, err := s.Works.Looked(c.Request.Context(), shot, part, at, accountOf(c).ID)
	if err != nil {
		return err
	}
	if m.Error != "" {
		return problem(http.StatusUnprocessableEntity, m.Error)
	}
	return answer(c, http.StatusAccepted, makingAnswer(m))
}

// FollowInClip answers with where a part of the picture is at every moment, or with how far the search for it is.
func (s *Server) FollowInClip(c *gin.Context, id string, in api.FollowInClipJSONRequestBody) error {
	if in.Part.W < 4 || in.Part.H < 4 {
		return problem(http.StatusBadRequest, "Say which part of the picture is to be followed; at least 4 × 4 pixels.")
	}
	shot, err := s.clipOf(c, id)
	if err != nil {
		return err
	}
	ctx := c.Request.Context()
	at := min(in.At, shot.Recording.Ms)
	if !s.Pictures.HasFollowed(ctx, shot, in.Part, at) {
		return s.looking(c, shot, &in.Part, at)
	}
	path, err := s.Pictures.Follow(ctx, shot, in.Part, at)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, path)
}

// MakeClip begins a finished clip of a figure, or tells how far it is.
func (s *Server) MakeClip(c *gin.Context, in api.MakeClipJSONRequestBody) error {
	if err := in.Figure.Check(); err != nil {
		return problem(http.StatusBadRequest, sentence(err))
	}
	for _, shot := range in.Figure.Shots() {
		if err := s.seesShot(c, shot); err != nil {
			return err
		}
	}
	if clip := in.Figure.Clip; clip != nil && clip.Voice != "" {
		if err := s.plays(c, clip.Voice); err != nil {
			return err
		}
	}
	m, err := s.Works.Moving(c.Request.Context(), in.Figure, in.First, string(in.Form), of(in.Most), accountOf(c).ID)
	if err != nil {
		return err
	}
	if m.Key != "" {
		m.Key += "." + s.Works.Key.Sign(m.Key, accountOf(c).ID)
	}
	return answer(c, http.StatusOK, makingAnswer(m))
}

func makingAnswer(m works.Making) api.Making {
	out := api.Making{Key: m.Key, Done: m.Done, Total: m.Total}
	if m.Error != "" {
		out.Error = &m.Error
	}
	return out
}

// GetMadeClip answers with a finished clip, to whom it was made for.
func (s *Server) GetMadeClip(c *gin.Context, clip string, p api.GetMadeClipParams) error {
	key, signed, _ := strings.Cut(clip, ".")
	if !s.Works.Key.Signed(signed, key, accountOf(c).ID) {
		return store.ErrNotFound
	}
	for _, f := range media.Forms {
		if f.Name == string(p.Form) {
			file, err := s.Pictures.OpenMoving(c.Request.Context(), key)
			return s.stream(c, file, err, key, f.Type)
		}
	}
	return store.ErrNotFound
}

// GetFigureClip answers with a finished clip of a document, once it is made.
func (s *Server) GetFigureClip(c *gin.Context, id, figureID string, p api.GetFigureClipParams) error {
	w, err := s.revised(c, id, p.Revision)
	if err != nil {
		return err
	}
	return s.sendMoving(c, w.Whole, figureID, accountOf(c).ID)
}

// sendMoving answers with a finished clip of a document, or with how far it is.
func (s *Server) sendMoving(c *gin.Context, w store.Whole, figureID, account string) error {
	d := w.Core()
	f, _, ok := d.Figure(figureID)
	if !ok || f.Clip == nil {
		return store.ErrNotFound
	}
	return s.playMoving(c, f, d.Numbers().Markers[figureID], account)
}

func (s *Server) playMoving(c *gin.Context, f figure.Figure, first int, account string) error {
	m, err := s.Works.Moving(c.Request.Context(), f, first, media.MP4.Name, 0, account)
	if err != nil {
		return err
	}
	if m.Key == "" {
		return answer(c, http.StatusAccepted, makingAnswer(m))
	}
	file, err := s.Pictures.OpenMoving(c.Request.Context(), m.Key)
	return s.stream(c, file, err, m.Key, media.MP4.Type)
}

// GetSharedClip answers with a finished clip of a link's document.
func (s *Server) GetSharedClip(c *gin.Context, token, figure string, p api.GetSharedClipParams) error {
	return s.fromShare(c, token, p.Opening, func(sh store.Share, w store.Whole) error { return s.sendMoving(c, w, figure, sh.MadeBy) })
}
