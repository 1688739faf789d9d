package server

import (
	"errors"
	"net/http"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/figure"
	"raconte/core/film"
	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/engines/media"
	"raconte/store"
	"raconte/works"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
)

// Speak answers with what a synthetic voice says.
func (s *Server) Speak(c *gin.Context, in api.SpeakJSONRequestBody) error {
	if strings.TrimSpace(in.Text) == "" {
		return problem(http.StatusBadRequest, "Send a text and its language.")
	}
	data, err := s.Works.Say(c.Request.Context(), in.Text, style.Language(in.Language), of(in.Pace))
	if err != nil {
		return err
	}
	return sent(c, "audio/wav", data)
}

// SpeechLengths answers with how long texts take to be spoken.
func (s *Server) SpeechLengths(c *gin.Context, in api.SpeechLengthsJSONRequestBody) error {
	ms := s.Works.Lengths(c.Request.Context(), in.Texts, style.Language(in.Language), of(in.Pace))
	return answer(c, http.StatusOK, struct {
		Ms     []int `json:"ms"`
		Speaks bool  `json:"speaks"`
	}{ms, s.Works.Speaker != nil && media.Found()})
}

// GetSayings answers with how the house says words.
func (s *Server) GetSayings(c *gin.Context) error { return s.sendSayings(c, http.StatusOK) }

func (s *Server) sendSayings(c *gin.Context, code int) error {
	all, version, err := s.Store.Setup.Sayings(c.Request.Context())
	if err != nil {
		return err
	}
	return answer(c, code, api.Sayings{Words: all, Version: version})
}

// PutSayings replaces how the house says words.
func (s *Server) PutSayings(c *gin.Context, in api.PutSayingsJSONRequestBody) error {
	if err := film.CheckSayings(in.Words); err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err))
	}
	err := s.Store.Setup.SetSayings(c.Request.Context(), in.Words, in.Version)
	if errors.Is(err, store.ErrConflict) {
		return s.sendSayings(c, http.StatusConflict)
	}
	if err != nil {
		return err
	}
	return s.sendSayings(c, http.StatusOK)
}

// AddVoice keeps what a person says of a step.
func (s *Server) AddVoice(c *gin.Context, id string, p api.AddVoiceParams) error {
	ctx := c.Request.Context()
	if _, err := s.visible(c, id, true); err != nil {
		return err
	}
	if p.Of != nil {
		if err := s.plays(c, *p.Of); err != nil {
			return err
		}
	}
	v, err := s.Works.AddVoice(c.Request.Context(), c.Request.Body, of(p.Of), figure.Span{From: of(p.From), To: of(p.To)})
	if large := bodyError(err); large != nil {
		err = large
	}
	if err == nil {
		err = s.Store.Documents.KeepVoice(ctx, id, v.SHA256)
	}
	if reason, refused := refusal.Reason(err); refused {
		return problem(http.StatusUnprocessableEntity, reason)
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusCreated, v)
}

// plays fails where the caller may not take over voices.
func (s *Server) plays(c *gin.Context, voices ...string) error {
	may, err := s.Store.Documents.MayPlay(c.Request.Context(), voices, accountOf(c).Viewer())
	if err == nil && !may {
		err = store.ErrNotFound
	}
	return err
}

// GetVoice answers with what a person has said of a step.
func (s *Server) GetVoice(c *gin.Context, id, voice string) error {
	_, err := s.visible(c, id, true)
	holds := false
	if err == nil {
		holds, err = s.Store.Documents.HasVoice(c.Request.Context(), id, voice)
	}
	if err == nil && !holds {
		err = store.ErrNotFound
	}
	if err != nil {
		return err
	}
	file, err := s.Works.Blobs.Open(c.Request.Context(), works.FileKey(voice))
	if err != nil {
		return s.sendPicture(c, pictures.File{}, err)
	}
	defer file.Close()
	pictureHeader(c, voice, "audio/wav")
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, file)
	return nil
}

// GetFilm answers with how far a document's film is, and with its chapters.
func (s *Server) GetFilm(c *gin.Context, id string, p api.GetFilmParams) error {
	w, err := s.valid(c, id)
	if err != nil {
		return err
	}
	making, plan, err := s.Works.Film(c.Request.Context(), w, of(p.Still), accountOf(c).ID)
	if err != nil {
		return err
	}
	type chapter = struct {
		Block string `json:"block"`
		Name  string `json:"name"`
		Start int    `json:"start"`
	}
	out := api.FilmOf{Making: makingAnswer(making), Chapters: []chapter{}, Length: plan.Length}
	for i, ch := range plan.Chapters() {
		out.Chapters = append(out.Chapters, chapter{Block: plan.Scenes[i].ID, Name: ch.Name, Start: ch.Start})
		out.Captions = out.Captions || len(plan.Scenes[i].Captions) > 0
	}
	return answer(c, http.StatusOK, out)
}

// GetFilmPart answers with a document's film, or its captions.
func (s *Server) GetFilmPart(c *gin.Context, id, part string, p api.GetFilmPartParams) error {
	w, err := s.valid(c, id)
	if err != nil {
		return err
	}
	making, plan, err := s.Works.Film(c.Request.Context(), w, of(p.Still), accountOf(c).ID)
	if err == nil && making.Key == "" {
		err = store.ErrNotFound
	}
	if err != nil {
		return err
	}
	if part == "vtt" {
		return sent(c, "text/vtt; charset=utf-8", []byte(plan.VTT()))
	}
	file, err := s.Pictures.OpenMoving(c.Request.Context(), making.Key)
	return s.stream(c, file, err, making.Key, media.MP4.Type)
}

// valid is the valid revision of a document that the caller may see.
func (s *Server) valid(c *gin.Context, id string) (store.Whole, error) {
	w, err := s.Works.Reading(c.Request.Context(), accountOf(c).Viewer(), id, works.Which{})
	if errors.Is(err, works.ErrUnreleased) && reviews(c) { // others know nothing of it
		err = refusal.New("There is no valid revision yet, and so no film of one.")
	}
	return w.Whole, err
}
