package bundle

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"slices"
	"strings"
	"sync"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/docs"
	"raconte/intake"

	"github.com/santhosh-tekuri/jsonschema/v6"
)

// Refusal is an error whose text is meant for the person who brought the bundle.
type Refusal = refusal.Error

var refuse = refusal.New

// Bundle is an opened and checked bundle; its shots are read one at a time.
type Bundle struct {
	Document document.Document
	Chapters []document.Document // of a manual
	Shots    map[string]Shot
	files    map[string]*zip.File
}

// Whole is the bundle's document; of a manual, with the chapters read in that the bundle holds.
func (b *Bundle) Whole() document.Document {
	return b.Document.Composed(func(c document.Block) (document.Document, bool) {
		for _, d := range b.Chapters {
			if d.ID == c.Document {
				return d, true
			}
		}
		return document.Document{}, false
	})
}

// Open reads a bundle's document and checks the whole of it: structure, limits, and that every
// shot is there with the content that its name promises. An error of type Refusal says why a
// bundle can't be used. It stops soon after ctx is done.
func Open(ctx context.Context, r io.ReaderAt, size int64) (*Bundle, error) {
	if size > MostBytes {
		return nil, refuse("The bundle is larger than %d MB.", MostBytes>>20)
	}
	z, err := zip.NewReader(r, size)
	if err != nil {
		return nil, refuse("This is not a bundle, or it is damaged: it can't be read as a zip file.")
	}
	b := &Bundle{files: map[string]*zip.File{}}
	if err := b.index(z.File); err != nil {
		return nil, err
	}
	if err := b.readManifest(); err != nil {
		return nil, err
	}
	for sha := range b.Shots {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if _, err := b.Shot(sha); err != nil {
			return nil, err
		}
		if err := b.readAbout(sha); err != nil {
			return nil, err
		}
	}
	return b, nil
}

// index takes the entries in, refusing names that do not belong and sizes beyond the limits before
// anything is unpacked.
func (b *Bundle) index(files []*zip.File) error {
	if len(files) > mostEntries {
		return refuse("The bundle holds %d files; at most %d are read.", len(files), mostEntries)
	}
	var total uint64
	for _, f := range files {
		if !known(f.Name) {
			return refuse("The bundle holds a file that does not belong in it: %.80q.", f.Name)
		}
		if b.files[f.Name] != nil {
			return refuse("The bundle holds %.80q twice.", f.Name)
		}
		limit := uint64(MostShot) // of a PDF too
		if strings.HasPrefix(f.Name, "clips/") {
			limit = mostClip
		}
		switch {
		case f.Name == "document.json":
			limit = mostJSON
		case strings.HasSuffix(f.Name, ".json"):
			limit = mostAbout
		}
		total += f.UncompressedSize64
		if f.UncompressedSize64 > limit || total > mostUnpacked {
			return refuse("The bundle unpacks to more than is allowed (%.80s).", f.Name)
		}
		b.files[f.Name] = f
	}
	return nil
}

// MostShot is the most bytes that a shot's file may have.
const MostShot = 256 << 20

func known(name string) bool {
	if name == "document.json" {
		return true
	}
	for folder, endings := range map[string][]string{"clips/": {".mp4", ".webm"}, "voices/": {".wav"}} {
		if rest, in := strings.CutPrefix(name, folder); in && len(rest) > 64 {
			_, err := hex.DecodeString(rest[:64])
			return err == nil && slices.Contains(endings, rest[64:])
		}
	}
	if len(name) < len("shots/")+64 || name[:6] != "shots/" && name[:6] != "files/" {
		return false
	}
	if _, err := hex.DecodeString(name[6:70]); err != nil {
		return false
	}
	if name[:6] == "files/" {
		return name[70:] == ".pdf"
	}
	return slices.Contains([]string{".png", ".jpg", ".json"}, name[70:])
}

func (b *Bundle) readManifest() error {
	raw, err := b.read("document.json", mostJSON)
	if err == nil {
		err = intake.CheckJSON(raw, mostValues)
	}
	if err != nil {
		return err
	}
	var head struct {
		Format  string `json:"format"`
		Version int    `json:"version"`
	}
	if err := json.Unmarshal(raw, &head); err != nil || head.Format != MediaFormat {
		return refuse("This is not a bundle of Raconte: its document.json says something else.")
	}
	if head.Version > Version {
		return refuse("The bundle is of version %d. This Raconte reads up to version %d; a newer one is needed.", head.Version, Version)
	}
	instance, err := jsonschema.UnmarshalJSON(bytes.NewReader(raw))
	if err != nil {
		return refuse("The bundle's document.json is damaged.")
	}
	if err := schema().Validate(instance); err != nil {
		var invalid *jsonschema.ValidationError
		if errors.As(err, &invalid) {
			for len(invalid.Causes) > 0 {
				invalid = invalid.Causes[0]
			}
			return refuse("The bundle's document.json is not in order at /%s.", joined(invalid.InstanceLocation))
		}
		return refuse("The bundle's document.json is not in order.")
	}
	var m manifest
	if err := json.Unmarshal(raw, &m); err != nil {
		return refuse("The bundle's document.json is not in order.")
	}
	if m.Document != nil {
		m.Documents = []document.Document{*m.Document}
	}
	if len(m.Shots) > document.MostShots {
		return refuse("The bundle lists more than %d shots.", document.MostShots)
	}
	used := map[string]Shot{} // what was taken out of a document is not brought in with it
	for _, d := range m.Documents {
		if err := d.Check(); err != nil {
			return refuse("The bundle's document is not in order: %s.", err)
		}
		for _, sha := range d.Shots() {
			shot, ok := m.Shots[sha]
			if !ok {
				return refuse("The bundle's document uses a shot that the bundle does not list: %.12s….", sha)
			}
			used[sha] = shot
		}
	}
	b.Document, b.Chapters, b.Shots = m.Documents[0], m.Documents[1:], used // the schema wants one
	if file := b.Document.Facts.File; file != nil && b.files[pdfName(file.SHA256)] == nil {
		return refuse("The bundle lacks the PDF that was filed.")
	}
	return nil
}

// readAbout reads what is known of a shot's capture, where the bundle tells it.
func (b *Bundle) readAbout(sha string) error {
	shot := b.Shots[sha]
	if b.files[aboutName(sha)] != nil {
		raw, err := b.read(aboutName(sha), mostAbout)
		if err == nil {
			err = intake.CheckJSON(raw, mostTold)
		}
		if err != nil {
			return err
		}
		shot.About = &capture.About{}
		if err := json.Unmarshal(raw, shot.About); err != nil {
			return refuse("What the bundle tells of the shot %.12s… can't be read.", sha)
		}
		b.Shots[sha] = shot
	}
	if shot.About != nil {
		if err := shot.About.Check(); err != nil {
			return refuse("What the bundle tells of the shot %.12s… can't be right: %s.", sha, err)
		}
	}
	return nil
}

func joined(path []string) string {
	s := ""
	for i, p := range path {
		if i > 0 {
			s += "/"
		}
		s += p
	}
	return s
}

// Shot is the file of a shot, checked against its SHA-256.
func (b *Bundle) Shot(sha string) ([]byte, error) {
	shot := b.Shots[sha]
	if len(shot.File) < 70 || shot.File[6:70] != sha {
		return nil, refuse("The bundle lists the shot %.12s… under another name.", sha)
	}
	data, err := b.read(shot.File, MostShot)
	if err != nil {
		return nil, err
	}
	if sum := sha256.Sum256(data); hex.EncodeToString(sum[:]) != sha {
		return nil, refuse("The shot %.12s… is damaged: its content is not what its name promises.", sha)
	}
	return data, nil
}

// Extract writes a recording or a voice into a file, checked against the SHA-256 in its name.
func (b *Bundle) Extract(name, path string) error {
	f := b.files[name]
	at := strings.IndexByte(name, '/') + 1
	if f == nil || len(name) < at+64 {
		return refuse("The bundle lacks %.80s.", name)
	}
	from, err := f.Open()
	if err != nil {
		return refuse("%.80s in the bundle can't be read.", name)
	}
	defer from.Close()
	to, err := os.Create(path)
	if err != nil {
		return fmt.Errorf("unpacking: %w", err)
	}
	sum := sha256.New()
	_, err = io.Copy(io.MultiWriter(to, sum), io.LimitReader(from, mostClip+1))
	if closed := to.Close(); err == nil {
		err = closed
	}
	if err != nil {
		return refuse("%.80s in the bundle is damaged.", name)
	}
	if hex.EncodeToString(sum.Sum(nil)) != name[at:at+64] {
		return refuse("%.80s in the bundle is damaged: its content is not what its name promises.", name)
	}
	return nil
}

// VoiceName is how the voice with a SHA-256 is named in bundles.
func VoiceName(sha string) string { return voiceName(sha) }

// Has tells whether the bundle has a file.
func (b *Bundle) Has(name string) bool { return b.files[name] != nil }

// mostClip is the most bytes that a recording in a bundle may have.
const mostClip = 500 << 20

// PDF is the file of a filed PDF, checked against its SHA-256.
func (b *Bundle) PDF() ([]byte, error) {
	sha := b.Document.Facts.File.SHA256
	data, err := b.read(pdfName(sha), MostShot)
	if err != nil {
		return nil, err
	}
	if sum := sha256.Sum256(data); hex.EncodeToString(sum[:]) != sha {
		return nil, refuse("The PDF in the bundle is damaged: its content is not what its name promises.")
	}
	return data, nil
}

// read unpacks one file, at most limit bytes whatever its header says.
func (b *Bundle) read(name string, limit int64) ([]byte, error) {
	f := b.files[name]
	if f == nil {
		return nil, refuse("The bundle lacks %.80s.", name)
	}
	r, err := f.Open()
	if err != nil {
		return nil, refuse("The bundle is damaged: %.80s can't be unpacked.", name)
	}
	defer r.Close()
	data, err := io.ReadAll(io.LimitReader(r, limit+1))
	if err != nil {
		return nil, refuse("The bundle is damaged: %.80s can't be unpacked.", name)
	}
	if int64(len(data)) > limit {
		return nil, refuse("The bundle unpacks to more than is allowed (%.80s).", name)
	}
	return data, nil
}

var schema = sync.OnceValue(func() *jsonschema.Schema {
	const name = "bundle.schema.json"
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(docs.BundleSchema))
	c := jsonschema.NewCompiler()
	if err == nil {
		err = c.AddResource(name, doc)
	}
	if err != nil {
		panic(fmt.Sprintf("bundle: the built-in schema: %v", err))
	}
	return c.MustCompile(name)
})
