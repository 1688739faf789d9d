// Package recorder carries the built recorder for browsers; `make build` makes it.
package recorder

import (
	"archive/zip"
	"embed"
	"fmt"
	"io"
	"io/fs"
	"strings"
)

//go:embed all:dist
var built embed.FS

// WriteZip writes the recorder as a zip whose files lie in a folder, or at the top where that is "". It fails where w
// does.
func WriteZip(w io.Writer, folder string) error {
	z := zip.NewWriter(w)
	err := fs.WalkDir(built, "dist", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := built.ReadFile(path)
		if err != nil {
			return err
		}
		f, err := z.Create(strings.TrimPrefix(folder+path[len("dist"):], "/"))
		if err == nil {
			_, err = f.Write(data)
		}
		return err
	})
	if err != nil {
		return fmt.Errorf("packing the recorder: %w", err)
	}
	return z.Close()
}
