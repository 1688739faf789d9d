package outputtest

import (
	"archive/zip"
	"bytes"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/beevik/etree"
	"github.com/stretchr/testify/require"
)

// Printed is a file of an office program as LibreOffice prints it: its words, and its pages. The test is skipped where
// LibreOffice is not installed.
func Printed(t *testing.T, name string, data []byte) (text string, pages int) {
	t.Helper()
	dir := t.TempDir()
	Converted(t, dir, name, data, "pdf")
	out, err := exec.Command("pdftotext", "-layout", filepath.Join(dir, strings.TrimSuffix(name, filepath.Ext(name))+".pdf"), "-").Output()
	require.NoError(t, err)
	return strings.Join(strings.Fields(string(out)), " "), strings.Count(string(out), "\f")
}

// Converted is a file as LibreOffice writes it in another form, into a folder.
func Converted(t *testing.T, dir, name string, data []byte, to string) []byte {
	t.Helper()
	if _, err := exec.LookPath("soffice"); err != nil {
		t.Skip("LibreOffice is not installed")
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, name), data, 0o600))
	said, err := exec.Command("soffice", "-env:UserInstallation=file://"+dir+"/profile", "--headless", "--convert-to", to, "--outdir", dir, filepath.Join(dir, name)).CombinedOutput()
	require.NoError(t, err, string(said))
	out, err := os.ReadFile(filepath.Join(dir, strings.TrimSuffix(name, filepath.Ext(name))+"."+to))
	require.NoError(t, err, string(said))
	return out
}

// InOrder looks for texts in a text, each after the one before.
func InOrder(t *testing.T, text string, wants ...string) {
	t.Helper()
	at := 0
	for _, want := range wants {
		found := strings.Index(text[at:], want)
		require.GreaterOrEqual(t, found, 0, "%q after %.80q in %s", want, text[max(0, at-80):at], text)
		at += found + len(want)
	}
}

// Names are the names of the parts of a packed file.
func Names(t *testing.T, data []byte) []string {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	var all []string
	for _, f := range z.File {
		all = append(all, f.Name)
	}
	return all
}

// Part is a part of a packed file, as XML; nil where there is none.
func Part(t *testing.T, data []byte, name string) *etree.Document {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	r, err := z.Open(name)
	if err != nil {
		return nil
	}
	doc := etree.NewDocument()
	_, err = doc.ReadFrom(r)
	require.NoError(t, err, name)
	return doc
}

// Repacked is a packed file with other parts in the place of its own, or beside them.
func Repacked(t *testing.T, data []byte, parts map[string]string) []byte {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	var buf bytes.Buffer
	out := zip.NewWriter(&buf)
	put := func(name string, r io.Reader) {
		w, err := out.Create(name)
		require.NoError(t, err)
		_, err = io.Copy(w, r)
		require.NoError(t, err)
	}
	for _, f := range z.File {
		if _, other := parts[f.Name]; !other {
			r, err := f.Open()
			require.NoError(t, err)
			put(f.Name, r)
		}
	}
	for name, part := range parts {
		put(name, strings.NewReader(part))
	}
	require.NoError(t, out.Close())
	return buf.Bytes()
}

// BadTemplates are changes of a template of an office program that it must be refused for, and words of the reason.
// main is its main part.
func BadTemplates(t *testing.T, good []byte, main string) map[string]struct {
	Data []byte
	Why  string
} {
	with := func(name, part string) []byte { return Repacked(t, good, map[string]string{name: part}) }
	relation := func(kind, target string) []byte {
		name := filepath.Dir(main) + "/_rels/" + filepath.Base(main) + ".rels"
		doc := Part(t, good, name)
		r := doc.Root().CreateElement("Relationship")
		r.CreateAttr("Id", "bad")
		r.CreateAttr("Type", "http://schemas.openxmlformats.org/officeDocument/2006/relationships/"+kind)
		r.CreateAttr("Target", target)
		r.CreateAttr("TargetMode", "External")
		s, err := doc.WriteToString()
		require.NoError(t, err)
		return with(name, s)
	}
	return map[string]struct {
		Data []byte
		Why  string
	}{
		"a broken zip":              {good[:len(good)/2], "damaged"},
		"no document":               {[]byte("hello"), "damaged"},
		"a macro":                   {with(filepath.Dir(main)+"/vbaProject.bin", "x"), "macro"},
		"a picture from elsewhere":  {relation("image", "http://192.0.2.1/spy.png"), "fetch something from elsewhere"},
		"an object from elsewhere":  {relation("oleObject", "file:///etc/passwd"), "of another program"},
		"a link that runs":          {relation("hyperlink", "javascript:alert(1)"), "fetch something from elsewhere"},
		"entities":                  {with(main, `<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;&a;">]><x>&b;</x>`), "declares entities"},
		"more than may be unpacked": {with("media/x.raw", strings.Repeat("0", 101<<20)), "unpacks to more than 100 MB"},
		"100 MB":                    {append(bytes.Clone(good), make([]byte, 100<<20)...), "at most 20 MB"},
		"not its kind":              {Repacked(t, good, map[string]string{main: "<x/>"}), "usual form"},
	}
}
