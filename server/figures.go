package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/reshoot"
	"raconte/core/scene"
	"raconte/core/secrets"
	"raconte/core/sight"
	"raconte/output/picture"
	"raconte/platform/mail"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
)

// FinishPicture answers with the finished picture of a figure that the caller has before them.
func (s *Server) FinishPicture(c *gin.Context, in api.FinishPictureJSONRequestBody) error {
	if err := in.Figure.Check(); err != nil {
		return problem(http.StatusBadRequest, sentence(err))
	}
	want := pictures.Wanted{Figure: in.Figure, First: in.First, Type: string(in.Type), Quality: 90}
	mailed := in.Type == "eml"
	if mailed {
		want.Type, want.Most, want.Types = "png", mostMailed, []string{"image/png", "image/jpeg"}
	}
	if in.Quality != nil {
		want.Quality = *in.Quality
	}
	if in.Most != nil {
		want.Most = *in.Most
	}
	if picture.Types[want.Type] == "" || want.Quality < 1 || want.Quality > 100 || want.Most < 0 {
		return problem(http.StatusBadRequest, "The type is png, jpeg, webp, gif or pdf, and the quality 1 to 100.")
	}
	for _, shot := range in.Figure.Shots() {
		if err := s.seesShot(c, shot); err != nil {
			return err
		}
	}
	file, width, letters, err := s.Pictures.Finish(c.Request.Context(), want)
	if errors.Is(err, picture.ErrTooLarge) {
		return problem(http.StatusUnprocessableEntity, fmt.Sprintf(
			"The picture can't be made as small as %s and still be read. Crop it to what matters, or send a link.", bytesIn(want.Most)))
	}
	if err != nil {
		return err
	}
	if mailed {
		name := capture.SafeName(of(in.Name))
		draft, err := mail.Mail{Subject: name, Files: []mail.File{{Name: name + "." + strings.TrimPrefix(file.Type, "image/"), Type: file.Type, Data: file.Data}}}.Draft()
		if err != nil {
			return err
		}
		file.Data, file.Type = draft, "message/rfc822"
	}
	c.Header("X-Picture-Width", strconv.Itoa(width))
	c.Header("X-Picture-Share", strconv.FormatFloat(file.Share, 'f', 2, 64))
	c.Header("X-Picture-Letters", strconv.FormatFloat(letters, 'f', 1, 64))
	return sent(c, file.Type, file.Data)
}

// mostMailed is how large a picture is that goes by mail: what most mail servers take, in bytes.
const mostMailed = 7_000_000

func bytesIn(n int) string {
	if n >= 1_000_000 {
		return fmt.Sprintf("%d MB", n/1_000_000)
	}
	return fmt.Sprintf("%d KB", n/1000)
}

// GetChanged answers with what differs from the shot before.
func (s *Server) GetChanged(c *gin.Context, id string) error {
	if err := s.seesShot(c, id); err != nil {
		return err
	}
	shot, err := s.Store.Captures.Shot(c.Request.Context(), id)
	rects := []scene.Rect{}
	if err == nil {
		var found []scene.Rect
		found, err = s.Pictures.Changed(c.Request.Context(), shot)
		rects = append(rects, found...)
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return answer(c, http.StatusOK, rects)
}

// GetSecrets answers with what in a shot should perhaps be concealed. Where its text was not read yet, that is
// done now.
func (s *Server) GetSecrets(c *gin.Context, id string) error {
	if err := s.seesShot(c, id); err != nil {
		return err
	}
	shot, words, read, reading, err := s.wordsOf(c.Request.Context(), id)
	if err != nil {
		return err
	}
	faces, err := s.Works.FacesIn(c.Request.Context(), shot)
	if err != nil {
		return err
	}
	own, _, err := s.Store.Setup.SecretWords(c.Request.Context())
	if err != nil {
		return err
	}
	found := secrets.Find(words, shot.About.Elements, own, faces...)
	if found == nil {
		found = []secrets.Suggestion{}
	}
	return answer(c, http.StatusOK, api.Secrets{Read: read, Reading: reading, Found: found})
}

// wordsOf are the words in a shot. Where they were not read yet, that is done now; reading says that it takes longer
// than somebody waits.
func (s *Server) wordsOf(ctx context.Context, id string) (shot store.Shot, words []sight.Word, read, reading bool, err error) {
	if shot, err = s.Store.Captures.Shot(ctx, id); err != nil {
		return shot, nil, false, false, err
	}
	words, read = shot.Words, shot.FoundText != nil
	if !read && s.Works.Reads() {
		words, read = s.Works.ReadNow(ctx, shot)
		reading = !read
	}
	return shot, words, read, reading, nil
}

// GetWords answers with the words in a shot.
func (s *Server) GetWords(c *gin.Context, id string) error {
	if err := s.seesShot(c, id); err != nil {
		return err
	}
	_, words, read, reading, err := s.wordsOf(c.Request.Context(), id)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, api.ReadWords{Read: read, Reading: reading, Words: append([]sight.Word{}, words...)})
}

// GetSecretWords answers with the team's own words to conceal.
func (s *Server) GetSecretWords(c *gin.Context) error {
	return s.sendSecretWords(c, http.StatusOK)
}

// PutSecretWords replaces them.
func (s *Server) PutSecretWords(c *gin.Context, in api.PutSecretWordsJSONRequestBody) error {
	var words []string
	for _, word := range in.Words {
		word = strings.TrimSpace(word)
		if len([]rune(word)) > 200 {
			return problem(http.StatusBadRequest, "A word has at most 200 characters. Nothing was changed.")
		}
		if word != "" && !slices.Contains(words, word) {
			words = append(words, word)
		}
	}
	switch err := s.Store.Setup.SetSecretWords(c.Request.Context(), words, in.Version); {
	case errors.Is(err, store.ErrConflict):
		return s.sendSecretWords(c, http.StatusConflict)
	case err != nil:
		return err
	}
	return s.sendSecretWords(c, http.StatusOK)
}

func (s *Server) sendSecretWords(c *gin.Context, code int) error {
	words, version, err := s.Store.Setup.SecretWords(c.Request.Context())
	if err != nil {
		return err
	}
	return answer(c, code, api.SecretWords{Version: version, Words: words})
}

// GetHanded answers with where a shot was handed out.
func (s *Server) GetHanded(c *gin.Context, id string) error {
	if err := s.seesShot(c, id); err != nil {
		return err
	}
	handed, err := s.Store.Releases.HandedOut(c.Request.Context(), id)
	return s.sendHanded(c, handed, err)
}

// GetUses answers with the steps that show a shot.
func (s *Server) GetUses(c *gin.Context, id string) error {
	if err := s.seesShot(c, id); err != nil {
		return err
	}
	all, err := s.Store.Releases.Uses(c.Request.Context(), id, accountOf(c).Viewer())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, func(u store.Use) api.Use {
		return api.Use{Document: u.DocumentID, Title: u.Title, Block: u.BlockID}
	}))
}

// Withhold conceals places of a shot in everything that was handed out before.
func (s *Server) Withhold(c *gin.Context, id string, in api.WithholdJSONRequestBody) error {
	if err := s.seesShot(c, id); err != nil {
		return err
	}
	for _, area := range in {
		if err := area.Check(); err != nil {
			return problem(http.StatusBadRequest, "The places to conceal can't be read. Nothing was changed.")
		}
	}
	handed, err := s.Store.Releases.Withhold(c.Request.Context(), id, in, accountOf(c).ID)
	s.Works.Rouse() // what lies at places of the house is made anew
	return s.sendHanded(c, handed, err)
}

func (s *Server) sendHanded(c *gin.Context, all []store.Handed, err error) error {
	if err != nil {
		return err
	}
	// Of what is closed to the caller it is done all the same, but not told.
	all = slices.DeleteFunc(all, func(h store.Handed) bool { return !may(c, access.Read, access.Thing{Folder: of(h.FolderID)}) })
	return answer(c, http.StatusOK, each(s, c, all, func(h store.Handed) api.Handed {
		return api.Handed{Document: h.DocumentID, Title: h.Title, Revisions: h.Revisions}
	}))
}

// ListStyles answers with the team's named styles.
func (s *Server) ListStyles(c *gin.Context) error {
	all, err := s.Store.Setup.Styles(c.Request.Context())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, styleAnswer))
}

// AddStyle names a style.
func (s *Server) AddStyle(c *gin.Context, in api.AddStyleJSONRequestBody) error {
	name, kind := strings.TrimSpace(in.Name), figure.Kind(in.Kind)
	if n := len([]rune(name)); n < 1 || n > 100 || !slices.Contains(figure.Kinds, kind) || in.Style.Check() != nil {
		return problem(http.StatusBadRequest, "Give the style a name of 1 to 100 characters, and a kind and looks that marks can have.")
	}
	made, err := s.Store.Setup.AddStyle(c.Request.Context(), name, kind, in.Style, accountOf(c).ID)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, styleAnswer(made))
}

// DeleteStyle forgets a named style.
func (s *Server) DeleteStyle(c *gin.Context, id string) error {
	return empty(c, s.Store.Setup.DeleteStyle(c.Request.Context(), id))
}

func styleAnswer(n store.NamedStyle) api.NamedStyle {
	return api.NamedStyle{Id: n.ID, Name: n.Name, Kind: string(n.Kind), Style: n.Style}
}

// FindTargets answers with where the targets of marks are in another shot.
func (s *Server) FindTargets(c *gin.Context, id string, in api.FindTargetsJSONRequestBody) error {
	if err := (figure.Figure{ID: "marks", Shot: "marks", Marks: in.Marks}).Check(); err != nil {
		return problem(http.StatusBadRequest, sentence(err))
	}
	for _, shot := range []string{id, in.From} {
		if err := s.seesShot(c, shot); err != nil {
			return err
		}
	}
	before, err := s.Store.Captures.Shot(c.Request.Context(), in.From)
	var after store.Shot
	if err == nil {
		after, err = s.Store.Captures.Shot(c.Request.Context(), id)
	}
	var found []reshoot.Target
	if err == nil {
		found, err = s.Pictures.Targets(c.Request.Context(), in.Marks, before, after)
	}
	if err != nil {
		return err
	}
	out := make([]api.Target, 0, len(found))
	for _, t := range found {
		out = append(out, api.Target{Mark: t.Mark.ID, Sure: api.TargetSure(t.Sure), Points: t.Mark.Points})
	}
	return answer(c, http.StatusOK, out)
}
