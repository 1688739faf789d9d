package pdf

import (
	"bytes"
	"context"
	"fmt"

	"raconte/core/refusal"
	"raconte/output"
	"raconte/output/bundle"
)

// mostAttached bounds a bundle in a PDF, in bytes: it is made whole before it is written.
const mostAttached = 200 << 20

// attach puts the bundle of the document into the file (7.11.4), and answers with the entries of the catalog that name
// it.
func (d *drawing) attach(ctx context.Context, in output.Input) (string, error) {
	var data bounded
	in.Progress = func(int, int) {}
	if err := (bundle.Format{}).Write(ctx, &data, in, output.Options{}); err != nil {
		return "", err
	}
	at := d.str(in.Made.UTC().Format("D:20060102150405Z"))
	file := d.stream(0, fmt.Sprintf("/Type/EmbeddedFile/Subtype/application#2Fzip/Params<</Size %d/ModDate%s>>", data.Len(), at), data.Bytes())
	name := d.str("document." + bundle.Format{}.About().Extension)
	spec := d.object(0, fmt.Sprintf("<</Type/Filespec/F%s/UF%s/AFRelationship/Source/Desc%s/EF<</F %d 0 R/UF %d 0 R>>>>", name, name, d.str("The document with its shots, to be imported into Raconte"), file, file))
	return fmt.Sprintf("/Names<</EmbeddedFiles<</Names[%s %d 0 R]>>>>/AF[%d 0 R]", name, spec, spec), nil
}

// bounded is a buffer that takes no more than mostAttached.
type bounded struct{ bytes.Buffer }

func (b *bounded) Write(p []byte) (int, error) {
	if b.Len()+len(p) > mostAttached {
		return 0, refusal.New("The bundle is too large to be attached: it has more than %d MB.", mostAttached>>20)
	}
	return b.Buffer.Write(p)
}
