// Package output is what every format of files is written through: its folders are the formats, formats lists them, and
// outputtest is the suite that each passes.
package output

import (
	"context"
	"image"
	"io"
	"time"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/output/picture"
)

// About is what a format says of itself.
type About struct {
	Name      string // by which it is asked for: "pdf"
	Title     string // as people read it: "PDF"
	Extension string // of its files, without the dot
	MediaType string // of its files
	Paged     bool   // it is laid out on pages, so that a layout is chosen
	Plays     bool   // clips play in it: nothing needs to lead to them
	Slow      bool   // it takes long to make: nobody waits for its size
	Whole     bool   // it holds shots and marks: only those who edit may have it
	Main      string // of a folder, written as a zip file: the file in it that is the document; "" of one file
	Templates []Template
	Own       string // the kind of template of the house that it takes: the ending of such files; "" where it takes none
}

// Template is one of the ways in which a format looks.
type Template struct{ Name, Title string }

// Options are what a person chooses.
type Options struct {
	Bare    bool // of text: without its title and what stands under that, pictures named by their numbers as files that go with it
	Quality style.Quality
	// Template is one of those of the format, by its name; "" is the first.
	Template string
	// Beside is the folder beside the document that holds its other files; "" is the format's own name for it.
	Beside string
	Layout style.Layout // of what is laid out on pages; "" is the style's own
	Own    *Own         // the house's own template, instead of those of the format
	PDF    PDF
}

// PDF is what is chosen of a PDF alone.
type PDF struct {
	Booklet  bool `json:"booklet,omitempty"`  // two pages on each side of a sheet, in the order in which they are folded
	Attached bool `json:"attached,omitempty"` // the bundle is in it, to be imported elsewhere
	Seal     Seal `json:"seal,omitzero"`
}

// Seal closes a file. A password opens it; readers that keep to the standard do what is allowed.
type Seal struct {
	Password string `json:"password,omitempty"`
	NoPrint  bool   `json:"noPrint,omitempty"`
	NoCopy   bool   `json:"noCopy,omitempty"` // nor change
}

// Closes tells whether there is anything to close a file for.
func (s Seal) Closes() bool { return s != Seal{} }

// Own is a template that the house has made.
type Own struct {
	Data   []byte
	Script bool // whether it may run script: the administrator says so
}

// Note is what is to be said of a template of the house.
type Note struct {
	Line  int    // in it, from 1; 0 where it has no lines
	Where string // "in the header"; "" where a line says it
	Text  string
	Fatal bool // nothing can be made with it
}

// Templated is a format that takes templates of the house.
type Templated interface {
	Format
	// Check says what is to be said of a template. The error is a refusal where it can't be a template at all.
	Check(ctx context.Context, own Own) ([]Note, error)
	// Example is one to begin with.
	Example() ([]byte, error)
}

// Input is what a format is given. Formats ask for what they need; each of it is made then.
type Input struct {
	Story    story.Story
	Edition  Edition
	Made     time.Time           // when the document was last changed
	Progress func(done, all int) // may be called from several goroutines
	Pages    func(ctx context.Context, layout style.Layout) (page.Pages, error)
	// Picture is a finished picture by its figure's id, at most width pixels wide; 0 is its own size.
	Picture func(ctx context.Context, figure string, width int) (picture.File, error)
	// Clip is a finished clip by its figure's id, in a form of media; nil where moving pictures can't be had.
	Clip func(ctx context.Context, figure, form string) (Clip, error)
	// House is a file of the house that a style names, by its SHA-256: a logo, or a face. Nil where there are none.
	House func(ctx context.Context, sha string) ([]byte, error)
	Film  Film
	Whole Whole
}

// Film is what films are made of.
type Film struct {
	Sizes map[string]figure.Size // of the story's shots
	// Drawn is a figure as it is drawn, at most width pixels wide, the number of its first marker being first.
	Drawn func(ctx context.Context, f figure.Figure, first, width int) (*image.RGBA, error)
	// Speak is what is said by a synthetic voice, a WAV file of one channel; nil where nothing speaks.
	Speak func(ctx context.Context, text string, language style.Language, pace int) ([]byte, error)
	Voice func(ctx context.Context, sha string) (io.ReadCloser, error) // what someone has said, by its SHA-256
	Parts Parts                                                        // what was made before; nil where nothing is kept
}

// Whole is a document as it is kept, for formats that hold shots and marks.
type Whole struct {
	// Document and, of a manual, its chapters, their figures naming shots by SHA-256.
	Document document.Document
	Chapters []document.Document
	// Shot, Recording, Voice and PDF are a shot, a recording, what someone has said and the file of a filed PDF, by
	// their SHA-256.
	Shot      func(ctx context.Context, sha string) (Shot, error)
	Recording func(ctx context.Context, sha string) (io.ReadCloser, error)
	Voice     func(ctx context.Context, sha string) (io.ReadCloser, error)
	PDF       func(ctx context.Context, sha string) (io.ReadCloser, error)
}

// Parts keeps parts of what is made by names that tell all they were made of, so that a change makes anew what it
// concerns.
type Parts interface {
	// Fetch writes a part into a file; false where it is not kept.
	Fetch(ctx context.Context, name, path string) (bool, error)
	KeepPart(ctx context.Context, name, path string) error
}

// Clip is a finished clip. Whoever asked for it closes it.
type Clip struct {
	Data  io.ReadCloser
	Bytes int64
}

// Shot is a shot's file and what is known of it. Whoever asked for it closes it.
type Shot struct {
	Data  io.ReadCloser
	Type  string // media type
	Name  string // the name it came with
	About *capture.About
	Clip  *Recording // that it stands for; nil of a still picture
}

// Recording is a recording as it was made.
type Recording struct {
	SHA256, Type string
	Camera       string // the recording of the speaker's camera, by SHA-256; "" where there is none
	Ms, Poster   int
	Sounds       bool
}

// Format is a kind of file that a document can be written as. Write streams it, stops soon after ctx is done, and gives
// the same bytes for the same input.
type Format interface {
	About() About
	Write(ctx context.Context, w io.Writer, in Input, o Options) error
}
