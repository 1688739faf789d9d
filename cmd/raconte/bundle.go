package main

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/refusal"
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
		kept, err := os.MkdirTemp("", "raconte-bundle-*")
		if err != nil {
			return err
		}
		defer os.RemoveAll(kept)
		p := &gathered{cmd: cmd, folder: kept, shots: map[string]gatheredShot{}}
		d, err := p.document(args[0])
		if err != nil {
			return err
		}
		return writeFile(*out, func(f *os.File) error {
			err := bundle.Format{}.Write(cmd.Context(), f, output.Input{Progress: func(int, int) {}, Whole: output.Whole{Document: d, Shot: p.open}}, output.Options{})
			if err != nil {
				return err
			}
			size, err := f.Seek(0, io.SeekEnd)
			if err == nil {
				_, err = bundle.Open(cmd.Context(), f, size) // what is written opens, or it is said why not
			}
			return err
		})
	})
	return cmd
}

// gathered are the pictures that go into a bundle, by the SHA-256 of their files, which lie in a folder meanwhile.
type gathered struct {
	cmd    *cobra.Command
	folder string
	shots  map[string]gatheredShot
}

type gatheredShot struct{ name, mediaType string }

func (p *gathered) open(_ context.Context, sha string) (output.Shot, error) {
	f, err := os.Open(filepath.Join(p.folder, sha))
	return output.Shot{Data: f, Type: p.shots[sha].mediaType, Name: p.shots[sha].name}, err
}

func (p *gathered) leave(what string, err error) {
	fmt.Fprintln(p.cmd.ErrOrStderr(), text.Shown(fmt.Sprintf("left out %s: %v", what, err)))
}

// document makes a document of what lies at a path.
func (p *gathered) document(at string) (document.Document, error) {
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
		data, err := readBounded(at, prose.MostBytes)
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
func (p *gathered) written(name string, files fs.FS) (document.Document, error) {
	made, err := prose.Read(p.cmd.Context(), name, files, uuid.NewString)
	if err != nil {
		return document.Document{}, err
	}
	for _, l := range made.Left {
		fmt.Fprintln(p.cmd.ErrOrStderr(), text.Shown("left out: "+l))
	}
	d := made.Document
	taken := map[int]string{}
	for i, b := range d.Blocks {
		kept := b.Figures[:0]
		for _, f := range b.Figures {
			n, err := strconv.Atoi(f.Shot)
			if err != nil {
				return d, err
			}
			sha, known := taken[n]
			if !known {
				if sha, err = p.shown(made.Pictures[n]); err != nil {
					return d, err
				}
				taken[n] = sha
			}
			if sha != "" {
				f.Shot = sha
				kept = append(kept, f)
			}
		}
		d.Blocks[i].Figures = kept
	}
	return d, d.Check()
}

// shown keeps a picture of a text; "" where it can't be taken.
func (p *gathered) shown(picture prose.Picture) (sha string, err error) {
	data, err := picture.Data()
	if _, refused := refusal.Reason(err); refused {
		p.leave(picture.Name, err)
		return "", nil
	}
	if err != nil {
		return "", err
	}
	return p.take(picture.Name, data)
}

// take keeps a picture; "" where it is none.
func (p *gathered) take(name string, data []byte) (sha string, err error) {
	shot, err := intake.Read(p.cmd.Context(), data)
	if err != nil {
		if p.cmd.Context().Err() != nil {
			return "", err
		}
		p.leave(name, err)
		return "", nil
	}
	sum := sha256.Sum256(shot.Data)
	sha = hex.EncodeToString(sum[:])
	p.shots[sha] = gatheredShot{name, shot.Type}
	return sha, os.WriteFile(filepath.Join(p.folder, sha), shot.Data, 0o600)
}

// pictured makes a document of pictures: a step of each, a section of each sub-folder, both in natural order.
func (p *gathered) pictured(name string, files fs.FS) (document.Document, error) {
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
	for _, i := range capture.Order(filesOf(files, inner)) {
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

func (p *gathered) steps(files fs.FS, folder string) ([]document.Block, error) {
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
	sub, err := fs.Sub(files, folder)
	if err != nil {
		return nil, err
	}
	var steps []document.Block
	for _, i := range capture.Order(filesOf(sub, names)) {
		f, err := sub.Open(names[i])
		if err != nil {
			return nil, err
		}
		data, err := io.ReadAll(io.LimitReader(f, intake.MostBytes+1))
		_ = f.Close()
		if err != nil {
			return nil, err
		}
		sha, err := p.take(names[i], data)
		if err != nil {
			return nil, err
		}
		if sha != "" {
			steps = append(steps, document.NewStep(uuid.NewString(), words.Plain(""), figure.Figure{ID: uuid.NewString(), Shot: sha, Marks: []figure.Mark{}}))
		}
	}
	return steps, nil
}
