package server

import (
	"fmt"
	"mime"
	"net/http"
	"strings"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/words"
	"raconte/output/codes"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// GetCode answers with the QR code of an address.
func (s *Server) GetCode(c *gin.Context, p api.GetCodeParams) error {
	if !words.SafeLink(p.Address) && !strings.HasPrefix(p.Address, "otpauth://totp/") {
		return problem(http.StatusUnprocessableEntity, "Codes are made of addresses with https, http or mailto.")
	}
	as, media := api.GetCodeParamsAsPng, "image/png"
	if p.As != nil {
		as = *p.As
	}
	var data []byte
	var err error
	switch as {
	case api.GetCodeParamsAsSvg:
		media = "image/svg+xml"
		data, err = codes.SVG(p.Address)
	case api.GetCodeParamsAsPdf:
		media = "application/pdf"
		data, err = codes.PDF(c.Request.Context(), codes.Named{Name: of(p.Name), Address: p.Address})
	default:
		data, err = codes.PNG(p.Address)
	}
	if err != nil {
		return err
	}
	if p.As != nil {
		name := of(p.Name)
		if name == "" {
			name = "code"
		}
		c.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name + "." + string(as)}))
	}
	return sent(c, media, data)
}

// MakeSheet answers with a sheet of codes of documents.
func (s *Server) MakeSheet(c *gin.Context, in api.MakeSheetJSONRequestBody) error {
	var all []codes.Named
	for _, id := range in.Documents {
		d, err := s.Store.Documents.Head(c.Request.Context(), id)
		if err == nil && (!may(c, access.Read, access.Thing{Folder: of(d.FolderID)}) || d.Revision == 0 && !reviews(c)) {
			err = store.ErrNotFound
		}
		if err != nil {
			return err
		}
		name := d.Title
		if d.Number != nil {
			name = fmt.Sprintf("%s %s", *d.Number, d.Title)
		}
		all = append(all, codes.Named{Name: name, Address: s.Address + "/d/" + d.ID})
	}
	data, err := codes.Sheet(c.Request.Context(), all)
	if err != nil {
		return err
	}
	c.Header("Content-Disposition", `attachment; filename="codes.pdf"`)
	return sent(c, "application/pdf", data)
}
