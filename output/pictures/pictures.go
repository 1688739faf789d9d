// Package pictures writes the finished pictures of a document alone: numbered files, named by the steps that show them.
package pictures

import (
	"context"
	"fmt"
	"io"
	"strings"

	"raconte/core/text"
	"raconte/output"
	"raconte/output/flow"
)

// Format is a folder of pictures.
type Format struct{}

// About names it.
func (Format) About() output.About {
	return output.About{Name: "pictures", Title: "Pictures only", Extension: "zip", MediaType: "application/zip", Main: "pictures.txt"}
}

// Write makes the folder. A list of what stands for each picture lies beside them.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	d := flow.Read(ctx, in, o)
	folder := flow.NewFolder(w, in.Made)
	list := d.Title + "\n\n"
	n := 0
	for _, b := range d.Blocks {
		for _, p := range b.Pictures {
			if err := ctx.Err(); err != nil {
				return err
			}
			file, err := p.File()
			if err != nil {
				return err
			}
			n++
			name := fmt.Sprintf("%03d%s.%s", n, named(b), flow.Extension(file))
			if err := folder.Put(name, file.Data, true); err != nil {
				return err
			}
			list += fmt.Sprintf("%s\t%s\n", name, strings.ReplaceAll(p.Alt, "\n", " "))
		}
	}
	if err := folder.Put("pictures.txt", []byte(list), false); err != nil {
		return err
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	return folder.Close()
}

// named is what a picture is called after its number: its step, and how that begins.
func named(b flow.Block) string {
	said := text.Plain(b.Title)
	if b.Step() {
		said = b.Number + " " + said
	}
	said = strings.Map(func(r rune) rune {
		if strings.ContainsRune(`\/:*?"<>|.`, r) || r < ' ' {
			return ' '
		}
		return r
	}, said)
	letters := []rune(strings.Join(strings.Fields(said), " "))
	if len(letters) == 0 {
		return ""
	}
	return " " + strings.TrimSpace(string(letters[:min(40, len(letters))]))
}
