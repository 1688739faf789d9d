package server

import (
	"bytes"
	"context"
	"errors"
	"io"
	"net/http"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/intake"
	"raconte/intake/face"
	"raconte/store"
	"raconte/works"

	"github.com/gin-gonic/gin"
)

// ListHouseStyles answers with the styles that ship, and those of the house.
func (s *Server) ListHouseStyles(c *gin.Context) {
	made, err := s.Store.Setup.HouseStyles(c.Request.Context())
	var usual string
	if err == nil {
		usual, err = s.Store.Setup.UsualStyle(c.Request.Context())
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	out := []api.KeptStyle{}
	for i, id := range style.BuiltIns() {
		st, _ := style.BuiltIn(id)
		out = append(out, api.KeptStyle{Id: id, BuiltIn: true, Usual: id == usual || usual == "" && i == 0, Style: st})
	}
	for _, h := range made {
		out = append(out, api.KeptStyle{Id: h.ID, Version: h.Version, Usual: h.ID == usual, Style: h.Content})
	}
	s.answer(c, http.StatusOK, out)
}

// AddHouseStyle keeps a new style.
func (s *Server) AddHouseStyle(c *gin.Context) {
	st, ok := s.styleSent(c, func() (st style.Style, err error) { return st, c.ShouldBindJSON(&st) })
	if !ok {
		return
	}
	h, err := s.Store.Setup.AddHouseStyle(c.Request.Context(), st, accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusCreated, api.KeptStyle{Id: h.ID, Version: h.Version, Style: h.Content})
}

// ChangeHouseStyle changes a style of the house.
func (s *Server) ChangeHouseStyle(c *gin.Context, id string) {
	var in api.ChangeHouseStyleJSONBody
	st, ok := s.styleSent(c, func() (style.Style, error) { err := c.ShouldBindJSON(&in); return in.Style, err })
	if !ok {
		return
	}
	if _, ships := style.BuiltIn(id); ships {
		problem(c, http.StatusUnprocessableEntity, "This style ships with Raconte and stays as it is. Keep what you changed as a style of the house.")
		return
	}
	h, err := s.Store.Setup.ChangeHouseStyle(c.Request.Context(), id, in.Version, st, accountOf(c).ID)
	if errors.Is(err, store.ErrConflict) {
		problem(c, http.StatusConflict, "Someone else has changed this style since. Open it again; what you changed can be kept as a style of its own.")
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, api.KeptStyle{Id: h.ID, Version: h.Version, Style: h.Content})
}

// styleSent reads a style and checks it, with the files that it names; where it is not in order that is answered.
func (s *Server) styleSent(c *gin.Context, read func() (style.Style, error)) (style.Style, bool) {
	st, err := read()
	if err != nil {
		problem(c, http.StatusBadRequest, "Send a house style.")
		return st, false
	}
	st.Format = style.Format
	if err := st.Check(); err != nil {
		problem(c, http.StatusUnprocessableEntity, sentence(err)+" Nothing was kept.")
		return st, false
	}
	names := st.Faces.All()
	if st.Logo != nil {
		names = append(names, st.Logo.SHA256)
	}
	for _, sha := range names {
		if _, err := s.Store.Setup.HouseFile(c.Request.Context(), sha); err != nil {
			if errors.Is(err, store.ErrNotFound) {
				err = refusal.New("A face or the logo that the style names is not here. Add its file first.")
			}
			s.fail(c, err)
			return st, false
		}
	}
	return st, true
}

// DeleteHouseStyle takes a style out of the choice.
func (s *Server) DeleteHouseStyle(c *gin.Context, id string) {
	if err := s.Store.Setup.DeleteHouseStyle(c.Request.Context(), id); err != nil {
		s.fail(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// SetUsualStyle says which style documents have that name none.
func (s *Server) SetUsualStyle(c *gin.Context) {
	var in api.SetUsualStyleJSONBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Name a style.")
		return
	}
	if _, ships := style.BuiltIn(in.Style); !ships {
		if h, err := s.Store.Setup.HouseStyle(c.Request.Context(), in.Style); err != nil || h.Deleted {
			s.fail(c, errors.Join(err, store.ErrNotFound))
			return
		}
	}
	if err := s.Store.Setup.SetUsualStyle(c.Request.Context(), in.Style); err != nil {
		s.fail(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// ListStyleUses answers with the documents that name a style.
func (s *Server) ListStyleUses(c *gin.Context, id string) {
	docs, err := s.Store.Setup.StyleUses(c.Request.Context(), id)
	if err != nil {
		s.fail(c, err)
		return
	}
	type use = struct {
		Id    string `json:"id"`
		Title string `json:"title"`
	}
	out := []use{}
	for _, d := range docs {
		if may(c, access.Read, access.Thing{Folder: of(d.FolderID)}) {
			out = append(out, use{d.ID, d.Title})
		}
	}
	s.answer(c, http.StatusOK, out)
}

// TryStyle answers with the pages of a document in a style that is not kept.
func (s *Server) TryStyle(c *gin.Context, id string) {
	var in api.TryStyleJSONBody
	st, ok := s.styleSent(c, func() (style.Style, error) { err := c.ShouldBindJSON(&in); return in.Style, err })
	if !ok {
		return
	}
	w, _, err := s.visible(c, id, true)
	if err != nil {
		s.fail(c, err)
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), longestLayout)
	defer cancel()
	w.Revised, w.Style = true, &st
	pages, err := s.Works.Pages(ctx, w, of(in.Layout))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, pages)
}

// ListHouseFiles answers with the faces or the logos of the house.
func (s *Server) ListHouseFiles(c *gin.Context, p api.ListHouseFilesParams) {
	all, err := s.Store.Setup.HouseFiles(c.Request.Context(), string(p.Kind))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, each(s, c, all, houseFile))
}

func houseFile(f store.HouseFile) api.HouseFile {
	out := api.HouseFile{Sha256: f.SHA256, Kind: api.HouseFileKind(f.Kind), Name: f.Name}
	if f.Kind == "face" {
		out.Family, out.Cut = &f.About.Family, &f.About.Cut
	} else {
		out.Width, out.Height = &f.About.Width, &f.About.Height
	}
	return out
}

const mostLogo = 4 << 20 // bytes

// AddHouseFile keeps a face or a logo: what it is, its bytes say.
func (s *Server) AddHouseFile(c *gin.Context, p api.AddHouseFileParams) {
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		s.failBody(c, err, "The file did not arrive whole. Nothing was kept of it. Send it again.")
		return
	}
	f := store.HouseFile{Name: p.Name, Bytes: int64(len(data)), AddedBy: accountOf(c).ID}
	if f.Media = http.DetectContentType(data); f.Media == "image/png" || f.Media == "image/jpeg" {
		f.Kind = "logo"
		err = logo(data, &f.About)
	} else {
		f.Kind = "face"
		var about face.About
		about, err = face.Check(c.Request.Context(), data)
		f.Media, f.About.Family, f.About.Cut = about.Media, about.Family, about.Cut
	}
	if reason, refused := refusal.Reason(err); refused {
		problem(c, http.StatusUnprocessableEntity, reason+" Nothing was kept.")
		return
	}
	if err == nil {
		f.SHA256, _, err = s.Works.Blobs.PutSum(c.Request.Context(), works.HouseKey(""), bytes.NewReader(data))
	}
	if err == nil {
		err = s.Store.Setup.AddHouseFile(c.Request.Context(), f)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusCreated, houseFile(f))
}

// logo measures a logo, and refuses one that is too large to stand on each first page.
func logo(data []byte, about *store.HouseAbout) error {
	if len(data) > mostLogo {
		return refusal.New("A logo has at most %d MB.", mostLogo>>20)
	}
	size, err := intake.Measure(data)
	if err != nil {
		return refusal.New("The picture can't be read.")
	}
	if size.W > 4000 || size.H > 4000 {
		return refusal.New("A logo is at most 4000 pixels wide and high.")
	}
	about.Width, about.Height = size.W, size.H
	return nil
}

// GetHouseFile answers with a file of the house.
func (s *Server) GetHouseFile(c *gin.Context, sha string) {
	f, err := s.Store.Setup.HouseFile(c.Request.Context(), sha)
	if err != nil {
		s.fail(c, err)
		return
	}
	data, err := s.Works.HouseFile(c.Request.Context(), sha)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	c.Data(http.StatusOK, f.Media, data)
}
