package receivers

import (
	"bytes"
	"context"
	"errors"

	"raconte/platform/blobs"
)

// folder is a place of the house.
type folder struct{ bucket *blobs.Bucket }

// Open is always.
func (f folder) Open(context.Context) (bool, error) { return true, nil }

// Send puts the text and the files into a folder named by the first sending.
func (f folder) Send(ctx context.Context, p Parcel, kept Kept) error {
	made := Made{Number: or(p.Number, p.ID)}
	for i, file := range filesOf(p) {
		if err := f.bucket.Put(ctx, "reports/"+made.Number+"/"+file.Name, bytes.NewReader(file.Data)); err != nil {
			return errors.Join(Busy{Why: "The place can’t be written to."}, err)
		}
		if err := kept(made, i+1); err != nil {
			return err
		}
	}
	return nil
}
