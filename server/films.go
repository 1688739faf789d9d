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
func (s *Server) Speak(c *gin.Context) {
	var in api.Speech
	if err := c.ShouldBindJSON(&in); err != nil || strings.TrimSpace(in.Text) == "" {
		problem(c, http.StatusBadRequest, "Send a text and its language.")
		return
	}
	data, err := s.Works.Say(c.Request.Context(), in.Text, style.Language(in.Language), of(in.Pace))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Data(http.StatusOK, "audio/wav", data)
}

// SpeechLengths answers with how long texts take to be spoken.
func (s *Server) SpeechLengths(c *gin.Context) {
	var in api.SpeechLengthsJSONBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Send texts and their language.")
		return
	}
	ms := s.Works.Lengths(c.Request.Context(), in.Texts, style.Language(in.Language), of(in.Pace))
	s.answer(c, http.StatusOK, struct {
		Ms     []int `json:"ms"`
		Speaks bool  `json:"speaks"`
	}{ms, s.Works.Speaker != nil && media.Found()})
}

// GetSayings answers with how the house says words.
func (s *Server) GetSayings(c *gin.Context) { s.sendSayings(c, http.StatusOK) }

func (s *Server) sendSayings(c *gin.Context, code int) {
	all, version, err := s.Store.Setup.Sayings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, code, api.Sayings{Words: all, Version: version})
}

// PutSayings replaces how the house says words.
func (s *Server) PutSayings(c *gin.Context) {
	var in api.Sayings
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Send the whole list, and the version that it was made from.")
		return
	}
	if err := film.CheckSayings(in.Words); err != nil {
		problem(c, http.StatusUnprocessableEntity, sentence(err))
		return
	}
	err := s.Store.Setup.SetSayings(c.Request.Context(), in.Words, in.Version)
	if errors.Is(err, store.ErrConflict) {
		s.sendSayings(c, http.StatusConflict)
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendSayings(c, http.StatusOK)
}

// AddVoice keeps what a person says of a step.
func (s *Server) AddVoice(c *gin.Context, id string, p api.AddVoiceParams) {
	ctx := c.Request.Context()
	if _, _, err := s.visible(c, id, true); err != nil {
		s.fail(c, err)
		return
	}
	if p.Of != nil && !s.plays(c, *p.Of) {
		return
	}
	v, err := s.Works.AddVoice(c.Request.Context(), c.Request.Body, of(p.Of), figure.Span{From: of(p.From), To: of(p.To)})
	if large := bodyError(err); large != nil {
		err = large
	}
	if err == nil {
		err = s.Store.Documents.KeepVoice(ctx, id, v.SHA256)
	}
	if reason, refused := refusal.Reason(err); refused {
		problem(c, http.StatusUnprocessableEntity, reason)
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusCreated, v)
}

// plays tells whether the caller may take over voices, and answers where not.
func (s *Server) plays(c *gin.Context, voices ...string) bool {
	may, err := s.Store.Documents.MayPlay(c.Request.Context(), voices, accountOf(c).Viewer())
	if err == nil && !may {
		err = store.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
	}
	return err == nil
}

// GetVoice answers with what a person has said of a step.
func (s *Server) GetVoice(c *gin.Context, id, voice string) {
	_, _, err := s.visible(c, id, true)
	holds := false
	if err == nil {
		holds, err = s.Store.Documents.HasVoice(c.Request.Context(), id, voice)
	}
	if err == nil && !holds {
		err = store.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	file, err := s.Works.Blobs.Open(c.Request.Context(), works.FileKey(voice))
	if err != nil {
		s.sendPicture(c, pictures.File{}, err)
		return
	}
	defer file.Close()
	pictureHeader(c, voice, "audio/wav")
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, file)
}

// GetFilm answers with how far a document's film is, and with its chapters.
func (s *Server) GetFilm(c *gin.Context, id string, p api.GetFilmParams) {
	w, err := s.valid(c, id)
	if err != nil {
		s.fail(c, err)
		return
	}
	making, plan, err := s.Works.Film(c.Request.Context(), w, of(p.Still), accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
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
	s.answer(c, http.StatusOK, out)
}

// GetFilmPart answers with a document's film, or its captions.
func (s *Server) GetFilmPart(c *gin.Context, id, part string, p api.GetFilmPartParams) {
	w, err := s.valid(c, id)
	if err != nil {
		s.fail(c, err)
		return
	}
	making, plan, err := s.Works.Film(c.Request.Context(), w, of(p.Still), accountOf(c).ID)
	if err == nil && making.Key == "" {
		err = store.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	if part == "vtt" {
		c.Data(http.StatusOK, "text/vtt; charset=utf-8", []byte(plan.VTT()))
		return
	}
	file, err := s.Pictures.OpenMoving(c.Request.Context(), making.Key)
	s.stream(c, file, err, making.Key, media.MP4.Type)
}

// valid is the valid revision of a document that the caller may see.
func (s *Server) valid(c *gin.Context, id string) (store.Whole, error) {
	ctx := c.Request.Context()
	if _, _, err := s.visible(c, id, false); err != nil {
		return store.Whole{}, err
	}
	doc, err := s.Store.Documents.LastRevision(ctx, id)
	if errors.Is(err, store.ErrNotFound) || err == nil && doc.Document.Revision == 0 {
		return store.Whole{}, refusal.New("There is no valid revision yet, and so no film of one.")
	}
	if err != nil {
		return store.Whole{}, err
	}
	return s.Works.Read(ctx, doc, true, accountOf(c).Viewer())
}
