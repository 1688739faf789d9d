package server_test

import (
	"archive/zip"
	"bytes"
	"context"
	"io"
	"strings"
	"testing"

	"raconte/api"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/words"
	"raconte/output"
	"raconte/output/bundle"
	"raconte/works"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestAFileIsNotHadByItsSum tries all ways in which somebody who knows the sum of a file in a closed folder could have
// it.
func TestAFileIsNotHadByItsSum(t *testing.T) {
	h := start(t)
	adaeze, tomasz := h.browser(t, "adaeze"), h.browser(t, "tomasz")
	shut := adaeze.documents()["Ammonia leak: what to do"]
	_, body := adaeze.do("GET", "/api/documents/"+shut, nil)
	closed := decoded[api.Document](t, body)
	require.NotNil(t, closed.Facts.File)
	sum := closed.Facts.File.SHA256
	voice := "5ca1ab1e" + sum[8:]
	require.NoError(t, h.Works.Blobs.Put(t.Context(), works.FileKey(voice), bytes.NewReader([]byte("a voice"))))
	require.NoError(t, h.Store.Documents.KeepVoice(t.Context(), shut, voice))

	_, body = tomasz.do("POST", "/api/documents", map[string]string{"title": "Mine"})
	mine := decoded[api.Summary](t, body).Id
	code, body := tomasz.do("PUT", "/api/shots/own", withSecret(t), "Content-Type", "application/octet-stream")
	require.Equal(t, 200, code, body)
	for _, sha := range []string{sum, voice} {
		code, body = tomasz.do("GET", "/api/documents/"+mine+"/voices/"+sha, nil)
		assert.Equal(t, 404, code, body)
		code, body = tomasz.do("POST", "/api/documents/"+mine+"/voices?of="+sha, nil)
		assert.Equal(t, 404, code, body)
		fig := figure.Figure{ID: "f", Shot: "own", Marks: []figure.Mark{}, Clip: &figure.Clip{Ms: 1000, Voice: sha}}
		code, body = tomasz.do("POST", "/api/clips", map[string]any{"figure": fig, "first": 1, "form": "mp4"})
		assert.Equal(t, 404, code, body)
		spoken := document.NewStep("s", words.Plain("Say it"))
		spoken.Film = &document.Told{Voice: &document.Voice{SHA256: sha, Ms: 1000}}
		shown := document.NewStep("t", words.Plain("Show it"), fig)
		for _, b := range []document.Block{spoken, shown} {
			code, body = tomasz.do("POST", "/api/documents/"+mine+"/changes", api.Change{Id: b.ID + sha[:9], Blocks: []api.BlockChange{{Id: b.ID, Order: "001" + b.ID, Content: b.Content}}})
			assert.Equal(t, 422, code, body)
		}
		code, body = tomasz.do("POST", "/api/bundles", naming(t, spoken), "Content-Type", "application/zip")
		require.Equal(t, 201, code, body)
		_, body = tomasz.do("GET", "/api/documents/"+decoded[api.Summary](t, body).Id, nil)
		assert.NotContains(t, body, sha, "a bundle brings what it names, or it is left out")
	}
	code, body = tomasz.do("GET", "/api/clips/"+sum+"."+sum+"?form=mp4", nil)
	assert.Equal(t, 404, code, body)

	// Who may open a document takes its voices over, and has them then.
	_, body = h.browser(t, "ines").do("POST", "/api/documents", map[string]string{"title": "Open"})
	open := decoded[api.Summary](t, body).Id
	require.NoError(t, h.Store.Documents.KeepVoice(t.Context(), open, voice))
	own := document.NewStep("s", words.Plain("Say it"))
	own.Film = &document.Told{Voice: &document.Voice{SHA256: voice, Ms: 1000}}
	code, body = tomasz.do("POST", "/api/documents/"+mine+"/changes", api.Change{Id: "taken", Blocks: []api.BlockChange{{Id: "s", Order: "001000", Content: own.Content}}})
	require.Equal(t, 200, code, body)
	code, body = tomasz.do("GET", "/api/documents/"+mine+"/voices/"+voice, nil)
	assert.Equal(t, 200, code)
	assert.Equal(t, "a voice", body)
}

// naming is a bundle of one step, which names files that are not in it.
func naming(t *testing.T, b document.Block) []byte {
	var whole, out bytes.Buffer
	in := output.Input{Whole: output.Whole{Document: document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Named"}, Blocks: []document.Block{b}},
		Voice: func(context.Context, string) (io.ReadCloser, error) { return io.NopCloser(strings.NewReader("")), nil }}}
	require.NoError(t, bundle.Format{}.Write(t.Context(), &whole, in, output.Options{}))
	from, err := zip.NewReader(bytes.NewReader(whole.Bytes()), int64(whole.Len()))
	require.NoError(t, err)
	to := zip.NewWriter(&out)
	for _, f := range from.File {
		if !strings.HasPrefix(f.Name, "voices/") {
			require.NoError(t, to.Copy(f))
		}
	}
	require.NoError(t, to.Close())
	return out.Bytes()
}
