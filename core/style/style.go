// Package style says how a document looks wherever it goes: its house style. A style is data; core/page and the formats
// read it and decide nothing of it themselves. It knows nothing of documents.
//
// Lengths are in points, 1/72 inch.
package style

import (
	"crypto/sha256"
	"encoding/json"
)

// Format is the number that stored styles carry.
const Format = 1

// Style is a house style.
type Style struct {
	Format   int               `json:"format"`
	Name     string            `json:"name"`
	Language Language          `json:"language"`
	Paper    Paper             `json:"paper"`
	Margins  Margins           `json:"margins"`
	Faces    Faces             `json:"faces"`
	Size     float64           `json:"size"` // of the words of steps
	Colors   Colors            `json:"colors"`
	Logo     *Logo             `json:"logo,omitempty"`
	Title    TitlePage         `json:"title"`
	Contents Contents          `json:"contents"`
	Numbers  Numbers           `json:"numbers"`
	Header   Band              `json:"header"`
	Footer   Band              `json:"footer"`
	Layout   Layout            `json:"layout"`
	Steps    Steps             `json:"steps"`
	Links    Links             `json:"links"`
	Notices  Notices           `json:"notices"`
	Stamps   Stamps            `json:"stamps"`
	Words    map[string]string `json:"words,omitempty"` // printed instead of the language's own, by their keys
}

// Sum tells styles apart by all that is in them.
func (s Style) Sum() [sha256.Size]byte {
	raw, err := json.Marshal(s)
	if err != nil {
		panic("style: a style can't be written: " + err.Error()) // numbers that are none are refused by Check
	}
	return sha256.Sum256(raw)
}

// Paper is a sheet, as it is read: Across turns it by a quarter.
type Paper struct {
	Name   string  `json:"name"`             // "a4", "a5", "letter" or "own"
	Width  float64 `json:"width,omitempty"`  // of an own size, upright
	Height float64 `json:"height,omitempty"` //
	Across bool    `json:"across,omitempty"`
}

var papers = map[string][2]float64{"a4": {595.28, 841.89}, "a5": {419.53, 595.28}, "letter": {612, 792}}

// Size is the width and the height of the sheet.
func (p Paper) Size() (w, h float64) {
	size, known := papers[p.Name]
	if !known {
		size = [2]float64{p.Width, p.Height}
	}
	if p.Across {
		return size[1], size[0]
	}
	return size[0], size[1]
}

// Margins are what is left free around what is printed. The header stands in the upper one, the footer in the lower.
type Margins struct {
	Top    float64 `json:"top"`
	Right  float64 `json:"right"`
	Bottom float64 `json:"bottom"`
	Left   float64 `json:"left"`
}

// Faces are font files of the house by their SHA-256; "" is the face that ships.
type Faces struct {
	Family     string `json:"family,omitempty"` // as people read it
	Regular    string `json:"regular,omitempty"`
	Bold       string `json:"bold,omitempty"`
	Italic     string `json:"italic,omitempty"`
	BoldItalic string `json:"boldItalic,omitempty"`
	Mono       string `json:"mono,omitempty"`
}

// All are the files that the faces need.
func (f Faces) All() []string {
	var all []string
	for _, sha := range []string{f.Regular, f.Bold, f.Italic, f.BoldItalic, f.Mono} {
		if sha != "" {
			all = append(all, sha)
		}
	}
	return all
}

// Colors are written as "#rrggbb".
type Colors struct {
	Text   string `json:"text"`
	Soft   string `json:"soft"` // what is said by the way
	Line   string `json:"line"`
	Accent string `json:"accent"` // kinds, numbers of sections, links
	Shade  string `json:"shade"`  // behind code and heads of tables
}

// Logo is a picture at the top of the first sheet.
type Logo struct {
	SHA256 string  `json:"sha256"`
	Width  int     `json:"width"` // in pixels
	Pixels int     `json:"pixels"`
	Height float64 `json:"height"` // in print
	Alt    string  `json:"alt"`
}

// TitlePage says which documents have a title page.
type TitlePage string

// The documents with a title page.
const (
	ManualsTitled TitlePage = ""
	AllTitled     TitlePage = "all"
	NoneTitled    TitlePage = "none"
)

// Contents says what the table of contents lists.
type Contents string

// What the contents list.
const (
	ListSteps    Contents = ""         // sections and steps
	ListSections Contents = "sections" // where there are any
	ListNothing  Contents = "none"
)

// Numbers says what bears its number.
type Numbers struct {
	Sections bool `json:"sections"`
	Steps    bool `json:"steps"`
	Pictures bool `json:"pictures"` // as a caption below each
}

// Band is a header or a footer. Placeholders in braces stand for what is known of the document: see Placeholders.
type Band struct {
	Left   string `json:"left,omitempty"`
	Middle string `json:"middle,omitempty"`
	Right  string `json:"right,omitempty"`
	Rule   bool   `json:"rule,omitempty"` // a line between it and the page
}

// Empty tells whether nothing stands in the band.
func (b Band) Empty() bool { return b.Left == "" && b.Middle == "" && b.Right == "" }

// Steps says how steps and their pictures are set.
type Steps struct {
	Share   float64 `json:"share"`           // of the width that a picture with words beside it takes
	Largest float64 `json:"largest"`         // points to a pixel of a shot: pictures are not blown up beyond it
	Band    float64 `json:"band"`            // height of a picture in a band
	Frame   Frame   `json:"frame,omitempty"` // of pictures that have no edge of their own
	Rules   bool    `json:"rules"`           // a hairline above each step
}

// Frame is what is drawn around a picture.
type Frame string

// The frames.
const (
	Hairline Frame = ""
	Line     Frame = "line" // as heavy as letters
	NoFrame  Frame = "none"
)

// Links says how what is led to looks.
type Links struct {
	Underlined bool `json:"underlined"`
	Codes      bool `json:"codes"`     // as codes to be read by a camera
	Addresses  bool `json:"addresses"` // written out
}

// Notices says how signal words look.
type Notices string

// The looks of signal words, of ANSI Z535.6: a panel across, or the word beside what is said.
const (
	Across Notices = ""
	Beside Notices = "beside"
)

// Stamps says which copies are stamped on every page.
type Stamps struct {
	Draft    bool `json:"draft"`
	Replaced bool `json:"replaced"`
}
