package server_test

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"html"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"raconte/api"
	doc "raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/secrets"
	"raconte/core/sight"
	"raconte/core/words"
	"raconte/engines/media"
	"raconte/engines/raster"
	"raconte/output/formats"
	"raconte/platform/mail"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The planted secret: a colour that stands nowhere else, and a word.
var planted = color.RGBA{255, 0, 200, 255}

const plantedWord = "swordfish-4711"

// withSecret is a screen with a secret of that colour in its middle.
func withSecret(t *testing.T) []byte {
	img := image.NewRGBA(image.Rect(0, 0, 1000, 600))
	draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{235, 240, 238, 255}), image.Point{}, draw.Src)
	draw.Draw(img, image.Rect(420, 280, 580, 320), image.NewUniform(planted), image.Point{}, draw.Src)
	var buf bytes.Buffer
	require.NoError(t, raster.EncodePNG(&buf, img, raster.Quick))
	return buf.Bytes()
}

// shows tells whether anything like the planted colour is in a picture.
func shows(t *testing.T, data []byte) bool {
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	for y := img.Bounds().Min.Y; y < img.Bounds().Max.Y; y++ {
		for x := img.Bounds().Min.X; x < img.Bounds().Max.X; x++ {
			r, g, b, _ := img.At(x, y).RGBA()
			if int(r>>8)-int(g>>8) > 12 && int(b>>8)-int(g>>8) > 12 {
				return true
			}
		}
	}
	return false
}

func p(x, y float64) scene.Point { return scene.Point{X: x, Y: y} }

// secretFigures are figures on the shot in whose every look the secret is concealed.
func secretFigures(shot string) []figure.Figure {
	style := figure.Style{Ink: "dark", Weight: figure.Medium}
	conceal := func(look string) figure.Mark {
		s := style
		s.Look = look
		return figure.Mark{ID: "c", Kind: figure.Concealment, Points: []scene.Point{p(415, 275), p(585, 325)}, Style: s}
	}
	loupe := figure.Mark{ID: "l", Kind: figure.Detail, Points: []scene.Point{p(400, 260), p(600, 340), p(300, 150)}, Style: style}
	inset := figure.Mark{ID: "i", Kind: figure.Inset, Shot: shot, Points: []scene.Point{p(0, 0), p(1000, 600)}, Style: style}
	var all []figure.Figure
	for i, view := range []figure.View{
		{}, {Tilt: 4}, {Quarter: 1, Mirror: true}, {Folds: []figure.Fold{{From: 200, To: 300}}},
		{Tilt: -3, Folds: []figure.Fold{{Down: true, From: 450, To: 500}}}, {Tone: scene.Tone{Light: 20}},
		{Edge: figure.Edge{Look: "rounded"}, Margin: &figure.Margin{Top: 30}}, {Width: 1777},
	} {
		marks := []figure.Mark{loupe, conceal([]string{"", "hatched", "scrambled"}[i%3])}
		if i == 0 {
			marks = append(marks, inset) // right over the picture, its secret where the picture's is
		}
		all = append(all, figure.Figure{ID: fmt.Sprint("secret-", i), Shot: shot, View: view, Marks: marks})
	}
	return all
}

func TestWhatIsConcealedReachesNoReader(t *testing.T) {
	h := start(t)
	author, reader := h.browser(t, "ines"), h.browser(t, "ruben")
	told := reader.listen(t)
	shot := "shot-with-secret"
	code, body := author.do("PUT", "/api/shots/"+shot+"?name="+plantedWord+".png", withSecret(t), "Content-Type", "application/octet-stream")
	require.Equal(t, 200, code, body)
	kept, err := h.Store.Captures.Shot(t.Context(), shot)
	require.NoError(t, err)
	kept.About.Note = plantedWord
	h.setAbout(t, shot, kept.About)
	require.NoError(t, h.Store.Captures.SetRead(t.Context(), shot, []sight.Word{{Text: plantedWord, Rect: scene.Rect{X: 420, Y: 280, W: 160, H: 40}, Sure: 99}}))
	_, body = author.do("POST", "/api/documents", map[string]string{"title": "Keep it safe"})
	var made api.Summary
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	change := api.Change{Id: "one"}
	figures := secretFigures(shot)
	for i, f := range figures {
		change.Blocks = append(change.Blocks, api.BlockChange{
			Id: f.ID, Order: fmt.Sprintf("00%d", 1000+i), Content: doc.NewStep("", words.Plain("Look here"), f).Content,
		})
	}
	document := "/api/documents/" + made.Id
	code, body = author.do("POST", document+"/changes", change)
	require.Equal(t, 200, code, body)
	code, body = author.ready(made.Id)
	require.Equal(t, 200, code, body)

	// The test would see the secret: it is in the shot, and in a figure without its concealment.
	code, body = author.do("GET", "/api/shots/"+shot, nil)
	require.Equal(t, 200, code)
	require.True(t, shows(t, []byte(body)))

	// Every address of the API that takes no more than what the reader knows.
	ids := []string{shot, "secret-0", made.Id}
	spec, err := api.GetSpec()
	require.NoError(t, err)
	pictures := 0
	for path, item := range spec.Paths.Map() {
		if item.Get == nil || path == "/api/events" {
			continue
		}
		for _, id := range ids {
			address := strings.NewReplacer("{document}", made.Id, "{figure}", id, "{shot}", id, "{capture}", id, "{device}", id, "{delivery}", id, "{style}", id).Replace(path)
			for _, query := range []string{"", "?layout=running", "?layout=two", "?since=0", "?width=64", "?width=400", "?width=5000", "?title=" + plantedWord, "?text=" + plantedWord} {
				code, body := reader.do("GET", address+query, nil)
				assert.NotContains(t, body, plantedWord, address+query)
				if code == 200 && strings.HasPrefix(body, "\x89PNG") {
					pictures++
					assert.False(t, shows(t, []byte(body)), address+query)
				}
			}
		}
	}
	for _, f := range figures {
		for _, width := range []string{"", "?width=100", "?width=900"} {
			code, body := reader.do("GET", document+"/figures/"+f.ID+width, nil)
			require.Equal(t, 200, code)
			pictures++
			assert.False(t, shows(t, []byte(body)), f.ID+width)
		}
	}
	assert.Greater(t, pictures, 25)

	// What the reader is told unasked: of the document, which is ready, and of nothing that is concealed in it.
	change = api.Change{Id: "two", Blocks: []api.BlockChange{{Id: "last", Order: "009999", Content: doc.NewStep("", words.Plain("Done")).Content}}}
	code, body = author.do("POST", document+"/changes", change)
	require.Equal(t, 200, code, body)
	all := ""
	for next := soon(told); next != "nothing"; next = soon(told) {
		all += next
	}
	assert.Contains(t, all, made.Id)
	assert.NotContains(t, all, plantedWord)
	inEveryForm(t, h, reader, document)
}

// TestWhatIsConcealedLaterIsConcealedInWhatWasHandedOutBefore lets a reader have a revision that shows the secret, and
// a PDF of it, before its author conceals it there too.
func TestWhatIsConcealedLaterIsConcealedInWhatWasHandedOutBefore(t *testing.T) {
	h := start(t)
	h.Work(t)
	author, reader := h.browser(t, "ines"), h.browser(t, "ruben")
	code, body := author.do("PUT", "/api/shots/handed", withSecret(t), "Content-Type", "application/octet-stream")
	require.Equal(t, 200, code, body)
	code, body = author.do("PUT", "/api/shots/other", screenshot(t, 200, 100, 1, image.Point{}), "Content-Type", "application/octet-stream")
	require.Equal(t, 200, code, body)
	_, body = author.do("POST", "/api/documents", map[string]string{"title": "Handed out"})
	var made api.Summary
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	document := "/api/documents/" + made.Id
	figures := []figure.Figure{{ID: "bare", Shot: "handed", Marks: []figure.Mark{}}, {ID: "inset", Shot: "other", Marks: []figure.Mark{
		{ID: "i", Kind: figure.Inset, Shot: "handed", Points: []scene.Point{{X: 5, Y: 5}, {X: 195, Y: 95}}, Style: figure.Style{Ink: "red", Weight: figure.Fine}},
	}}}
	code, body = author.do("POST", document+"/changes", api.Change{Id: "one", Blocks: []api.BlockChange{{Id: "s", Order: "001000", Content: doc.NewStep("", words.Plain("Look"), figures...).Content}}})
	require.Equal(t, 200, code, body)
	code, body = author.ready(made.Id)
	require.Equal(t, 200, code, body)
	seen := func(width string) (n int) {
		for _, f := range figures {
			code, body := reader.do("GET", document+"/figures/"+f.ID+width, nil)
			require.Equal(t, 200, code, body)
			if shows(t, []byte(body)) {
				n++
			}
		}
		return n
	}
	require.Equal(t, 2, seen(""), "the test would see the secret")
	code, body = reader.do("POST", document+"/deliveries", map[string]any{"format": "pdf", "layout": "two"})
	require.Equal(t, 202, code, body)
	var d api.Delivery
	require.NoError(t, json.Unmarshal([]byte(body), &d))
	require.Eventually(t, func() bool {
		code, _ := reader.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
		return code == 200
	}, 5*time.Minute, 50*time.Millisecond)

	code, body = author.do("GET", "/api/shots/handed/handed", nil)
	require.Equal(t, 200, code)
	assert.Contains(t, body, `"revisions":1`)
	code, body = author.do("POST", "/api/shots/handed/handed", []scene.Rect{{X: 415, Y: 275, W: 170, H: 50}})
	require.Equal(t, 200, code, body)
	assert.Contains(t, body, "Handed out")
	for _, width := range []string{"", "?width=100", "?width=900"} {
		assert.Zero(t, seen(width), width)
	}
	code, _ = reader.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
	assert.Equal(t, 404, code, "the file is withdrawn")
	_, body = reader.do("GET", "/api/deliveries/"+d.Id, nil)
	assert.Contains(t, body, "Withdrawn")
	inEveryForm(t, h, reader, document)
	_, body = author.do("GET", document+"/history", nil)
	assert.Contains(t, body, "Concealed in what was handed out before: 1 place in 1 revision. Withdrawn: 1 file.")
	code, _ = reader.do("GET", document+"/history", nil)
	assert.Equal(t, 403, code)
}

// inEveryForm looks for the secret in the pictures and the text of each file that a reader can have made.
func inEveryForm(t *testing.T, h house, reader browser, document string) {
	h.Work(t)
	for _, f := range formats.All {
		about := f.About()
		if about.Whole {
			continue
		}
		_, body := reader.do("POST", document+"/deliveries", map[string]any{"format": about.Name})
		var d api.Delivery
		require.NoError(t, json.Unmarshal([]byte(body), &d))
		require.Eventually(t, func() bool {
			_, body := reader.do("GET", "/api/deliveries/"+d.Id, nil)
			require.NoError(t, json.Unmarshal([]byte(body), &d))
			return d.State == "done"
		}, 5*time.Minute, 50*time.Millisecond, about.Name)
		code, data := reader.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
		require.Equal(t, 200, code)
		parts := unpacked(t, []byte(data))
		if about.Name == "pdf" {
			parts = inPDF(t, []byte(data))
		}
		pictures := 0
		if about.Name == "mp4" || about.Name == "webm" {
			pictures = inFilm(t, []byte(data), about.Name)
		}
		for _, part := range parts {
			assert.NotContains(t, string(part), plantedWord, about.Name)
			if strings.HasPrefix(http.DetectContentType(part), "image/") {
				pictures++
				assert.False(t, shows(t, part), about.Name)
			}
		}
		words := slices.Contains([]string{"txt", "vtt", "transcript", "sound"}, about.Name)
		assert.Equal(t, !words, pictures > 0, "%s: the test sees pictures where there are some", about.Name)
	}
}

// inFilm looks for the secret in the pictures of a film, a few a second; the answer is how many there were. They are
// looked at small: single pixels at edges are coloured by their coding.
func inFilm(t *testing.T, data []byte, name string) (n int) {
	path := filepath.Join(t.TempDir(), "film")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	film, err := media.Open(t.Context(), path, 5, 0, 320)
	require.NoError(t, err)
	defer film.Close()
	for {
		img, err := film.Next()
		if err != nil {
			require.ErrorIs(t, err, io.EOF)
			return n
		}
		n++
		for i := 0; i < len(img.Pix); i += 4 {
			r, g, b := int(img.Pix[i]), int(img.Pix[i+1]), int(img.Pix[i+2])
			if r-g > 40 && b-g > 40 {
				assert.Fail(t, "the secret is in a film", "%s, picture %d", name, n)
				return n
			}
		}
	}
}

var encoded = regexp.MustCompile(`[A-Za-z0-9+/]{200,}=*`)

// unpacked is a file with all that is packed in it.
func unpacked(t *testing.T, data []byte) [][]byte {
	parts := [][]byte{data}
	if z, err := zip.NewReader(bytes.NewReader(data), int64(len(data))); err == nil {
		for _, f := range z.File {
			r, err := f.Open()
			require.NoError(t, err)
			part, err := io.ReadAll(r)
			require.NoError(t, err)
			parts = append(parts, part)
		}
		return parts
	}
	for _, text := range encoded.FindAllString(html.UnescapeString(string(data)), -1) {
		if part, err := base64.StdEncoding.DecodeString(text); err == nil {
			parts = append(parts, part)
		}
	}
	return parts
}

// inPDF are the pictures and the text of a PDF.
func inPDF(t *testing.T, data []byte) [][]byte {
	if _, err := exec.LookPath("pdfimages"); err != nil {
		t.Skip("poppler is not installed: run make test")
	}
	dir := t.TempDir()
	path := filepath.Join(dir, "in.pdf")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	require.NoError(t, exec.Command("pdfimages", "-png", path, filepath.Join(dir, "picture")).Run())
	text, err := exec.Command("pdftotext", path, "-").Output()
	require.NoError(t, err)
	parts := [][]byte{data, text}
	found, err := filepath.Glob(filepath.Join(dir, "picture*.png"))
	require.NoError(t, err)
	for _, name := range found {
		part, err := os.ReadFile(name)
		require.NoError(t, err)
		parts = append(parts, part)
	}
	return parts
}

func TestSecretsAreSuggestedFromTheTeamsOwnWords(t *testing.T) {
	h := start(t)
	author := h.browser(t, "ines")
	shot := "shot-with-words"
	code, body := author.do("PUT", "/api/shots/"+shot+"?name=a.png", withSecret(t), "Content-Type", "application/octet-stream")
	require.Equal(t, 200, code, body)
	at := scene.Rect{X: 420, Y: 280, W: 160, H: 40}
	require.NoError(t, h.Store.Captures.SetRead(t.Context(), shot, []sight.Word{{Text: plantedWord, Rect: at, Sure: 99}}))
	asked := func() api.Secrets {
		code, body := author.do("GET", "/api/shots/"+shot+"/secrets", nil)
		require.Equal(t, 200, code, body)
		var s api.Secrets
		require.NoError(t, json.Unmarshal([]byte(body), &s))
		return s
	}
	assert.Empty(t, asked().Found)
	code, body = author.do("PUT", "/api/secret-words", map[string]any{"version": 1, "words": []string{" Swordfish ", "", "Swordfish"}})
	require.Equal(t, 200, code)
	assert.JSONEq(t, `{"version":2,"words":["Swordfish"]}`, body)
	code, body = author.do("PUT", "/api/secret-words", map[string]any{"version": 1, "words": []string{}})
	assert.Equal(t, 409, code, "one who has not seen the list does not empty it")
	assert.JSONEq(t, `{"version":2,"words":["Swordfish"]}`, body)
	found := asked().Found
	require.Len(t, found, 1)
	assert.Equal(t, secrets.Own+"swordfish", found[0].Why)
	code, _ = author.do("PUT", "/api/secret-words", []string{strings.Repeat("x", 201)})
	assert.Equal(t, 400, code)
}

func TestStylesAreTheTeams(t *testing.T) {
	h := start(t)
	ines, tomasz := h.browser(t, "ines"), h.browser(t, "tomasz")
	add := func(b browser, body string) (int, string) {
		return b.do("POST", "/api/styles", []byte(body), "Content-Type", "application/json")
	}
	code, body := add(ines, `{"name":"Our arrow","kind":"arrow","style":{"ink":"blue","weight":"strong","way":"curved"}}`)
	require.Equal(t, 200, code, body)
	code, body = add(tomasz, `{"name":"Our arrow","kind":"arrow","style":{"ink":"green","weight":"fine"}}`)
	require.Equal(t, 200, code, body)
	_, body = ines.do("GET", "/api/styles", nil)
	var all []api.NamedStyle
	require.NoError(t, json.Unmarshal([]byte(body), &all))
	require.Len(t, all, 1, "the same name is the same style")
	assert.Equal(t, "green", all[0].Style.Ink)
	for _, bad := range []string{`{"name":"","kind":"arrow","style":{"ink":"red","weight":"fine"}}`, `{"name":"x","kind":"star","style":{"ink":"red","weight":"fine"}}`,
		`{"name":"x","kind":"box","style":{"ink":"red","weight":"fine","dash":"wild"}}`, `[]`} {
		code, _ := add(ines, bad)
		assert.Equal(t, 400, code, bad)
	}
	code, _ = ines.do("DELETE", "/api/styles/"+all[0].Id, nil)
	assert.Equal(t, 204, code)
	code, _ = ines.do("DELETE", "/api/styles/"+all[0].Id, nil)
	assert.Equal(t, 404, code)
}

func TestAFinishedPictureIsMadeInEveryFormatAndWithinASize(t *testing.T) {
	h := start(t)
	author := h.browser(t, "ines")
	ids := author.documents()
	_, body := author.do("GET", "/api/documents/"+ids["Reprint a lot label"], nil)
	var whole api.Document
	require.NoError(t, json.Unmarshal([]byte(body), &whole))
	f := whole.Blocks[0].Content.Figures[0]
	finish := func(want map[string]any) (int, string) {
		want["figure"], want["first"] = f, 1
		return author.do("POST", "/api/finished", want)
	}
	for kind, start := range map[string]string{"png": "\x89PNG", "jpeg": "\xff\xd8", "webp": "RIFF", "gif": "GIF8", "pdf": "%PDF"} {
		code, body := finish(map[string]any{"type": kind})
		require.Equal(t, 200, code, kind)
		assert.True(t, strings.HasPrefix(body, start), kind)
	}
	code, mailed := finish(map[string]any{"type": "eml", "name": "Etikett größer"})
	require.Equal(t, 200, code)
	arrived, err := mail.Read([]byte(mailed))
	require.NoError(t, err)
	assert.Equal(t, "Etikett größer", arrived.Subject)
	require.Len(t, arrived.Pictures, 1)
	assert.True(t, bytes.HasPrefix(arrived.Pictures[0], []byte("\x89PNG")))
	_, full := finish(map[string]any{"type": "png"})
	code, small := finish(map[string]any{"type": "png", "most": len(full) / 3})
	require.Equal(t, 200, code)
	assert.LessOrEqual(t, len(small), len(full)/3)
	code, body = finish(map[string]any{"type": "png", "most": 300})
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "still be read")
	code, _ = finish(map[string]any{"type": "tiff"})
	assert.Equal(t, 400, code)
	f.Shot = "anothers"
	code, _ = finish(map[string]any{"type": "png"})
	assert.Equal(t, 404, code)
}

func TestTargetsAreFoundInAnotherShotOfTheProgram(t *testing.T) {
	h := start(t)
	author := h.browser(t, "ines")
	picture := func(id string, at image.Point) {
		img := image.NewRGBA(image.Rect(0, 0, 900, 600))
		draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{235, 240, 238, 255}), image.Point{}, draw.Src)
		for i := range 40 { // a thing of its own looks
			x, y := at.X+(i*37)%120, at.Y+(i*23)%50
			draw.Draw(img, image.Rect(x, y, x+5+i%7, y+4), image.NewUniform(color.RGBA{uint8(i * 3), 40, 60, 255}), image.Point{}, draw.Src)
		}
		var buf bytes.Buffer
		require.NoError(t, raster.EncodePNG(&buf, img, raster.Quick))
		code, body := author.do("PUT", "/api/shots/"+id+"?name=a.png", buf.Bytes(), "Content-Type", "application/octet-stream")
		require.Equal(t, 200, code, body)
	}
	picture("before", image.Pt(200, 150))
	picture("after", image.Pt(430, 320))
	style := figure.Style{Ink: "red", Weight: figure.Medium}
	marks := []figure.Mark{
		{ID: "box", Kind: figure.Box, Points: []scene.Point{p(195, 145), p(335, 210)}, Style: style},
		{ID: "empty", Kind: figure.Box, Points: []scene.Point{p(600, 400), p(700, 450)}, Style: style},
		{ID: "words", Kind: figure.Text, Points: []scene.Point{p(200, 100), p(300, 100)}, Text: "Here", Style: style},
	}
	code, body := author.do("POST", "/api/shots/after/targets", api.TargetsWanted{From: "before", Marks: marks})
	require.Equal(t, 200, code, body)
	var found []api.Target
	require.NoError(t, json.Unmarshal([]byte(body), &found))
	require.Len(t, found, 3)
	assert.Equal(t, api.TargetSure("yes"), found[0].Sure)
	assert.InDelta(t, 425, found[0].Points[0].X, 3)
	assert.InDelta(t, 315, found[0].Points[0].Y, 3)
	assert.Equal(t, api.TargetSure("lost"), found[1].Sure, "an empty place has no looks to find it by")
	assert.Equal(t, marks[1].Points, found[1].Points)
	assert.InDelta(t, 430, found[2].Points[0].X, 3, "words go along with what is next to them")
}
