package works

import (
	"testing"

	"raconte/core/figure"

	"github.com/stretchr/testify/assert"
)

func TestAClipGoesInTheFormThatWasChosenWhereThatIsTaken(t *testing.T) {
	for name, c := range map[string]struct {
		chosen string
		takes  []string
		want   string
	}{
		"as it is best":            {"", []string{"image/png", "image/gif", "video/mp4"}, "mp4"},
		"as it was chosen":         {"gif", []string{"image/png", "image/gif", "video/mp4"}, "gif"},
		"where that is not taken":  {"gif", []string{"video/mp4"}, "mp4"},
		"a picture that stands":    {"gif", []string{"image/png"}, ""},
		"no other than it can be":  {"webm", []string{"image/gif"}, "gif"},
		"of one that is no clip":   {"-", []string{"image/gif"}, ""},
		"webm, where it is chosen": {"webm", []string{"video/mp4", "video/webm"}, "webm"},
	} {
		f := figure.Figure{Clip: &figure.Clip{Ms: 1000, Form: c.chosen}}
		if c.chosen == "-" {
			f.Clip = nil
		}
		form, moves := clipForm(f, c.takes)
		assert.Equal(t, c.want, form.Name, name)
		assert.Equal(t, c.want != "", moves, name)
	}
	assert.Error(t, figure.Figure{ID: "f", Shot: "s", Clip: &figure.Clip{Ms: 1000, Form: "avi"}}.Check())
}
