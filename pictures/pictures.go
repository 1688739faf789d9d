// Package pictures keeps shots and makes pictures from them: previews for those who edit, finished
// pictures for everyone. What it makes is kept by a key of all that went into it, so that it is
// made once and can be thrown away at any time.
package pictures

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"sync"

	"raconte/blobs"
	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/intake"
	"raconte/output/picture"
	"raconte/raster"
	"raconte/store"

	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/semaphore"
	"golang.org/x/sync/singleflight"
)

// look changes whenever pictures are drawn differently, so that kept ones are made anew.
const look = "4"

// PreviewWidth is the most that a preview is wide, in pixels.
const PreviewWidth = 800

// Maker keeps shots and makes pictures.
type Maker struct {
	store  *store.Store
	blobs  *blobs.Bucket
	flight singleflight.Group
	room   *semaphore.Weighted             // megapixels decoded at one time
	recent *lru.Cache[string, *image.RGBA] // pixels of the last shots that came in, to compare the next with
	gate   sync.RWMutex                    // held to read while a blob has no row yet, to write while one is swept
}

// mostAtOnce is how many megapixels are decoded at one time: 4 bytes each, about half a gigabyte.
const mostAtOnce = 120

// mostRecent bounds the pixels kept for comparing: some eight megabytes each on a usual screen.
const mostRecent = 6

// New makes a Maker.
func New(s *store.Store, b *blobs.Bucket) *Maker {
	recent, err := lru.New[string, *image.RGBA](mostRecent)
	if err != nil {
		panic(fmt.Sprintf("pictures: %v", err)) // the size is ours
	}
	return &Maker{store: s, blobs: b, room: semaphore.NewWeighted(mostAtOnce), recent: recent}
}

// File is a picture ready to send. Key names its content: the same key is the same picture.
type File struct {
	Data []byte
	Type string
	Key  string
}

func shotKey(sha string) string      { return "shots/" + sha }
func renditionKey(key string) string { return "renditions/" + key }

// take waits for room to decode a picture.
func (m *Maker) take(ctx context.Context, size figure.Size) (release func(), err error) {
	weight := min(mostAtOnce, int64(size.W)*int64(size.H)/1_000_000+1)
	if err := m.room.Acquire(ctx, weight); err != nil {
		return nil, fmt.Errorf("waiting to decode a picture: %w", err)
	}
	return func() { m.room.Release(weight) }, nil
}

// Arrival is a picture that comes in. Capture is the session it was taken in; nil where there is none.
type Arrival struct {
	ID, Name string
	Data     []byte
	By       string
	Capture  *string
	About    capture.About
}

// Keep takes a picture in under an id. Taking the same again does nothing more. The blob is written
// before the row, so that a crash between them leaves a blob to sweep and never a row without one.
// In a session, the picture is then compared with the one before it.
func (m *Maker) Keep(ctx context.Context, a Arrival) (store.Shot, error) {
	return m.keep(ctx, a, intake.Read)
}

// Restore is Keep for a picture that was kept before, as from a bundle.
func (m *Maker) Restore(ctx context.Context, a Arrival) (store.Shot, error) {
	return m.keep(ctx, a, intake.Restore)
}

func (m *Maker) keep(ctx context.Context, a Arrival, read func([]byte) (intake.Shot, error)) (store.Shot, error) {
	size, err := intake.Measure(a.Data)
	if err != nil {
		return store.Shot{}, err
	}
	release, err := m.take(ctx, size)
	if err != nil {
		return store.Shot{}, err
	}
	defer release()
	taken, err := read(a.Data)
	if err != nil {
		return store.Shot{}, err
	}
	sum := sha256.Sum256(taken.Data)
	if r := []rune(a.Name); len(r) > 200 {
		a.Name = string(r[:200])
	}
	shot := store.Shot{
		ID: a.ID, SHA256: hex.EncodeToString(sum[:]), MediaType: taken.Type, Width: taken.Size.W, Height: taken.Size.H,
		Bytes: int64(len(taken.Data)), Name: a.Name, CreatedBy: a.By, CaptureID: a.Capture,
		About: a.About.Trimmed(), TakenAt: a.About.Taken, Source: a.About.Source,
	}
	if w := shot.About.Window; w != nil {
		shot.WindowTitle = w.Title
	}
	m.gate.RLock()
	defer m.gate.RUnlock()
	if err := m.blobs.Put(ctx, shotKey(shot.SHA256), taken.Data); err != nil {
		return store.Shot{}, err
	}
	if shot, err = m.store.AddShot(ctx, shot); err != nil || shot.CaptureID == nil {
		return shot, err
	}
	m.recent.Add(shot.SHA256, taken.Pixels)
	shot.Verdict, err = m.compare(ctx, shot)
	return shot, err
}

// Original is a shot's file.
func (m *Maker) Original(ctx context.Context, id string) (File, error) {
	shot, err := m.store.Shot(ctx, id)
	if err != nil {
		return File{}, err
	}
	data, err := m.blobs.Get(ctx, shotKey(shot.SHA256))
	return File{data, shot.MediaType, shot.SHA256}, err
}

// Preview is a shot at most PreviewWidth wide.
func (m *Maker) Preview(ctx context.Context, id string) (File, error) {
	shot, err := m.store.Shot(ctx, id)
	if err != nil {
		return File{}, err
	}
	if shot.Width <= PreviewWidth {
		return m.Original(ctx, id)
	}
	return m.rendition(ctx, key("preview", shot.SHA256), func(ctx context.Context) (picture.File, error) {
		return m.flatten(ctx, shot, figure.Figure{Shot: id}, 1, PreviewWidth, raster.Quick)
	})
}

// Smaller is a shot scaled to a width, as a file.
func (m *Maker) Smaller(ctx context.Context, shot store.Shot, width int) ([]byte, error) {
	file, err := m.flatten(ctx, shot, figure.Figure{Shot: shot.ID}, 1, width, raster.Small)
	return file.Data, err
}

// FinishedKey names a finished picture without making it; width 0 is the figure's own size.
func (m *Maker) FinishedKey(ctx context.Context, f figure.Figure, first, width int) (string, store.Shot, error) {
	shot, err := m.store.Shot(ctx, f.Shot)
	if err != nil {
		return "", shot, err
	}
	shas := map[string]string{}
	for _, id := range f.Shots() {
		inset, err := m.store.Shot(ctx, id)
		if err != nil {
			return "", shot, err
		}
		shas[id] = inset.SHA256
	}
	drawn := f.WithShots(func(id string) string { return shas[id] })
	drawn.ID, drawn.Alt = "", "" // what is not drawn does not count
	raw, err := json.Marshal(drawn)
	if err != nil {
		return "", shot, fmt.Errorf("naming a picture: %w", err)
	}
	return key("figure", shot.SHA256, string(raw), fmt.Sprint(first, width)), shot, nil
}

// Finished is a figure's crop and marks on its shot; first is the number of its first marker.
func (m *Maker) Finished(ctx context.Context, f figure.Figure, first, width int) (File, error) {
	name, shot, err := m.FinishedKey(ctx, f, first, width)
	if err != nil {
		return File{}, err
	}
	return m.rendition(ctx, name, func(ctx context.Context) (picture.File, error) {
		return m.flatten(ctx, shot, f, first, width, raster.Small)
	})
}

func key(parts ...string) string {
	h := sha256.New()
	for _, p := range append(parts, look) {
		fmt.Fprintf(h, "%d %s\n", len(p), p)
	}
	return hex.EncodeToString(h.Sum(nil))
}

// rendition is a kept picture, made where it is missing; many who ask at once wait for one.
func (m *Maker) rendition(ctx context.Context, name string, make func(context.Context) (picture.File, error)) (File, error) {
	r, err := m.store.Rendition(ctx, name)
	if err == nil {
		data, err := m.blobs.Get(ctx, renditionKey(name))
		if !errors.Is(err, blobs.ErrNotFound) {
			return File{data, r.MediaType, name}, err
		}
	} else if !errors.Is(err, store.ErrNotFound) {
		return File{}, err
	}
	made, err, _ := m.flight.Do(name, func() (any, error) {
		// The work is shared: it goes on when the first who asked has gone.
		ctx := context.WithoutCancel(ctx)
		file, err := make(ctx)
		if err != nil {
			return File{}, err
		}
		if err := m.blobs.Put(ctx, renditionKey(name), file.Data); err != nil {
			return File{}, err
		}
		return File{file.Data, file.Type, name}, m.store.AddRendition(ctx, name, file.Type)
	})
	if err != nil {
		return File{}, err
	}
	return made.(File), nil
}

func (m *Maker) flatten(ctx context.Context, shot store.Shot, f figure.Figure, first, width int, effort raster.Effort) (picture.File, error) {
	release, err := m.take(ctx, figure.Size{W: shot.Width, H: shot.Height})
	if err != nil {
		return picture.File{}, err
	}
	defer release()
	img, err := m.draw(ctx, f, first, width)
	if err != nil {
		return picture.File{}, err
	}
	return picture.Encode(img, shot.MediaType, effort)
}

// draw makes the finished picture of a figure; the caller has taken room for it.
func (m *Maker) draw(ctx context.Context, f figure.Figure, first, width int) (*image.RGBA, error) {
	pixels := map[string]*image.RGBA{}
	for _, id := range f.Shots() {
		shot, err := m.store.Shot(ctx, id)
		if err != nil {
			return nil, err
		}
		if pixels[id], err = m.pixels(ctx, shot); err != nil {
			return nil, err
		}
	}
	return picture.Flatten(f, pixels, first, width), nil
}

func (m *Maker) pixels(ctx context.Context, shot store.Shot) (*image.RGBA, error) {
	data, err := m.blobs.Get(ctx, shotKey(shot.SHA256))
	if err != nil {
		return nil, err
	}
	img, err := intake.Decode(data)
	if err != nil {
		return nil, fmt.Errorf("the kept shot %s: %w", shot.ID, err)
	}
	return img, nil
}
