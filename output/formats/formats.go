// Package formats is the list of all formats. Whoever writes files of documents knows them through it alone.
package formats

import (
	"raconte/output"
	"raconte/output/bundle"
	"raconte/output/data"
	"raconte/output/dita"
	"raconte/output/docx"
	"raconte/output/epub"
	"raconte/output/film"
	"raconte/output/html"
	"raconte/output/markdown"
	"raconte/output/pdf"
	"raconte/output/pictures"
	"raconte/output/pptx"
	"raconte/output/text"
)

// All are the formats, in the order in which people are offered them.
var All = []output.Format{
	pdf.Format{}, docx.Format{}, pptx.Format{}, html.Format{}, html.Format{Folder: true}, markdown.Format{}, epub.Format{}, dita.Format{}, text.Format{}, pictures.Format{}, data.Format{},
	film.Format{Kind: film.MP4}, film.Format{Kind: film.WebM}, film.Format{Kind: film.Captions}, film.Format{Kind: film.Transcript}, film.Format{Kind: film.Sound},
	bundle.Format{},
}

// Named is the format with a name.
func Named(name string) (output.Format, bool) {
	for _, f := range All {
		if f.About().Name == name {
			return f, true
		}
	}
	return nil, false
}

// Taking is the first format that takes templates of a kind.
func Taking(kind string) (output.Templated, bool) {
	for _, f := range All {
		if t, takes := f.(output.Templated); takes && f.About().Own == kind {
			return t, true
		}
	}
	return nil, false
}
