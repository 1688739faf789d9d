package docs

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"raconte/core/capture"
	"raconte/core/style"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var path = regexp.MustCompile("`((?:api|cmd|core|docs|engines|intake|output|platform|practice|proof|recorder|scripts|server|store|web|works)/[^`*{} ]*)`")

// trimmed is a path without the name in it that follows a dot, as of core/comment.Pin.
func trimmed(path string) string {
	if i := strings.LastIndex(path, "."); i >= 0 && path[i+1:] != "" && path[i+1] >= 'A' && path[i+1] <= 'Z' {
		return path[:i]
	}
	return path
}

// TestThePagesNameWhatIsThere looks for every file and folder that the pages for people name.
func TestThePagesNameWhatIsThere(t *testing.T) {
	pages, err := filepath.Glob("*.md")
	require.NoError(t, err)
	named := 0
	for _, page := range append(pages, "../README.md") {
		text, err := os.ReadFile(page)
		require.NoError(t, err)
		for _, found := range path.FindAllStringSubmatch(string(text), -1) {
			named++
			_, err := os.Stat(filepath.Join("..", trimmed(found[1])))
			assert.NoError(t, err, "%s names %s", page, found[1])
		}
	}
	assert.Greater(t, named, 60, "paths are recognised")
}

// TestWhoeverKnowsLanguagesKnowsTheSame compares the lists of languages, of which each has a place of its own.
func TestWhoeverKnowsLanguagesKnowsTheSame(t *testing.T) {
	for i, l := range style.Languages {
		tag := string(l.Tag)
		assert.Equal(t, tag, string(capture.Languages[i]))
		for file, as := range map[string]string{"engines/voice/voice.go": `"` + tag + `":`, "engines/media/join.go": `"` + tag + `":`, "web/src/base/core/capture.ts": " " + tag + ":"} {
			text, err := os.ReadFile(filepath.Join("..", file))
			require.NoError(t, err)
			assert.True(t, strings.Contains(string(text), as), "%s does not know %s", file, l.Name)
		}
	}
	assert.Len(t, capture.Languages, len(style.Languages))
}
