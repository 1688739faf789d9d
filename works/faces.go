package works

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"

	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/intake"
	"raconte/store"
)

// trainedOnFaces is the cascade of Debian's package opencv-data for faces that look at one.
const trainedOnFaces = "/usr/share/opencv4/haarcascades/haarcascade_frontalface_alt2.xml"

// FindsFaces is what finds faces on this machine; nil where it is not installed.
func FindsFaces() (*sight.Cascade, error) {
	data, err := os.ReadFile(trainedOnFaces)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("reading what finds faces: %w", err)
	}
	return sight.ReadCascade(data)
}

// FacesIn are the places of faces in a shot, in its pixels, once its turn has come; none where nothing finds them.
func (w *Works) FacesIn(ctx context.Context, shot store.Shot) ([]scene.Rect, error) {
	if w.Likeness == nil {
		return nil, nil
	}
	file, done, err := w.inTurn(ctx, shot)
	if err != nil {
		return nil, err
	}
	defer done()
	img, err := intake.Decode(ctx, file.Data)
	if err != nil {
		return nil, err
	}
	var faces []scene.Rect
	for _, r := range w.Likeness.Find(img) {
		faces = append(faces, scene.Rect{X: float64(r.Min.X), Y: float64(r.Min.Y), W: float64(r.Dx()), H: float64(r.Dy())})
	}
	return faces, nil
}
