package works

import (
	"context"
	"fmt"

	"raconte/core/film"
	"raconte/core/style"
	"raconte/engines/voice"
)

// Say has a text said by the house's synthetic voice, with its words as they are said: a WAV file of one channel. What
// was said once is kept.
func (w *Works) Say(ctx context.Context, text string, language style.Language, pace int) ([]byte, error) {
	all, _, err := w.Store.Setup.Sayings(ctx)
	if err != nil {
		return nil, err
	}
	if w.Speaker == nil {
		return nil, voice.ErrMissing
	}
	if !language.Known() {
		language = style.English // it may stand in the house's own command
	}
	spoken := film.Spoken(text, all)
	file, err := w.Pictures.Kept(ctx, fmt.Sprintf("said %q %q %d %q", w.Speaker.Name(), language, pace, spoken), "audio/wav", func(ctx context.Context) ([]byte, error) {
		return voice.Speak(ctx, w.Speaker, spoken, string(language), pace)
	})
	return file.Data, err
}
