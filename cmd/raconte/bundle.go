package main

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/text"
	"raconte/core/words"
	"raconte/intake"
	"raconte/intake/prose"
	"raconte/output"
	"raconte/output/bundle"

	"github.com/google/uuid"
	"github.com/spf13/cobra"
)

func bundleCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "bundle IN -o OUT.bundle",
		Short: "Make a procedure from a folder, or from a DOCX, HTML or Markdown file",
		Long: "Make a procedure from a folder, or from a DOCX, HTML or Markdown file with its pictures.\n" +
			"A folder of pictures becomes one step each, in natural order, its sub-folders sections; one that holds texts becomes what they say.\n" +
			"What can't be taken is named on standard error and left out.",
		Args: cobra.ExactArgs(1),
	}
	out := outputFlag(cmd, "the bundle to write")
	cmd.RunE = run(func(cmd *cobra.Command, args []string) error {
		p := &packed{cmd: cmd, shots: map[string]intake.Shot{}, names: map[string]string{}}
		d, err := p.document(args[0])
		if err != nil {
			return err
		}
		return writeFile(*out, func(w io.Writer) error {
			return bundle.Format{}.Write(cmd.Context(), w, output.Input{
				Document: d, Progress: func(int, int) {},
				Shot: func(_ context.Context, sha string) (output.Shot, error) {
					return output.Shot{Data: io.NopCloser(bytes.NewReader(p.shots[sha].Data)), Type: p.shots[sha].Type, Name: p.names[sha]}, nil
				},
			}, output.Options{})
		})
	})
	return cmd
}

// packed are the pictures that go into a bundle, by the SHA-256 of their files.
type packed struct {
	cmd   *cobra.Command
	shots map[string]intake.Shot
	names map[string]string
}

func (p *packed) leave(what string, err error) {
	fmt.Fprintln(p.cmd.ErrOrStderr(), text.Shown(fmt.Sprintf("left out %s: %v", what, err)))
}

// document makes a document of what lies at a path.
func (p *packed) document(at string) (document.Document, error) {
	info, err := os.Stat(at)
	if err != nil {
		return document.Document{}, err
	}
	at, err = filepath.Abs(at)
	if err != nil {
		return document.Document{}, err
	}
	files, name := os.DirFS(at), filepath.Base(at)
	if !info.IsDir() {
		data, err := readBounded(at)
		if err != nil {
			return document.Document{}, err
		}
		if filepath.Ext(at) != ".docx" { // its pictures lie beside it
			files = beside{File: prose.File(name, data), folder: os.DirFS(filepath.Dir(at))}
		} else {
			files = prose.File(name, data)
		}
	}
	if !info.IsDir() || holdsText(files) {
		return p.written(name, files)
	}
	return p.pictured(name, files)
}

// beside is a text with the folder that it lies in, of which only what it names is read.
type beside struct {
	File   fs.FS
	folder fs.FS
}

// Open opens the text, or a file in its folder.
func (b beside) Open(name string) (fs.File, error) {
	if f, err := b.File.Open(name); err == nil {
		return f, nil
	}
	return b.folder.Open(name)
}

func holdsText(files fs.FS) bool {
	found := false
	_ = fs.WalkDir(files, ".", func(name string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() && prose.Readable(name) {
			found = true
			return fs.SkipAll
		}
		return nil // what can't be read is said when it is read
	})
	return found
}

// written makes a document of texts.
func (p *packed) written(name string, files fs.FS) (document.Document, error) {
	made, err := prose.Read(p.cmd.Context(), name, files, uuid.NewString)
	if err != nil {
		return document.Document{}, err
	}
	for _, l := range made.Left {
		fmt.Fprintln(p.cmd.ErrOrStderr(), text.Shown("left out: "+l))
	}
	d := made.Document
	for i, b := range d.Blocks {
		kept := b.Figures[:0]
		for _, f := range b.Figures {
			n, err := strconv.Atoi(f.Shot)
			if err != nil {
				return d, err
			}
			picture := made.Pictures[n]
			if sha, ok := p.take(picture.Name, picture.Data); ok {
				f.Shot = sha
				kept = append(kept, f)
			}
		}
		d.Blocks[i].Figures = kept
	}
	return d, d.Check()
}

// take keeps a picture; false where it is none.
func (p *packed) take(name string, data []byte) (sha string, ok bool) {
	shot, err := intake.Read(p.cmd.Context(), data)
	if err != nil {
		p.leave(name, err)
		return "", false
	}
	sum := sha256.Sum256(shot.Data)
	sha = hex.EncodeToString(sum[:])
	p.shots[sha], p.names[sha] = shot, name
	return sha, true
}

// pictured makes a document of pictures: a step of each, a section of each sub-folder, both in natural order.
func (p *packed) pictured(name string, files fs.FS) (document.Document, error) {
	d := document.Document{ID: uuid.NewString(), Kind: document.Procedure, Facts: document.Facts{Title: name}}
	folders := []string{"."}
	entries, err := fs.ReadDir(files, ".")
	if err != nil {
		return d, err
	}
	var inner []string
	for _, e := range entries {
		if e.IsDir() && !strings.HasPrefix(e.Name(), ".") {
			inner = append(inner, e.Name())
		}
	}
	for _, i := range capture.Order(filesOf(inner)) {
		folders = append(folders, inner[i])
	}
	for _, folder := range folders {
		steps, err := p.steps(files, folder)
		if err != nil {
			return d, err
		}
		if folder != "." && len(steps) > 0 {
			d.Blocks = append(d.Blocks, document.NewSection(uuid.NewString(), 1, words.Plain(folder)))
		}
		d.Blocks = append(d.Blocks, steps...)
	}
	if !slices.ContainsFunc(d.Blocks, func(b document.Block) bool { return b.Type == document.Step }) {
		return d, fmt.Errorf("%s holds no picture, and no text to make a document of", name)
	}
	return d, d.Check()
}

func (p *packed) steps(files fs.FS, folder string) ([]document.Block, error) {
	entries, err := fs.ReadDir(files, folder)
	if err != nil {
		return nil, err
	}
	var names []string
	for _, e := range entries {
		if e.Type().IsRegular() && e.Name()[0] != '.' {
			names = append(names, e.Name())
		}
	}
	var steps []document.Block
	for _, i := range capture.Order(filesOf(names)) {
		f, err := files.Open(path.Join(folder, names[i]))
		if err != nil {
			return nil, err
		}
		data, err := io.ReadAll(io.LimitReader(f, intake.MostBytes+1))
		_ = f.Close()
		if err != nil {
			return nil, err
		}
		if sha, ok := p.take(names[i], data); ok {
			steps = append(steps, document.NewStep(uuid.NewString(), words.Plain(""), figure.Figure{ID: uuid.NewString(), Shot: sha, Marks: []figure.Mark{}}))
		}
	}
	return steps, nil
}
