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
func (s *Server) ListHouseStyles(c *gin.Context) error {
	made, err := s.Store.Setup.HouseStyles(c.Request.Context())
	var usual string
	if err == nil {
		usual, err = s.Store.Setup.UsualStyle(c.Request.Context())
	}
	if err != nil {
		return err
	}
	out := []api.KeptStyle{}
	for i, id := range style.BuiltIns() {
		st, _ := style.BuiltIn(id)
		out = append(out, api.KeptStyle{Id: id, BuiltIn: true, Usual: id == usual || usual == "" && i == 0, Style: st})
	}
	for _, h := range made {
		out = append(out, api.KeptStyle{Id: h.ID, Version: h.Version, Usual: h.ID == usual, Style: h.Content})
	}
	return answer(c, http.StatusOK, out)
}

// AddHouseStyle keeps a new style.
func (s *Server) AddHouseStyle(c *gin.Context, in api.AddHouseStyleJSONRequestBody) error {
	st, err := s.styleSent(c, in)
	if err != nil {
		return err
	}
	h, err := s.Store.Setup.AddHouseStyle(c.Request.Context(), st, accountOf(c).ID)
	if err != nil {
		return err
	}
	return answer(c, http.StatusCreated, api.KeptStyle{Id: h.ID, Version: h.Version, Style: h.Content})
}

// ChangeHouseStyle changes a style of the house.
func (s *Server) ChangeHouseStyle(c *gin.Context, id string, in api.ChangeHouseStyleJSONRequestBody) error {
	st, err := s.styleSent(c, in.Style)
	if err != nil {
		return err
	}
	if _, ships := style.BuiltIn(id); ships {
		return problem(http.StatusUnprocessableEntity, "This style ships with Raconte and stays as it is. Keep what you changed as a style of the house.")
	}
	h, err := s.Store.Setup.ChangeHouseStyle(c.Request.Context(), id, in.Version, st, accountOf(c).ID)
	if errors.Is(err, store.ErrConflict) {
		return problem(http.StatusConflict, "Someone else has changed this style since. Open it again; what you changed can be kept as a style of its own.")
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, api.KeptStyle{Id: h.ID, Version: h.Version, Style: h.Content})
}

// styleSent checks a style, with the files that it names.
func (s *Server) styleSent(c *gin.Context, st style.Style) (style.Style, error) {
	st.Format = style.Format
	if err := st.Check(); err != nil {
		return st, problem(http.StatusUnprocessableEntity, sentence(err)+" Nothing was kept.")
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
			return st, err
		}
	}
	return st, nil
}

// DeleteHouseStyle takes a style out of the choice.
func (s *Server) DeleteHouseStyle(c *gin.Context, id string) error {
	return empty(c, s.Store.Setup.DeleteHouseStyle(c.Request.Context(), id))
}

// SetUsualStyle says which style documents have that name none.
func (s *Server) SetUsualStyle(c *gin.Context, in api.SetUsualStyleJSONRequestBody) error {
	if _, ships := style.BuiltIn(in.Style); !ships {
		if h, err := s.Store.Setup.HouseStyle(c.Request.Context(), in.Style); err != nil || h.Deleted {
			return errors.Join(err, store.ErrNotFound)
		}
	}
	return empty(c, s.Store.Setup.SetUsualStyle(c.Request.Context(), in.Style))
}

// ListStyleUses answers with the documents that name a style.
func (s *Server) ListStyleUses(c *gin.Context, id string) error {
	docs, err := s.Store.Setup.StyleUses(c.Request.Context(), id)
	if err != nil {
		return err
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
	return answer(c, http.StatusOK, out)
}

// TryStyle answers with the pages of a document in a style that is not kept.
func (s *Server) TryStyle(c *gin.Context, id string, in api.TryStyleJSONRequestBody) error {
	st, err := s.styleSent(c, in.Style)
	if err != nil {
		return err
	}
	w, err := s.visible(c, id, true)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), longestLayout)
	defer cancel()
	w.Revised, w.Style = true, &st
	pages, err := s.Works.Pages(ctx, w.Whole, of(in.Layout))
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, pages)
}

// ListHouseFiles answers with the faces or the logos of the house.
func (s *Server) ListHouseFiles(c *gin.Context, p api.ListHouseFilesParams) error {
	all, err := s.Store.Setup.HouseFiles(c.Request.Context(), string(p.Kind))
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, houseFile))
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
func (s *Server) AddHouseFile(c *gin.Context, p api.AddHouseFileParams) error {
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		return bodyFailed(err, "The file did not arrive whole. Nothing was kept of it. Send it again.")
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
		return problem(http.StatusUnprocessableEntity, reason+" Nothing was kept.")
	}
	if err == nil {
		f.SHA256, _, err = s.Works.Blobs.PutSum(c.Request.Context(), works.HouseKey(""), bytes.NewReader(data))
	}
	if err == nil {
		err = s.Store.Setup.AddHouseFile(c.Request.Context(), f)
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusCreated, houseFile(f))
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
func (s *Server) GetHouseFile(c *gin.Context, sha string) error {
	f, err := s.Store.Setup.HouseFile(c.Request.Context(), sha)
	if err != nil {
		return err
	}
	data, err := s.Works.HouseFile(c.Request.Context(), sha)
	if err != nil {
		return err
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	return sent(c, f.Media, data)
}
