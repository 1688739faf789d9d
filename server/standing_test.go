package server_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"raconte/api"
	"raconte/core/scene"
	"raconte/platform/blobs"
	"raconte/works"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// delivered waits for a delivery that was ordered, and reads its file.
func (b browser) delivered(code int, body string) string {
	require.Equal(b.t, 202, code, body)
	var d api.Delivery
	require.NoError(b.t, json.Unmarshal([]byte(body), &d), body)
	require.Eventually(b.t, func() bool {
		_, body := b.do("GET", "/api/deliveries/"+d.Id, nil)
		require.NoError(b.t, json.Unmarshal([]byte(body), &d))
		return d.State == "done" || d.State == "failed"
	}, 5*time.Minute, 30*time.Millisecond)
	require.Equal(b.t, api.DeliveryState("done"), d.State, of(d.Error))
	code, file := b.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
	require.Equal(b.t, 200, code)
	return file
}

// folder is the id of a folder by its name.
func (b browser) folder(name string) string {
	_, said := b.do("GET", "/api/folders", nil)
	var all []api.Folder
	require.NoError(b.t, json.Unmarshal([]byte(said), &all))
	for _, f := range all {
		if f.Name == name {
			return f.Id
		}
	}
	b.t.Fatalf("there is no folder %s in %s", name, said)
	return ""
}

// retitle gives a document another title and number; it is a draft again.
func (b browser) retitle(id, title, number string) {
	_, body := b.do("GET", "/api/documents/"+id, nil)
	var d map[string]any
	require.NoError(b.t, json.Unmarshal([]byte(body), &d))
	facts := d["facts"].(map[string]any)
	facts["title"] = title
	if delete(facts, "number"); number != "" {
		facts["number"] = number
	}
	code, body := b.do("POST", "/api/documents/"+id+"/changes", map[string]any{"id": "r" + id, "blocks": []any{}, "facts": map[string]any{"base": d["factsVersion"], "facts": facts}})
	require.Equal(b.t, 200, code, body)
}

func of(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

func TestWhatIsReleasedLiesAtItsPlaceAndNothingElse(t *testing.T) {
	h := start(t)
	dir := t.TempDir()
	bucket, err := blobs.OpenPlace(t.Context(), dir)
	require.NoError(t, err)
	h.Works.Places = []works.Place{{Name: "Intranet", Bucket: bucket}}
	h.Work(t)
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	id := ines.documents()["Move a lot between rooms"]
	body := func(format, path string) map[string]any {
		return map[string]any{"order": map[string]any{"format": format}, "place": "Intranet", "path": path}
	}
	code, _ := ruben.do("POST", "/api/documents/"+id+"/standings", body("txt", ""))
	assert.Equal(t, 403, code)
	for says, bad := range map[string]map[string]any{
		"no place":          {"order": map[string]any{"format": "txt"}, "place": "Elsewhere", "path": ""},
		"not put where":     body("bundle", ""),
		"password is not":   {"order": map[string]any{"format": "pdf", "pdf": map[string]any{"seal": map[string]any{"password": "x"}}}, "place": "Intranet", "path": ""},
		"There is no forma": body("xyz", ""),
	} {
		code, said := ines.do("POST", "/api/documents/"+id+"/standings", bad)
		assert.Equal(t, 422, code, said)
		assert.Contains(t, said, says)
	}
	code, said := ines.do("POST", "/api/documents/"+id+"/standings", body("txt", "../../up/dock"))
	require.Equal(t, 201, code, said)
	var kept api.Standing
	require.NoError(t, json.Unmarshal([]byte(said), &kept))
	code, said = ines.do("POST", "/api/documents/"+id+"/standings", body("html-folder", "web"))
	require.Equal(t, 201, code, said)
	there := func() (all []string) {
		require.NoError(t, filepath.Walk(dir, func(path string, info os.FileInfo, err error) error {
			if err == nil && !info.IsDir() {
				name, _ := filepath.Rel(dir, path)
				all = append(all, name)
			}
			return err
		}))
		return all
	}
	lies := func(name, text string) {
		t.Helper()
		require.Eventually(t, func() bool {
			data, err := os.ReadFile(filepath.Join(dir, name))
			return err == nil && strings.Contains(string(data), text)
		}, 5*time.Minute, 30*time.Millisecond, "%s in %v", name, there())
	}
	const file = "up/dock/Move a lot between rooms.txt"
	lies(file, "Revision 1")
	info, err := os.Stat(filepath.Join(dir, file))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o644), info.Mode().Perm(), "others on the machine may read it")
	lies("web/Move a lot between rooms/index.html", "Move a lot between rooms")
	lies("web/Move a lot between rooms/pictures/001.png", "PNG")

	// What is concealed later is in no file that lies there, nor in one that was made of the folder.
	before, err := os.ReadFile(filepath.Join(dir, "web/Move a lot between rooms/pictures/001.png"))
	require.NoError(t, err)
	_, said = ines.do("GET", "/api/documents/"+id, nil)
	var doc api.Document
	require.NoError(t, json.Unmarshal([]byte(said), &doc))
	code, said = ines.do("POST", "/api/folders/"+ines.folder("Cold rooms")+"/deliveries", map[string]any{"format": "txt"})
	ines.delivered(code, said)
	var taken api.Delivery
	require.NoError(t, json.Unmarshal([]byte(said), &taken))
	code, said = ines.do("POST", "/api/shots/"+doc.Blocks[0].Content.Figures[0].Shot+"/handed", []scene.Rect{{X: 100, Y: 100, W: 300, H: 200}})
	require.Less(t, code, 300, said)
	code, _ = ines.do("GET", "/api/deliveries/"+taken.Id+"/file", nil)
	assert.Equal(t, 404, code, "it is withdrawn")
	require.Eventually(t, func() bool {
		now, err := os.ReadFile(filepath.Join(dir, "web/Move a lot between rooms/pictures/001.png"))
		return err == nil && !bytes.Equal(now, before)
	}, 5*time.Minute, 30*time.Millisecond)

	// A new title and a new revision: the new one lies there, and the old one does not.
	ines.retitle(id, "Carry a lot", "PR-006")
	assert.Contains(t, strings.Join(there(), "\n"), "Move a lot", "a draft changes nothing")
	code, said = ines.ready(id)
	require.Equal(t, 200, code, said)
	lies("up/dock/PR-006 Carry a lot.txt", "Revision 2")
	require.Eventually(t, func() bool { return !strings.Contains(strings.Join(there(), "\n"), "Move a lot") }, 5*time.Minute, 30*time.Millisecond, "%v", there())

	// The revision that was replaced says so.
	old := ines.delivered(ines.do("POST", "/api/documents/"+id+"/deliveries", map[string]any{"format": "txt", "revision": 1}))
	assert.Contains(t, old, "Move a lot between rooms")
	assert.Contains(t, strings.ToLower(old), "replaced: revision 2 is valid")
	code, _ = ruben.do("POST", "/api/documents/"+id+"/deliveries", map[string]any{"format": "txt", "revision": 1})
	assert.Equal(t, 422, code)

	// Another document of the same name does not take its place.
	other := ines.documents()["Reprint a lot label"]
	ines.retitle(other, "PR-006 Carry a lot", "")
	code, said = ines.ready(other)
	require.Equal(t, 200, code, said)
	code, said = ines.do("POST", "/api/documents/"+other+"/standings", body("txt", "up/dock"))
	require.Equal(t, 201, code, said)
	require.Eventually(t, func() bool {
		_, said = ines.do("GET", "/api/standings", nil)
		return strings.Contains(said, "Another document already has a file named")
	}, 5*time.Minute, 30*time.Millisecond, said)

	var now api.Document
	_, said = ines.do("GET", "/api/documents/"+id, nil)
	require.NoError(t, json.Unmarshal([]byte(said), &now))
	code, _ = ines.do("PUT", "/api/documents/"+id+"/state", map[string]any{"act": "retire", "seq": now.Seq})
	require.Equal(t, 200, code)
	require.Eventually(t, func() bool { return len(there()) == 0 }, 5*time.Minute, 30*time.Millisecond, "what is retired lies nowhere")
	code, _ = ines.do("DELETE", "/api/standings/"+kept.Id, nil)
	assert.Equal(t, 204, code)
	code, _ = ines.do("DELETE", "/api/standings/"+kept.Id, nil)
	assert.Equal(t, 404, code)
}

func TestAFolderIsDeliveredAsItsReaderMaySeeIt(t *testing.T) {
	h := start(t)
	h.Work(t)
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	receiving := ruben.folder("Receiving")
	code, said := ruben.do("POST", "/api/folders/"+receiving+"/deliveries", map[string]any{"format": "txt"})
	require.Equal(t, 202, code, said)
	var d api.Delivery
	require.NoError(t, json.Unmarshal([]byte(said), &d))
	file := ruben.delivered(code, said)
	z, err := zip.NewReader(bytes.NewReader([]byte(file)), int64(len(file)))
	require.NoError(t, err)
	parts := map[string]string{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		data, err := io.ReadAll(r)
		require.NoError(t, err)
		parts[f.Name] = string(data)
	}
	assert.Contains(t, parts["index.html"], "Receive a lot into a cold room")
	receive := ""
	for name := range parts {
		if strings.HasSuffix(name, "Receive a lot into a cold room.txt") {
			receive = name
		}
	}
	assert.Contains(t, parts[receive], "Scan the bin card")
	code, _ = ines.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
	assert.Equal(t, 404, code, "it holds what its owner may read, and is theirs")
	code, _ = ruben.do("POST", "/api/folders/00000000-0000-0000-0000-000000000000/deliveries", map[string]any{"format": "txt"})
	assert.Equal(t, 404, code)
	code, _ = ruben.do("POST", "/api/folders/"+receiving+"/deliveries", map[string]any{"format": "bundle"})
	assert.Equal(t, 403, code)
}
