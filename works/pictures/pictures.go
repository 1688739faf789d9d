// Package pictures keeps shots and makes pictures from them: previews for those who edit, finished
// pictures for everyone. What it makes is kept by a key of all that went into it, so that it is
// made once and can be thrown away at any time.
package pictures

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"log/slog"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/core/text"
	"raconte/engines/raster"
	"raconte/intake"
	"raconte/output/picture"
	"raconte/platform/blobs"
	"raconte/platform/kept"
	"raconte/platform/together"
	"raconte/store"
)

// look changes whenever pictures are drawn differently, so that kept ones are made anew.
const look = "6"

// PreviewWidth is the most that a preview is wide, in pixels.
const PreviewWidth = 800

// Maker keeps shots and makes pictures.
type Maker struct {
	store   *store.Store
	blobs   *blobs.Bucket
	log     *slog.Logger
	making  together.Group[File]
	reading together.Group[*image.RGBA]
	room    *room
	recent  *kept.Cache[*image.RGBA] // pixels of the last shots that came in, to compare the next with
	files   *kept.Cache[File]        // made pictures that were asked for last, by their keys
	sums    *kept.Cache[string]      // of shots, by their ids: a shot never changes
	moving  chan struct{}            // a place for each recording that is being read or written
}

// mostRecent bounds the pixels kept for comparing, in bytes: some 15 of a usual screen.
const mostRecent = 128 << 20

// Bytes of made pictures, and of sums, that are kept in memory.
const (
	mostFiles = 96 << 20
	mostSums  = 4 << 20
)

// New makes a Maker.
func New(s *store.Store, b *blobs.Bucket, log *slog.Logger) *Maker {
	return &Maker{
		store: s, blobs: b, log: log, room: newRoom(), moving: make(chan struct{}, movingAtOnce),
		recent: kept.New(mostRecent, func(img *image.RGBA) int { return len(img.Pix) }),
		files:  kept.New(mostFiles, func(f File) int { return len(f.Data) + 200 }),
		sums:   kept.New(mostSums, func(sum string) int { return len(sum) + 200 }),
	}
}

// File is a picture ready to send. Key names its content: the same key is the same picture.
type File struct {
	Data []byte
	Type string
	Key  string
}

func shotKey(sha string) string      { return "shots/" + sha }
func renditionKey(key string) string { return "renditions/" + key }

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
// In a session, the picture is then compared with the one before it. An error that is a refusal says to people why it
// can't be kept.
func (m *Maker) Keep(ctx context.Context, a Arrival) (store.Shot, error) {
	return m.keep(ctx, a, intake.Read)
}

// Restore is Keep for a picture that was kept before, as from a bundle.
func (m *Maker) Restore(ctx context.Context, a Arrival) (store.Shot, error) {
	return m.keep(ctx, a, intake.Restore)
}

func (m *Maker) keep(ctx context.Context, a Arrival, read func(context.Context, []byte) (intake.Shot, error)) (store.Shot, error) {
	if err := a.About.Check(); err != nil {
		return store.Shot{}, refusal.New("What is told of the shot can't be right: %s.", err)
	}
	size, err := intake.Measure(a.Data)
	if err != nil {
		return store.Shot{}, err
	}
	release, err := m.room.take(ctx, int64(size.W)*int64(size.H))
	if err != nil {
		return store.Shot{}, err
	}
	defer release()
	taken, err := read(ctx, a.Data)
	if err != nil {
		return store.Shot{}, err
	}
	sum := sha256.Sum256(taken.Data)
	shot := store.Shot{
		ID: a.ID, SHA256: hex.EncodeToString(sum[:]), MediaType: taken.Type, Width: taken.Size.W, Height: taken.Size.H,
		Bytes: int64(len(taken.Data)), Name: shotName(a.Name), CreatedBy: a.By, CaptureID: a.Capture,
		About: a.About.Trimmed(), TakenAt: a.About.Taken, Source: a.About.Source,
	}
	if w := shot.About.Window; w != nil {
		shot.WindowTitle = w.Title
	}
	if shot, err = m.record(ctx, shot, taken.Data); err != nil || shot.CaptureID == nil {
		return shot, err
	}
	m.recent.Add(shot.SHA256, taken.Pixels)
	// It is kept already: a neighbour that can't be read leaves it without a verdict, and no more.
	verdict, err := m.compare(ctx, shot)
	if err != nil {
		m.log.Warn("comparing a shot with the one before it", "shot", shot.ID, "error", err)
	}
	shot.Verdict = verdict
	return shot, nil
}

// record writes a shot's blob and then its row.
func (m *Maker) record(ctx context.Context, shot store.Shot, data []byte) (store.Shot, error) {
	if err := m.blobs.Put(ctx, shotKey(shot.SHA256), bytes.NewReader(data)); err != nil {
		return store.Shot{}, err
	}
	return m.store.Captures.AddShot(ctx, shot)
}

// longestName is the most characters that are kept of a file's name.
const longestName = 200

// shotName is a file's name as it is kept: without characters that steer a terminal or the direction of writing.
func shotName(name string) string {
	name = text.Plain(name)
	if r := []rune(name); len(r) > longestName {
		name = string(r[:longestName])
	}
	return name
}

// Open opens a shot's file; the caller closes it.
func (m *Maker) Open(ctx context.Context, shot store.Shot) (blobs.Blob, error) {
	return m.blobs.Open(ctx, shotKey(shot.SHA256))
}

// Original is a shot's file.
func (m *Maker) Original(ctx context.Context, id string) (File, error) {
	shot, err := m.store.Captures.Shot(ctx, id)
	if err != nil {
		return File{}, err
	}
	data, err := m.blobs.Get(ctx, shotKey(shot.SHA256))
	return File{data, shot.MediaType, shot.SHA256}, err
}

// Preview is a shot at most PreviewWidth wide.
func (m *Maker) Preview(ctx context.Context, id string) (File, error) {
	shot, err := m.store.Captures.Shot(ctx, id)
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
func (m *Maker) FinishedKey(ctx context.Context, f figure.Figure, first, width int) (string, error) {
	shas := map[string]string{}
	for _, id := range append(f.Shots(), f.Shot) {
		sum, err := m.sumOf(ctx, id)
		if err != nil {
			return "", err
		}
		shas[id] = sum
	}
	drawn := f.WithShots(func(id string) string { return shas[id] })
	drawn.ID, drawn.Alt = "", "" // what is not drawn does not count
	raw, err := json.Marshal(drawn)
	if err != nil {
		return "", fmt.Errorf("naming a picture: %w", err)
	}
	return key("figure", shas[f.Shot], string(raw), fmt.Sprint(first, width)), nil
}

// sumOf is the SHA-256 of a shot.
func (m *Maker) sumOf(ctx context.Context, id string) (string, error) {
	if sum, known := m.sums.Get(id); known {
		return sum, nil
	}
	shot, err := m.store.Captures.Shot(ctx, id)
	if err == nil {
		m.sums.Add(id, shot.SHA256)
	}
	return shot.SHA256, err
}

// Finished is a figure's crop and marks on its shot; first is the number of its first marker.
func (m *Maker) Finished(ctx context.Context, f figure.Figure, first, width int) (File, error) {
	name, err := m.FinishedKey(ctx, f, first, width)
	if err != nil {
		return File{}, err
	}
	return m.rendition(ctx, name, func(ctx context.Context) (picture.File, error) {
		shot, err := m.store.Captures.Shot(ctx, f.Shot)
		if err != nil {
			return picture.File{}, err
		}
		return m.flatten(ctx, shot, f, first, width, raster.Small)
	})
}

// Ground is of a figure's shot what the figure shows, as large as the shot and with nothing of what is concealed.
func (m *Maker) Ground(ctx context.Context, f figure.Figure) (File, error) {
	name, err := m.FinishedKey(ctx, f, 1, 0)
	if err != nil {
		return File{}, err
	}
	return m.rendition(ctx, key("ground", name), func(ctx context.Context) (picture.File, error) {
		shot, err := m.store.Captures.Shot(ctx, f.Shot)
		if err != nil {
			return picture.File{}, err
		}
		ground := f.Ground()
		pixels, release, err := m.load(ctx, ground, 0)
		if err != nil {
			return picture.File{}, err
		}
		defer release()
		img, err := picture.Flatten(ctx, ground, pixels, 1, 0)
		if err != nil {
			return picture.File{}, err
		}
		for _, o := range f.Visible(figure.Size{W: shot.Width, H: shot.Height}) {
			raster.KeepInside(img, o)
		}
		return picture.Encode(img, "image/png", raster.Quick)
	})
}

func key(parts ...string) string {
	h := sha256.New()
	for _, p := range append(parts, look) {
		fmt.Fprintf(h, "%d %s\n", len(p), p)
	}
	return hex.EncodeToString(h.Sum(nil))
}

// Kept is a picture that is made of something else than a shot, and kept under a name that tells all it was made of.
func (m *Maker) Kept(ctx context.Context, name, mediaType string, make func(context.Context) ([]byte, error)) (File, error) {
	return m.rendition(ctx, nameOf(name), func(ctx context.Context) (picture.File, error) {
		data, err := make(ctx)
		return picture.File{Data: data, Type: mediaType}, err
	})
}

func nameOf(name string) string {
	sum := sha256.Sum256([]byte(name))
	return hex.EncodeToString(sum[:])
}

// rendition is a kept picture, made where it is missing; many who ask at once wait for one.
func (m *Maker) rendition(ctx context.Context, name string, make func(context.Context) (picture.File, error)) (File, error) {
	if file, there := m.files.Get(name); there {
		return file, nil
	}
	r, err := m.store.Captures.Rendition(ctx, name)
	if err == nil {
		data, err := m.blobs.Get(ctx, renditionKey(name))
		if !errors.Is(err, blobs.ErrNotFound) {
			file := File{data, r.MediaType, name}
			if err == nil {
				m.files.Add(name, file)
			}
			return file, err
		}
	} else if !errors.Is(err, store.ErrNotFound) {
		return File{}, err
	}
	return m.making.Do(ctx, name, func(ctx context.Context) (File, error) {
		file, err := make(ctx)
		if err != nil {
			return File{}, err
		}
		if err := m.blobs.Put(ctx, renditionKey(name), bytes.NewReader(file.Data)); err != nil {
			return File{}, err
		}
		return File{file.Data, file.Type, name}, m.store.Captures.AddRendition(ctx, name, file.Type)
	})
}

func (m *Maker) flatten(ctx context.Context, shot store.Shot, f figure.Figure, first, width int, effort raster.Effort) (picture.File, error) {
	img, err := m.Drawn(ctx, f, first, width)
	if err != nil {
		return picture.File{}, err
	}
	return picture.Encode(img, shot.MediaType, effort)
}

// load decodes all shots that a figure shows; they and the finished picture are weighed before the first is. The caller
// releases the room that they take.
func (m *Maker) load(ctx context.Context, f figure.Shown, width int) (pixels map[string]*image.RGBA, release func(), err error) {
	shots := map[string]store.Shot{}
	weight := int64(0)
	for _, id := range f.Shots() {
		shot, err := m.store.Captures.Shot(ctx, id)
		if err != nil {
			return nil, nil, err
		}
		shots[id] = shot
		weight += pixelsOf(shot)
		if id == f.Shot {
			weight += picture.Pixels(f.Figure, figure.Size{W: shot.Width, H: shot.Height}, width)
		}
	}
	if release, err = m.room.take(ctx, weight); err != nil {
		return nil, nil, err
	}
	pixels = map[string]*image.RGBA{}
	for id, shot := range shots {
		if id == f.Shot && f.Moves && f.At != shot.Recording.Poster {
			pixels[id], err = m.standing(ctx, shot, f.At)
		} else {
			pixels[id], err = m.pixels(ctx, shot)
		}
		if err != nil {
			release()
			return nil, nil, err
		}
	}
	return pixels, release, nil
}

func pixelsOf(shot store.Shot) int64 { return int64(shot.Width) * int64(shot.Height) }

// pixels are a shot's; those that several want at once are decoded once. They must not be changed.
func (m *Maker) pixels(ctx context.Context, shot store.Shot) (*image.RGBA, error) {
	return m.reading.Do(ctx, shot.SHA256, func(ctx context.Context) (*image.RGBA, error) {
		data, err := m.blobs.Get(ctx, shotKey(shot.SHA256))
		if err != nil {
			return nil, err
		}
		img, err := intake.Decode(ctx, data)
		if err != nil {
			return nil, fmt.Errorf("the kept shot %s: %w", shot.ID, err)
		}
		return img, nil
	})
}
