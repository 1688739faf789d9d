package main

import (
	"os"
	"path/filepath"
	"testing"

	"raconte/engines/media"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestAFilmIsMadeOfABundle makes all that there is of one, by the endings; only what changed is made again.
func TestAFilmIsMadeOfABundle(t *testing.T) {
	dir, ready, _ := bundles(t)
	at := func(name string) string { return filepath.Join(dir, name) }
	words := at("words.json")
	require.NoError(t, os.WriteFile(words, []byte(`[{"word": "Room", "said": "cold store"}]`), 0o600))
	film := func(out string, more ...string) {
		code, _, stderr := raconte(t, append([]string{"film", ready, "-o", out, "--steps", "1-2", "--size", "720p", "--parts", at("parts"), "--words", words}, more...)...)
		require.Zero(t, code, stderr)
	}
	film(at("a.mp4"))
	info, err := media.Probe(t.Context(), at("a.mp4"))
	require.NoError(t, err)
	assert.Equal(t, [3]any{1280, 720, true}, [3]any{info.Width, info.Height, info.Sounds})
	made, err := os.ReadDir(at("parts"))
	require.NoError(t, err)
	film(at("b.mp4"), "--pace", "150")
	faster, err := media.Probe(t.Context(), at("b.mp4"))
	require.NoError(t, err)
	assert.Less(t, faster.Ms, info.Ms)
	film(at("a.mp4"))
	again, err := os.ReadDir(at("parts"))
	require.NoError(t, err)
	assert.Less(t, len(again), 2*len(made), "what looks the same is the same part at every pace")
	film(at("a.vtt"))
	film(at("a.txt"))
	film(at("a.m4a"))
	captions, err := os.ReadFile(at("a.vtt"))
	require.NoError(t, err)
	assert.Contains(t, string(captions), "WEBVTT")
	for name, wrong := range map[string][]string{
		"an ending that is no film's": {"-o", at("a.avi")}, "a pace that nobody can follow": {"-o", at("c.mp4"), "--pace", "900"},
		"a step that is not there": {"-o", at("c.mp4"), "--steps", "99"}, "a list that is none": {"-o", at("c.mp4"), "--words", ready},
	} {
		code, _, stderr := raconte(t, append([]string{"film", ready}, wrong...)...)
		assert.Equal(t, exitUsage, code, name)
		assert.NotEmpty(t, stderr, name)
	}
	assert.NoFileExists(t, at("c.mp4"))
}
