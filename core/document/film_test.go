package document

import (
	"strings"
	"testing"

	"raconte/core/figure"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

func TestHowAFilmIsToldIsCheckedAtItsLimits(t *testing.T) {
	var usual *Film
	assert.NoError(t, usual.Check())
	for _, good := range []Film{{}, {Size: "720p", Captions: "both", Pace: 50, Pause: 10_000}, {Size: "upright", Captions: "none", Pace: 200}} {
		assert.NoError(t, good.Check(), good)
	}
	for _, bad := range []Film{{Size: "8k"}, {Captions: "all"}, {Pace: 49}, {Pace: 201}, {Pace: -1}, {Pause: -1}, {Pause: 10_001}} {
		assert.Error(t, bad.Check(), bad)
	}
	sha := strings.Repeat("a", 64)
	for told, right := range map[*Told]bool{
		nil: true, {}: true, {Show: "in", Said: strings.Repeat("ä", 4000)}: true, {Voice: &Voice{SHA256: sha, Ms: 600_000}}: true,
		{Show: "maybe"}: false, {Said: strings.Repeat("x", 4001)}: false, {Voice: &Voice{SHA256: sha}}: false,
		{Voice: &Voice{SHA256: sha, Ms: 600_001}}: false, {Voice: &Voice{SHA256: "../" + sha[3:], Ms: 10}}: false,
	} {
		assert.Equal(t, right, told.check() == nil, told)
	}
}

func TestVoicesThatAreNotKeptAreLeftOutOfACopyAlone(t *testing.T) {
	one, two := strings.Repeat("1", 64), strings.Repeat("2", 64)
	spoken := NewStep("a", words.Plain("Open."), figure.Figure{ID: "f", Clip: &figure.Clip{Ms: 10, Voice: two}}, figure.Figure{ID: "g", Clip: &figure.Clip{Ms: 10, Voice: one}})
	spoken.Film = &Told{Said: "Open it.", Voice: &Voice{SHA256: one, Ms: 10}}
	d := Document{Blocks: []Block{NewStep("b", words.Plain("Wait.")), spoken}}
	assert.Equal(t, []string{one, two}, d.Voices())
	kept := d.OnlyVoices(func(sha string) bool { return sha == two })
	assert.Equal(t, []string{two}, kept.Voices())
	assert.Equal(t, "Open it.", kept.Blocks[1].Film.Said, "what is said stays")
	assert.Equal(t, []string{one, two}, d.Voices(), "what it was made of keeps them")
}

func TestAnAnswerIsNotSentWithPlacesToFillIn(t *testing.T) {
	reply, wrong := NewPassage("r", words.Plain("Dear {name}, call {phone}. {name}!")), NewPassage("w", words.Plain("It says {error}."))
	reply.Asks, wrong.Asks = Reply, Wrong
	d := Document{Kind: Request, Blocks: []Block{wrong, reply, NewStep("s", words.Plain("Press {key}."))}}
	assert.Equal(t, []string{"name", "phone", "key"}, d.Unfilled(), "what the asker wrote is theirs")
}
