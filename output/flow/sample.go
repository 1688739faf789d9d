package flow

import (
	"bytes"
	"context"
	"image"
	"image/png"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"
	"raconte/output"
	"raconte/output/picture"
)

// Sample is a small document that has one of everything: templates are tried with it when they are kept.
func Sample() output.Input {
	warned := document.NewStep("b", words.Plain("Open the valve."))
	warned.Notice = &document.Notice{Signal: document.Danger, Hazard: "Ammonia is poisonous.", Avoid: "Wear the mask."}
	warned.Critical, warned.Seconds = true, 60
	warned.Beside = []document.WebLink{{Address: "https://films.example/valve", Title: "The valve", Film: true}}
	d := document.Document{ID: "sample", Kind: document.Procedure, Facts: document.Facts{Title: "A document to try"}, Blocks: []document.Block{
		document.NewPassage("p", words.Plain("Before you begin.")),
		document.NewSection("s", 1, words.Plain("At the dock")),
		document.NewStep("a", words.Plain("Scan the lot card."), figure.Figure{ID: "f", Shot: "shot"}),
		document.NewSection("t", 2, words.Plain("In the cold room")), warned,
	}}
	d.Facts.Notice = &document.Notice{Signal: document.Damage, Hazard: "Labels tear when wet."}
	var buf bytes.Buffer
	_ = png.Encode(&buf, image.NewGray(image.Rect(0, 0, 16, 9))) // into memory, which does not fail
	file := picture.File{Data: buf.Bytes(), Type: "image/png"}
	return output.Input{
		Story: story.Of(d, nil, nil), Edition: output.Edition{Style: style.Default(), Address: "http://127.0.0.1/d/sample", Draft: true},
		Progress: func(int, int) {},
		Picture:  func(context.Context, string, int) (picture.File, error) { return file, nil },
	}
}
