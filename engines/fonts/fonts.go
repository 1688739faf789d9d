// Package fonts carries the faces for scripts that the application's own family lacks. The files
// come from npm packages and are packed here by scripts/install; they are too large for the browser's
// first load, so that it fetches them when a text needs one.
package fonts

import (
	"embed"
	"sync"

	"raconte/core/text"
	"raconte/platform/packed"
)

//go:embed *.ttf.br
var files embed.FS

// Files are the font files, by name of the face and ".ttf".
var Files = packed.New(files)

// Names are the faces in Files.
var Names = []string{text.Wide, text.WideBold, text.Han, text.HanBold, text.Arabic, text.ArabicBold, text.Hebrew, text.HebrewBold, text.Emoji}

// Register makes the faces known to core/text, once. Each is read when the first text needs it.
var Register = sync.OnceFunc(func() {
	for _, name := range Names {
		text.Offer(name, func() ([]byte, error) { return Files.Read(name + ".ttf") })
	}
})
