package voice_test

import (
	"os"
	"path/filepath"
	"testing"

	"raconte/core/refusal"
	"raconte/engines/media"
	"raconte/engines/voice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func length(t *testing.T, e voice.Engine, text string, pace int) int {
	data, err := voice.Speak(t.Context(), e, text, "en", pace)
	require.NoError(t, err)
	pcm, err := media.Samples(data)
	require.NoError(t, err)
	return media.Ms(len(pcm))
}

func TestAVoiceKeepsItsPaceAndTakesAnyText(t *testing.T) {
	e := voice.Find("")
	require.NotNil(t, e)
	const text = "Scan the bin card, and check the grower against it."
	usual := length(t, e, text, 100)
	assert.InDelta(t, 3200, usual, 1200)
	assert.Greater(t, length(t, e, text, 60), usual*5/4)
	assert.Greater(t, length(t, e, "--help -v nonsense; $(reboot)", 100), 800, "a text that looks like options is said")
	_, err := voice.Speak(t.Context(), nil, text, "en", 100)
	assert.ErrorIs(t, err, voice.ErrMissing)
}

// TestACommandOfTheHouseSpeaks has one that copies a sound, to its output and to a file that it is told.
func TestACommandOfTheHouseSpeaks(t *testing.T) {
	dir := t.TempDir()
	tone := filepath.Join(dir, "tone.wav")
	pcm := media.Pause(1500)
	for i := range pcm {
		pcm[i] = int16(5000 * (i / 30 % 2))
	}
	require.NoError(t, media.WriteWAV(tone, pcm))
	script := filepath.Join(dir, "say")
	require.NoError(t, os.WriteFile(script, []byte("#!/bin/sh\ncat >"+dir+"/heard\nif [ -n \"$2\" ]; then echo $1 >>"+dir+"/heard; cp "+tone+" \"$2\"; else cat "+tone+"; fi\n"), 0o700))
	for _, command := range []string{script, script + " {language}-{pace} {out}"} {
		assert.InDelta(t, 1500, length(t, voice.Find(command), "Say this", 80), 60, command)
	}
	heard, err := os.ReadFile(filepath.Join(dir, "heard"))
	require.NoError(t, err)
	assert.Equal(t, "Say thisen-80\n", string(heard))
	_, err = voice.Speak(t.Context(), voice.Find("true"), "x", "en", 100)
	_, refused := refusal.Reason(err)
	assert.True(t, refused, "it has said nothing: %v", err)
	_, err = voice.Speak(t.Context(), voice.Find("false"), "x", "en", 100)
	assert.Error(t, err)
}
