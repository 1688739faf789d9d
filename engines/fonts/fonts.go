// Package fonts carries the faces for scripts that the application's own family lacks. The files
// come from npm packages and are copied here by scripts/fonts; they are too large for the browser's
// first load, so that it fetches them when a text needs one.
package fonts

import (
	"embed"
	"fmt"
	"sync"

	"raconte/core/text"
)

// Files are the font files, by name of the face.
//
//go:embed *.ttf
var Files embed.FS

// Names are the faces in Files.
var Names = []string{text.Wide, text.WideBold, text.Han, text.HanBold, text.Arabic, text.ArabicBold, text.Hebrew, text.HebrewBold, text.Emoji}

// Register makes the faces known to core/text, once.
var Register = sync.OnceFunc(func() {
	for _, name := range Names {
		ttf, err := Files.ReadFile(name + ".ttf")
		if err == nil {
			err = text.Register(name, ttf)
		}
		if err != nil {
			panic(fmt.Sprintf("fonts: the built-in face %s: %v", name, err))
		}
	}
})
