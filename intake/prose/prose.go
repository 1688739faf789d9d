// Package prose makes documents of files that other programs wrote: DOCX, HTML and Markdown, alone or in a folder with
// their pictures. Each is read into pieces, and the pieces into blocks: headings to sections, numbered lists and tables
// of picture and text to steps, what stands between to passages. What could not be taken is listed.
package prose

import (
	"context"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"

	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/core/words"
)

// Limits of what is brought in.
const (
	MostBytes    = 200 << 20 // of the file, or the zipped folder
	mostUnpacked = 400 << 20
	mostFiles    = 5000
	mostText     = 24 << 20 // bytes of the text itself
	mostLeft     = 100      // lines of what was left
	mostPieces   = 50_000
)

var refuse = refusal.New

// Made is a document, its figures naming pictures by an index as text, the pictures, and what could not be taken.
type Made struct {
	Document document.Document
	Pictures []Picture
	Left     []string
}

// piece is a part of a text in its order. Exactly one of its kinds is set.
type piece struct {
	heading int          // level from 1
	item    bool         // of a numbered list: a step
	table   []row        // whole
	inline  []words.Node // of a heading or a paragraph
	blocks  []words.Node // of a list item or a bulleted list
	shows   []shown      // pictures
	caption bool         // it describes the picture beside it
	begins  bool         // of a step: its list begins with it, at 1
	ours                 // what only Raconte's own files say
}

type row []cell

type cell struct {
	head   bool
	blocks []words.Node
	shows  []shown
}

// source is what a text is read into.
type source struct {
	title  string
	pieces []piece
	after  []piece // notes, at its end
	left   []string
	named  bool // the title is one that the file has, beside its words
	own    bool // Raconte wrote it
}

func (s *source) leave(format string, args ...any) {
	line := fmt.Sprintf(format, args...)
	if len(s.left) < mostLeft && !slices.Contains(s.left, line) {
		s.left = append(s.left, line)
	}
}

// Read makes a document of a file, or of a folder in which it finds one text, or several in sub-folders. NewID makes
// ids. The error is a refusal where nothing can be made of it.
func Read(ctx context.Context, name string, files fs.FS, newID func() string) (Made, error) {
	texts, err := find(files, name)
	if err != nil {
		return Made{}, err
	}
	m := &maker{ctx: ctx, newID: newID, index: map[string]int{}, anchors: map[string]document.Block{}}
	m.made.Document = document.Document{ID: newID(), Kind: document.Procedure, Blocks: []document.Block{}}
	for _, t := range texts {
		if err := ctx.Err(); err != nil {
			return Made{}, fmt.Errorf("reading %s: %w", t, err)
		}
		s, pictures, err := open(ctx, files, t)
		if err != nil {
			return Made{}, err
		}
		m.text(t, s, pictures, len(texts) > 1)
	}
	m.finish()
	d := &m.made.Document
	if d.Facts.Title == "" {
		d.Facts.Title = strings.TrimSuffix(path.Base(name), path.Ext(name))
	}
	if r := []rune(strings.Join(strings.Fields(d.Facts.Title), " ")); len(r) > document.LongestTitle {
		d.Facts.Title = string(r[:document.LongestTitle])
	} else {
		d.Facts.Title = string(r)
	}
	if len(d.Blocks) == 0 {
		return Made{}, refuse("There is nothing in %s that a document could be made of.", path.Base(name))
	}
	if len(d.Blocks) > document.MostBlocks {
		return Made{}, refuse("%s would make a document of more than %d steps. Divide it.", path.Base(name), document.MostBlocks)
	}
	if err := d.Check(); err != nil {
		return Made{}, refuse("%s can't be taken as it is: %s.", path.Base(name), err)
	}
	return m.made, nil
}

var readers = map[string]func(context.Context, fs.FS, string) (*source, func(string) ([]byte, error), error){
	".docx": readDOCX, ".html": readHTML, ".htm": readHTML, ".md": readMarkdown, ".markdown": readMarkdown,
}

// Readable tells whether a file's name is that of a text which can be read.
func Readable(name string) bool { return readers[strings.ToLower(path.Ext(name))] != nil }

func open(ctx context.Context, files fs.FS, name string) (*source, func(string) ([]byte, error), error) {
	return readers[strings.ToLower(path.Ext(name))](ctx, files, name)
}

// find are the texts of a folder, in natural order; those in the folder itself first.
func find(files fs.FS, name string) ([]string, error) {
	var texts []string
	n := 0
	err := fs.WalkDir(files, ".", func(p string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if n++; n > mostFiles {
			return refuse("%s holds more than %d files.", path.Base(name), mostFiles)
		}
		base := path.Base(p)
		if !d.IsDir() && Readable(p) && !strings.HasPrefix(base, "~$") && !strings.HasPrefix(base, ".") {
			texts = append(texts, p)
		}
		return nil
	})
	if _, refused := refusal.Reason(err); err != nil && !refused {
		err = refuse("%s can't be read.", path.Base(name))
	}
	if err == nil && len(texts) == 0 {
		err = refuse("There is no DOCX, HTML or Markdown file in %s.", path.Base(name))
	}
	inOrder(texts)
	return texts, err
}

func readFile(files fs.FS, name string, most int64) ([]byte, error) {
	f, err := files.Open(name)
	if err != nil {
		return nil, refuse("%s can't be read.", path.Base(name))
	}
	defer f.Close()
	return readAll(f, name, most)
}
