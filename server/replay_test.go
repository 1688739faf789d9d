package server_test

import (
	"encoding/json"
	"fmt"
	"image"
	"testing"
	"time"

	"raconte/api"
	"raconte/core/capture"
	"raconte/core/replay"
	"raconte/core/scene"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// device makes a recorder's token for an account.
func (b browser) device() []string {
	code, body := b.do("POST", "/api/devices", map[string]string{"name": "Recorder"})
	require.Equal(b.t, 201, code, body)
	var made api.NewDevice
	require.NoError(b.t, json.Unmarshal([]byte(body), &made))
	return []string{"Authorization", "Bearer " + made.Token}
}

func TestARunIsGoneThroughAgainByItsOwnerAlone(t *testing.T) {
	h := start(t)
	ines, tomasz, recorder := h.browser(t, "ines"), h.browser(t, "tomasz"), h.browser(t, "")
	hers, his := ines.device(), tomasz.device()
	pixels := uint8(0)
	bring := func(id, run string, more map[string]any, bearer []string) {
		pixels++
		about := map[string]any{"taken": began.Add(time.Duration(pixels) * time.Second), "source": "feed", "window": map[string]any{"title": "Lots", "rect": scene.Rect{W: 300, H: 200}}}
		for k, v := range more {
			about[k] = v
		}
		code, body := recorder.send("PUT", "/api/feed/shots/"+id, about, screenshot(t, 300, 200, pixels, image.Point{}), map[string]string{"run": run, "session": "Run " + run}, bearer...)
		require.Equal(t, 200, code, body)
	}
	did := func(kind, name, text string) map[string]any {
		return map[string]any{"action": map[string]any{"kind": kind, "text": text, "element": map[string]any{"name": name, "role": "textbox", "rect": scene.Rect{X: 10, Y: 10, W: 90, H: 20}}}}
	}
	bring("k1", "run-1", did("keys", "Bins", "1"), hers)
	bring("k2", "run-1", did("keys", "Bins", "18"), hers)
	bring("end", "run-1", map[string]any{"action": map[string]any{"kind": "end"}}, hers)
	bring("plain", "run-2", nil, hers)

	var runs []api.Capture
	code, body := recorder.do("GET", "/api/feed/runs", nil, hers...)
	require.Equal(t, 200, code, body)
	require.NoError(t, json.Unmarshal([]byte(body), &runs))
	names := map[string]bool{}
	for _, r := range runs {
		names[r.Name] = true
	}
	assert.True(t, names["Run run-1"])
	assert.False(t, names["Run run-2"], "nothing is known of what was done in it")

	var run api.Run
	code, body = recorder.do("GET", "/api/feed/runs/run-1?language=de-AT", nil, hers...)
	require.Equal(t, 200, code, body)
	require.NoError(t, json.Unmarshal([]byte(body), &run))
	require.Len(t, run.Steps, 2, "what was typed in one field is one")
	assert.Equal(t, "k2", run.Steps[0].Shot)
	assert.Contains(t, run.Steps[0].Words, "Geben Sie")
	code, _ = recorder.do("GET", "/api/feed/runs/run-1", nil, his...)
	assert.Equal(t, 404, code, "another's run")
	code, _ = ines.do("GET", "/api/feed/runs", nil)
	assert.Equal(t, 401, code, "a session does not open the feed")

	var found replay.Found
	ask := map[string]any{"action": run.Steps[0].Action, "size": run.Steps[0].Size, "seen": map[string]any{
		"size": map[string]int{"w": 300, "h": 200}, "elements": []any{map[string]any{"name": "Number of bins", "role": "textbox", "rect": scene.Rect{X: 10, Y: 10, W: 90, H: 20}}},
	}}
	code, body = recorder.do("POST", "/api/feed/match", ask, hers...)
	require.Equal(t, 200, code, body)
	require.NoError(t, json.Unmarshal([]byte(body), &found))
	assert.Equal(t, capture.FitChanged, found.Fit)
	for name, wrong := range map[string]any{
		"no size":           map[string]any{"action": run.Steps[0].Action, "seen": ask["seen"]},
		"too many elements": map[string]any{"action": run.Steps[0].Action, "size": run.Steps[0].Size, "seen": map[string]any{"size": run.Steps[0].Size, "elements": make([]capture.Element, 3001)}},
	} {
		code, _ = recorder.do("POST", "/api/feed/match", wrong, hers...)
		assert.Contains(t, []int{400, 413}, code, name)
	}

	// A document of the run is offered the last pictures of its owner's checks, of what was found.
	code, body = ines.do("POST", "/api/documents", map[string]string{"title": "Of a run"})
	require.Equal(t, 201, code, body)
	var d api.Summary
	require.NoError(t, json.Unmarshal([]byte(body), &d))
	block := map[string]any{"id": "b1", "order": "00A000", "base": 0, "removed": false, "content": map[string]any{"type": "step", "words": words.Plain("x"), "figures": []any{
		map[string]any{"id": "f1", "shot": "k2", "alt": "", "marks": []any{}}, map[string]any{"id": "f2", "shot": "end", "alt": "", "marks": []any{}},
	}}}
	code, body = ines.do("POST", "/api/documents/"+d.Id+"/changes", map[string]any{"id": "c1", "blocks": []any{block}})
	require.Equal(t, 200, code, body)
	of := func(shot, fit string) map[string]any {
		return map[string]any{"replay": map[string]string{"of": shot, "fit": fit}}
	}
	bring("r1", "check-1", of("k2", "same"), hers)
	bring("r2", "check-1", of("end", "gone"), hers)
	bring("r3", "check-2", of("k2", "moved"), hers)
	bring("r4", "check-3", of("k2", "same"), his)
	var replays []api.Taken
	code, body = ines.do("GET", "/api/documents/"+d.Id+"/replays", nil)
	require.Equal(t, 200, code, body)
	require.NoError(t, json.Unmarshal([]byte(body), &replays))
	require.Len(t, replays, 1)
	assert.Equal(t, "r3", replays[0].Id, "the last, and not another's")
	code, body = recorder.do("GET", "/api/feed/runs", nil, hers...)
	require.Equal(t, 200, code)
	assert.NotContains(t, body, "check-1", "a check is no run")
	about := fmt.Sprintf(`{"taken":%q,"source":"feed","replay":{"of":"a b","fit":"same"}}`, began.Format(time.RFC3339))
	code, _ = recorder.bring("PUT", "/api/feed/shots/odd", json.RawMessage(about), screenshot(t, 300, 200, 99, image.Point{}), hers...)
	assert.Equal(t, 400, code, "whose place it takes is no id")
}
