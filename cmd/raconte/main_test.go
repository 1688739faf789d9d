package main

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/words"
	"raconte/engines/raster"
	"raconte/output"
	"raconte/output/bundle"
	"raconte/practice/demo"
	"raconte/practice/workstation"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestMain lets the test binary be the command, so that exit codes and streams are the real ones.
func TestMain(m *testing.M) {
	if os.Getenv("RACONTE_AS_COMMAND") != "" {
		main()
		return
	}
	os.Exit(m.Run())
}

func raconte(t *testing.T, args ...string) (code int, stdout, stderr string) {
	t.Helper()
	cmd := exec.Command(os.Args[0], args...)
	cmd.Env = append(os.Environ(), "RACONTE_AS_COMMAND=1")
	var out, err bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &err
	failed := cmd.Run()
	var exit *exec.ExitError
	if failed != nil && !errors.As(failed, &exit) {
		t.Fatal(failed)
	}
	return cmd.ProcessState.ExitCode(), out.String(), err.String()
}

// bundles writes the demo's procedures as files: one that is ready, one with findings.
func bundles(t *testing.T) (dir, ready, unready string) {
	dir = t.TempDir()
	for _, p := range demo.Procedures() {
		var data bytes.Buffer
		require.NoError(t, bundle.Format{}.Write(t.Context(), &data, output.Input{Progress: func(int, int) {}, Whole: output.Whole{Document: p.Bundled(), Shot: p.Content}}, output.Options{}))
		path := filepath.Join(dir, p.Author+map[bool]string{true: "-ready", false: "-draft"}[p.Ready]+".bundle")
		require.NoError(t, os.WriteFile(path, data.Bytes(), 0o600))
		if p.Ready {
			ready = path
		} else {
			unready = path
		}
	}
	return dir, ready, unready
}

func TestRenderFlattenAndCheck(t *testing.T) {
	dir, ready, unready := bundles(t)
	out := filepath.Join(dir, "out.pdf")
	var as [3][]byte
	for i, layout := range []string{"six", "running", "4"} {
		code, _, stderr := raconte(t, "render", ready, "-o", out, "--layout", layout)
		require.Zero(t, code, stderr)
		assert.Equal(t, layout == "4", strings.Contains(stderr, `"running" now`), "what is called otherwise now is taken, with a word")
		var err error
		as[i], err = os.ReadFile(out)
		require.NoError(t, err)
		assert.True(t, bytes.HasPrefix(as[i], []byte("%PDF-")))
	}
	assert.Equal(t, len(as[1]), len(as[2]))
	assert.NotEqual(t, len(as[0]), len(as[1]))
	// The form is known by the ending; styles, steps and the folder of pictures are those that were asked for.
	for ending, begins := range map[string]string{"docx": "PK", "pptx": "PK", "html": "<!doctype html>", "epub": "PK", "md": "# ", "dita": "<?xml", "txt": "", "json": "{"} {
		file := filepath.Join(dir, "form."+ending)
		code, _, stderr := raconte(t, "render", ready, "-o", file, "--style", "training", "--steps", "2", "--quality", "100")
		require.Zero(t, code, stderr)
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		assert.True(t, bytes.HasPrefix(data, []byte(begins)), ending)
	}
	said, err := os.ReadFile(filepath.Join(dir, "form.md"))
	require.NoError(t, err)
	assert.Contains(t, string(said), "#### Step 2")
	assert.NotContains(t, string(said), "#### Step 1")
	assert.FileExists(t, filepath.Join(dir, "form-files", "001.png"))
	for _, bad := range [][]string{{"-o", "x.odt"}, {"-o", "x.pdf", "--steps", "99"}, {"-o", "x.pdf", "--style", "none"}, {"-o", "x.pdf", "--layout", "5"}, {"-o", "x.pdf", "--quality", "1"}} {
		code, _, stderr := raconte(t, append([]string{"render", ready}, bad...)...)
		assert.Equal(t, exitUsage, code, stderr)
	}
	code, stdout, _ := raconte(t, "check", ready)
	assert.Zero(t, code)
	assert.JSONEq(t, "[]", stdout)
	code, stdout, _ = raconte(t, "check", unready)
	assert.Equal(t, exitFindings, code)
	var findings []struct{ Severity, Rule string }
	require.NoError(t, json.Unmarshal([]byte(stdout), &findings))
	assert.Equal(t, "no-words", findings[0].Rule)

	figure := demo.Procedures()[3].Document.Blocks[0].Figures[0].ID
	picture := filepath.Join(dir, "out.png")
	code, _, stderr := raconte(t, "flatten", ready, "--figure", figure, "-o", picture)
	require.Zero(t, code, stderr)
	f, err := os.Open(picture)
	require.NoError(t, err)
	defer f.Close()
	_, err = png.Decode(f)
	assert.NoError(t, err)
	code, _, stderr = raconte(t, "flatten", ready, "--figure", "none", "-o", picture)
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, stderr, "has no figure none")
}

func TestBundleCompareAndOrder(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "Close the door log")
	require.NoError(t, os.Mkdir(dir, 0o700))
	var screens [3][]byte
	player := workstation.NewPlayer()
	require.NoError(t, player.Do("sign in"))
	for i, do := range []string{"click Labels", "type 1 into Lot", "type 2"} {
		var buf bytes.Buffer
		require.NoError(t, player.Do(do))
		require.NoError(t, raster.EncodePNG(&buf, player.Desk.Front(0.5), raster.Quick))
		screens[i] = buf.Bytes()
	}
	for i, name := range []string{"10.png", "2.png", "1.png"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), screens[i], 0o600))
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "notes.txt"), []byte("x"), 0o600))
	out := dir + ".bundle"
	code, _, stderr := raconte(t, "bundle", dir, "-o", out)
	require.Zero(t, code, stderr)
	assert.Contains(t, stderr, "left out notes.txt")
	opened, file, err := openBundle(t.Context(), out)
	require.NoError(t, err)
	defer file.Close()
	assert.Equal(t, "Close the door log", opened.Document.Facts.Title)
	names := []string{}
	for _, s := range opened.Document.Blocks {
		names = append(names, opened.Shots[s.Figures[0].Shot].Name)
	}
	assert.Equal(t, []string{"1.png", "2.png", "10.png"}, names)

	inner := filepath.Join(dir, "Later")
	require.NoError(t, os.Mkdir(inner, 0o700))
	data, err := os.ReadFile(filepath.Join(dir, "1.png"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(inner, "a.png"), data, 0o600))
	page := filepath.Join(dir, "how.md")
	for path, want := range map[string][]string{
		dir:  {"step ", "step ", "step ", "section Later", "step "},
		page: {"section Close", "step Press it.", "step Wait."},
		filepath.Join("..", "..", "intake", "prose", "testdata", "libreoffice.docx"): nil,
	} {
		if path == page {
			require.NoError(t, os.WriteFile(page, []byte("# How\n\n## Close\n\n1. Press it. ![](1.png)\n2. Wait.\n"), 0o600))
		}
		code, _, stderr := raconte(t, "bundle", path, "-o", out)
		require.Zero(t, code, stderr)
		f, err := os.Open(out)
		require.NoError(t, err)
		info, err := f.Stat()
		require.NoError(t, err)
		made, err := bundle.Open(t.Context(), f, info.Size())
		require.NoError(t, err)
		require.NoError(t, f.Close())
		require.NoError(t, os.RemoveAll(page))
		var told []string
		for _, b := range made.Document.Blocks {
			told = append(told, string(b.Type)+" "+b.Words.Reading(nil))
		}
		if want != nil {
			assert.Equal(t, want, told)
		} else {
			assert.Len(t, made.Document.Blocks, 10)
			assert.Len(t, made.Shots, 2)
		}
	}
	one, two := filepath.Join(dir, "1.png"), filepath.Join(dir, "2.png")
	_, stdout, _ := raconte(t, "compare", one, one)
	assert.JSONEq(t, `{"result":"same","rectangles":[]}`, stdout)
	_, stdout, _ = raconte(t, "compare", one, two)
	assert.Contains(t, stdout, `"result": "changed"`)
	_, stdout, _ = raconte(t, "order", "b 10.png", "b 9.png", "a.png")
	assert.Equal(t, "a.png\nb 9.png\nb 10.png\n", stdout)
}

func TestWhateverIsBundledOpensWhole(t *testing.T) {
	dir := t.TempDir()
	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, image.NewRGBA(image.Rect(0, 0, 600, 400))))
	data := base64.StdEncoding.EncodeToString(picture.Bytes())
	page, out := filepath.Join(dir, "page.html"), filepath.Join(dir, "page.bundle")
	said := "<h1>Page</h1><!--" + strings.Repeat("x", 48<<20) + `--><ol><li>First<img alt="Here" src="data:image/png;base64,` + data + `"><li>Last</ol>`
	require.NoError(t, os.WriteFile(page, []byte(said), 0o600))
	code, _, stderr := raconte(t, "bundle", page, "-o", out)
	require.Zero(t, code, stderr)
	opened, file, err := openBundle(t.Context(), out)
	require.NoError(t, err)
	defer file.Close()
	require.Len(t, opened.Document.Blocks, 2, "the end of a large page is there")
	assert.Equal(t, "Here", opened.Document.Blocks[0].Figures[0].Alt)
	for _, s := range opened.Shots {
		assert.Equal(t, "picture", s.Name)
	}

	require.NoError(t, os.WriteFile(page, []byte(said+strings.Repeat(" ", 20<<20)), 0o600))
	code, _, stderr = raconte(t, "bundle", page, "-o", filepath.Join(dir, "none.bundle"))
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, stderr, "larger than")
	assert.NoFileExists(t, filepath.Join(dir, "none.bundle"))

	folder := filepath.Join(dir, "shots")
	require.NoError(t, os.Mkdir(folder, 0o700))
	var names []string
	for i, name := range []string{"shot.jpg", "shot.png", "shot.gif"} { // by their names all are alike
		img := image.NewRGBA(image.Rect(0, 0, 10+i, 10))
		picture.Reset()
		require.NoError(t, png.Encode(&picture, img))
		path := filepath.Join(folder, name)
		require.NoError(t, os.WriteFile(path, picture.Bytes(), 0o600))
		at := time.Date(2026, 3, 9-i, 8, 0, 0, 0, time.UTC)
		require.NoError(t, os.Chtimes(path, at, at))
		names = append(names, path)
	}
	_, ordered, _ := raconte(t, append([]string{"order"}, names...)...)
	code, _, stderr = raconte(t, "bundle", folder, "-o", out)
	require.Zero(t, code, stderr)
	opened, again, err := openBundle(t.Context(), out)
	require.NoError(t, err)
	defer again.Close()
	var bundled string
	for _, b := range opened.Document.Blocks {
		bundled += filepath.Join(folder, opened.Shots[b.Figures[0].Shot].Name) + "\n"
	}
	assert.Equal(t, ordered, bundled, "files are in one order, whoever asks")
	assert.True(t, strings.HasPrefix(ordered, names[2]), "the oldest first")
}

func TestWrongCallsAndBrokenFilesSayWhatIsWrong(t *testing.T) {
	broken := filepath.Join(t.TempDir(), "broken")
	require.NoError(t, os.WriteFile(broken, []byte("nothing"), 0o600))
	for call, want := range map[string]struct {
		code int
		says string
	}{
		"render " + broken + " -o /dev/null --format pdf": {exitFailed, "not a bundle"},
		"render " + broken:                 {exitUsage, "output"},
		"render missing -o x.pdf":          {exitFailed, "no such file"},
		"check":                            {exitUsage, "arg"},
		"compare " + broken + " " + broken: {exitFailed, "not a picture"},
		"fly":                              {exitUsage, "unknown command"},
		"bundle " + filepath.Dir(broken) + " -o x": {exitFailed, "holds no picture"},
	} {
		code, stdout, stderr := raconte(t, strings.Fields(call)...)
		assert.Equal(t, want.code, code, call)
		assert.Contains(t, stderr, want.says, call)
		assert.Empty(t, stdout, call)
	}
	for _, command := range []string{"render", "flatten", "check", "compare", "order", "bundle", "serve", "demo"} {
		code, stdout, _ := raconte(t, command, "--help")
		assert.Zero(t, code)
		assert.Contains(t, stdout, "Usage:")
	}
}

func TestPracticeWritesTheSameShotsEachTime(t *testing.T) {
	dir := t.TempDir()
	script := filepath.Join(dir, "script.txt")
	require.NoError(t, os.WriteFile(script, []byte("# a wizard\nsign in\nrecord clicks\nclick Show\nclick Season plan\ntype x into Name\nclick Next\n"), 0o600))
	var first []byte
	for range 2 {
		out := filepath.Join(dir, "out")
		code, _, stderr := raconte(t, "practice", script, "-o", out, "--names", "{window} {n:2}")
		require.Zero(t, code, stderr)
		data, err := os.ReadFile(filepath.Join(out, "session.json"))
		require.NoError(t, err)
		for _, want := range []string{`"Season plan 04.png"`, `"kind": "keys"`, `"name": "Next"`} {
			assert.Contains(t, string(data), want)
		}
		png, err := os.ReadFile(filepath.Join(out, "Season plan 04.png"))
		require.NoError(t, err)
		if first != nil {
			assert.Equal(t, first, png)
		}
		first = png
	}
	require.NoError(t, os.WriteFile(script, []byte("sign in\nclick Nowhere\n"), 0o600))
	code, _, stderr := raconte(t, "practice", script, "-o", dir)
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, stderr, `line 2, "click Nowhere": nothing on the screen is called "Nowhere"`)
}

func TestAManualIsRenderedAndCheckedWithItsChapters(t *testing.T) {
	dir := t.TempDir()
	parts := demo.Procedures()
	manual := document.Document{ID: "m", Kind: document.Manual, Facts: document.Facts{Title: "Dock handbook"}}
	manual.Blocks = append(manual.Blocks, document.NewPassage("intro", words.Plain("Read it once.")))
	in := output.Input{Progress: func(int, int) {}, Whole: output.Whole{Shot: func(ctx context.Context, sha string) (output.Shot, error) {
		for _, p := range parts {
			if shot, err := p.Content(ctx, sha); err == nil {
				return shot, nil
			}
		}
		return output.Shot{}, errors.New("there is no such shot")
	}}}
	for i, p := range parts {
		if p.Ready {
			in.Whole.Chapters = append(in.Whole.Chapters, p.Bundled())
			manual.Blocks = append(manual.Blocks, document.Block{ID: fmt.Sprint("c", i), Content: document.Content{Type: document.Chapter, Document: p.Document.ID, Figures: []figure.Figure{}}})
		}
	}
	in.Whole.Document = manual
	var data bytes.Buffer
	require.NoError(t, bundle.Format{}.Write(t.Context(), &data, in, output.Options{}))
	path, out := filepath.Join(dir, "m.bundle"), filepath.Join(dir, "m.pdf")
	require.NoError(t, os.WriteFile(path, data.Bytes(), 0o600))
	code, stdout, stderr := raconte(t, "check", path)
	require.Zero(t, code, stdout+stderr)
	code, _, stderr = raconte(t, "render", path, "-o", out)
	require.Zero(t, code, stderr)
	text, err := exec.Command("pdftotext", "-layout", out, "-").Output()
	require.NoError(t, err)
	said := strings.Join(strings.Fields(string(text)), " ")
	for _, want := range []string{"Manual Dock handbook", "Contents", "Read it once.", "Reprint a lot label", "Index", "Receive lot"} {
		assert.Contains(t, said, want)
	}
	shown, _, _ := raconte(t, "flatten", path, "--figure", in.Whole.Chapters[0].Blocks[0].Figures[0].ID, "-o", filepath.Join(dir, "f.png"))
	assert.Zero(t, shown, "pictures of chapters are found")
}
