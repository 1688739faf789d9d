package pictures

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash/crc32"
	"image"
	"io"
	"os"
	"path/filepath"
	"time"

	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/engines/media"
	"raconte/engines/raster"
	"raconte/intake"
	"raconte/output/clip"
	"raconte/output/picture"
	"raconte/platform/blobs"
	"raconte/store"
)

// longestTaking is how long a recording may take to be made ready once it has arrived.
const longestTaking = 10 * time.Minute

func clipKey(sha string) string { return "clips/" + sha }

// KeepClip takes a recording in from a file, and that of the speaker's camera beside it ("" is none). What stands for
// it is a picture of its first second. Taking the same again does nothing more. An error that is a refusal says to
// people why it can't be kept.
func (m *Maker) KeepClip(ctx context.Context, a Arrival, path, camera string) (store.Shot, error) {
	if there, err := m.store.Captures.Shot(ctx, a.ID); err == nil && there.CreatedBy == a.By && there.Recording.Moves() {
		return there, nil // sent again: its answer was lost
	}
	if err := a.About.Check(); err != nil {
		return store.Shot{}, refusal.New("What is told of the recording can't be right: %s.", err)
	}
	ctx, cancel := context.WithTimeout(ctx, longestTaking)
	defer cancel()
	dir, err := os.MkdirTemp("", "raconte-clip-*")
	if err != nil {
		return store.Shot{}, fmt.Errorf("taking a recording: %w", err)
	}
	defer os.RemoveAll(dir)
	if err := m.moves(ctx); err != nil {
		return store.Shot{}, err
	}
	defer m.moved()
	taken, info, err := media.Take(ctx, path, dir)
	if err != nil {
		return store.Shot{}, err
	}
	rec := store.Recording{MediaType: info.Type, Ms: info.Ms, Poster: min(info.Ms/4, 1000), Sounds: info.Sounds}
	size := int64(0)
	if rec.SHA256, size, err = m.keepFile(ctx, taken); err != nil {
		return store.Shot{}, err
	}
	if camera != "" {
		face := filepath.Join(dir, "camera")
		if err := os.Mkdir(face, 0o700); err != nil {
			return store.Shot{}, fmt.Errorf("taking a recording: %w", err)
		}
		beside, _, err := media.Take(ctx, camera, face)
		if err != nil {
			return store.Shot{}, err
		}
		more := int64(0)
		if rec.Camera, more, err = m.keepFile(ctx, beside); err != nil {
			return store.Shot{}, err
		}
		size += more
	}
	poster, err := media.Frame(ctx, taken, rec.Poster, 0)
	if err != nil {
		return store.Shot{}, err
	}
	return m.keepPoster(ctx, a, rec, size, poster)
}

// RestoreClip takes a recording in as it was kept before, as from a bundle: its file, that of the camera ("" is none),
// and the picture that stands for it.
func (m *Maker) RestoreClip(ctx context.Context, a Arrival, rec store.Recording, path, camera string) (store.Shot, error) {
	img, err := intake.Decode(ctx, a.Data)
	if err != nil {
		return store.Shot{}, err
	}
	info, err := media.Probe(ctx, path)
	if errors.Is(err, media.ErrMissing) {
		err = nil // it was made ready where it came from; here nobody can look at it
		info.Ms = rec.Ms
	}
	if err != nil {
		return store.Shot{}, err
	}
	if rec.Ms < 1 || rec.Ms > media.LongestMs || rec.Ms > info.Ms+2000 {
		return store.Shot{}, refusal.New("Its recording is not as long as it is said to be.")
	}
	size, more := int64(0), int64(0)
	if rec.SHA256, size, err = m.keepFile(ctx, path); err == nil && camera != "" {
		rec.Camera, more, err = m.keepFile(ctx, camera)
	}
	if err != nil {
		return store.Shot{}, err
	}
	return m.keepPoster(ctx, a, rec, size+more, img)
}

func (m *Maker) keepPoster(ctx context.Context, a Arrival, rec store.Recording, size int64, img *image.RGBA) (store.Shot, error) {
	var png bytes.Buffer
	if err := raster.EncodePNG(&png, img, raster.Quick); err != nil {
		return store.Shot{}, fmt.Errorf("taking a recording: %w", err)
	}
	data := naming(png.Bytes(), rec.SHA256)
	sum := sha256.Sum256(data)
	about := a.About.Trimmed()
	shot := store.Shot{
		ID: a.ID, SHA256: hex.EncodeToString(sum[:]), MediaType: "image/png", Width: img.Rect.Dx(), Height: img.Rect.Dy(),
		Bytes: int64(len(data)) + size, Name: shotName(a.Name), CreatedBy: a.By, CaptureID: a.Capture,
		About: about, TakenAt: about.Taken, Source: about.Source, Recording: rec,
	}
	if w := about.Window; w != nil {
		shot.WindowTitle = w.Title
	}
	return m.record(ctx, shot, data)
}

// naming is a PNG that names the recording that it stands for (tEXt, "Source"), so that two recordings that begin with
// the same picture are two shots.
func naming(png []byte, sha string) []byte {
	const header = 8 + 25 // the signature and IHDR
	body := append([]byte("tEXtSource\x00"), sha...)
	chunk := binary.BigEndian.AppendUint32(nil, uint32(len(body)-4))
	chunk = append(chunk, body...)
	chunk = binary.BigEndian.AppendUint32(chunk, crc32.ChecksumIEEE(body))
	return append(append(append(make([]byte, 0, len(png)+len(chunk)), png[:header]...), chunk...), png[header:]...)
}

// keepFile keeps a recording's file under its sum.
func (m *Maker) keepFile(ctx context.Context, path string) (sha string, size int64, err error) {
	f, err := os.Open(path)
	if err != nil {
		return "", 0, fmt.Errorf("keeping a recording: %w", err)
	}
	defer f.Close()
	return m.blobs.PutSum(ctx, clipKey(""), f)
}

// movingAtOnce is how many recordings are read or written at the same time.
const movingAtOnce = 2

func (m *Maker) moves(ctx context.Context) error {
	select {
	case m.moving <- struct{}{}:
		return nil
	case <-ctx.Done():
		return ctx.Err()
	}
}

func (m *Maker) moved() { <-m.moving }

// AtOnce does something with a recording or a sound when it is its turn: few are read or written at the same time.
func (m *Maker) AtOnce(ctx context.Context, do func() error) error {
	if err := m.moves(ctx); err != nil {
		return err
	}
	defer m.moved()
	return do()
}

// OpenClip opens a shot's recording, or that of its camera; the caller closes it. It is blobs.ErrNotFound of a still
// picture.
func (m *Maker) OpenClip(ctx context.Context, shot store.Shot, camera bool) (blobs.Blob, error) {
	sha := shot.Recording.SHA256
	if camera {
		sha = shot.Recording.Camera
	}
	if sha == "" {
		return nil, blobs.ErrNotFound
	}
	return m.blobs.Open(ctx, clipKey(sha))
}

// OpenRecording opens a recording by its SHA-256; the caller closes it.
func (m *Maker) OpenRecording(ctx context.Context, sha string) (io.ReadCloser, error) {
	return m.blobs.Open(ctx, clipKey(sha))
}

// fetch writes a recording into a folder, where ffmpeg finds it.
func (m *Maker) fetch(ctx context.Context, sha, dir string) (string, error) {
	if sha == "" {
		return "", nil
	}
	path := filepath.Join(dir, sha)
	return path, m.toFile(ctx, clipKey(sha), path)
}

func (m *Maker) toFile(ctx context.Context, key, path string) error {
	from, err := m.blobs.Open(ctx, key)
	if err != nil {
		return err
	}
	defer from.Close()
	to, err := os.Create(path)
	if err != nil {
		return fmt.Errorf("reading a recording: %w", err)
	}
	_, err = io.Copy(to, from)
	return errors.Join(err, to.Close())
}

// with hands a shot's recording to what reads it.
func (m *Maker) with(ctx context.Context, shot store.Shot, do func(dir, path string) error) error {
	if !shot.Recording.Moves() {
		return refusal.New("This is a still picture.")
	}
	if err := m.moves(ctx); err != nil {
		return err
	}
	defer m.moved()
	dir, err := os.MkdirTemp("", "raconte-clip-*")
	if err != nil {
		return fmt.Errorf("reading a recording: %w", err)
	}
	defer os.RemoveAll(dir)
	path, err := m.fetch(ctx, shot.Recording.SHA256, dir)
	if err != nil {
		return err
	}
	return do(dir, path)
}

// ClipFrame is what is seen at a moment of a shot's recording, in milliseconds, as a PNG.
func (m *Maker) ClipFrame(ctx context.Context, shot store.Shot, at int) (File, error) {
	return m.Kept(ctx, fmt.Sprintf("frame %s %d", shot.Recording.SHA256, at), "image/png", func(ctx context.Context) (data []byte, err error) {
		err = m.with(ctx, shot, func(_, path string) error {
			img, err := media.Frame(ctx, path, at, 0)
			if err != nil {
				return err
			}
			var out bytes.Buffer
			err = raster.EncodePNG(&out, img, raster.Quick)
			data = out.Bytes()
			return err
		})
		return data, err
	})
}

// standing are the pixels of a clip at a moment of its recording.
func (m *Maker) standing(ctx context.Context, shot store.Shot, at int) (*image.RGBA, error) {
	file, err := m.ClipFrame(ctx, shot, at)
	if err != nil {
		return nil, err
	}
	return intake.Decode(ctx, file.Data)
}

// Moments of a recording that its strip shows, and how high they are.
const (
	StripFrames = 24
	stripHeight = 54
)

// ClipStrip is one picture of StripFrames moments of a shot's recording beside each other, as a JPEG.
func (m *Maker) ClipStrip(ctx context.Context, shot store.Shot) (File, error) {
	return m.Kept(ctx, "strip "+shot.Recording.SHA256, "image/jpeg", func(ctx context.Context) (data []byte, err error) {
		err = m.with(ctx, shot, func(_, path string) error {
			data, err = media.Strip(ctx, path, shot.Recording.Ms, StripFrames, stripHeight)
			return err
		})
		return data, err
	})
}

// Moving is a finished clip as it is asked for.
type Moving struct {
	Figure   figure.Figure
	First    int // the number of its first marker
	Form     media.Form
	Look     media.Look
	Progress func(done, all int)
}

// MovingKey names a finished clip without making it.
func (m *Maker) MovingKey(ctx context.Context, w Moving) (string, store.Shot, error) {
	name, err := m.FinishedKey(ctx, w.Figure, w.First, 0)
	if err != nil {
		return "", store.Shot{}, err
	}
	shot, err := m.store.Captures.Shot(ctx, w.Figure.Shot)
	if err != nil {
		return "", shot, err
	}
	raw, err := json.Marshal(w.Look)
	return key("moving", name, shot.Recording.SHA256, w.Form.Name, string(raw)), shot, err
}

// HasMoving tells whether a finished clip has been made.
func (m *Maker) HasMoving(ctx context.Context, key string) bool {
	_, err := m.store.Captures.Rendition(ctx, key)
	return err == nil && m.blobs.Has(ctx, renditionKey(key)) == nil
}

// OpenMoving opens a finished clip that has been made; the caller closes it.
func (m *Maker) OpenMoving(ctx context.Context, key string) (blobs.Blob, error) {
	return m.blobs.Open(ctx, renditionKey(key))
}

// Moving makes a finished clip where it is missing, and answers the key that it is kept by. Many who ask at once wait
// for one.
func (m *Maker) Moving(ctx context.Context, w Moving) (string, error) {
	name, shot, err := m.MovingKey(ctx, w)
	if err != nil || m.HasMoving(ctx, name) {
		return name, err
	}
	_, err = m.making.Do(ctx, name, func(ctx context.Context) (File, error) {
		return File{}, m.with(ctx, shot, func(dir, path string) error {
			r, err := m.request(ctx, w, shot, dir, path)
			if err != nil {
				return err
			}
			made := filepath.Join(dir, "made."+w.Form.Extension)
			if err := r.Make(ctx, made, w.Form, w.Look); err != nil {
				return err
			}
			return m.keepMoving(ctx, name, w.Form, made)
		})
	})
	return name, err
}

func (m *Maker) request(ctx context.Context, w Moving, shot store.Shot, dir, path string) (clip.Request, error) {
	r := clip.Request{Figure: w.Figure, First: w.First, Recording: path, Insets: map[string]*image.RGBA{}, Progress: w.Progress, Rate: w.Look.Rate}
	var err error
	if r.Figure.Clip == nil { // of a shot that was placed before it moved
		r.Figure.Clip = &figure.Clip{Ms: shot.Recording.Ms, Poster: shot.Recording.Poster, Sounds: shot.Recording.Sounds}
	}
	if r.Camera, err = m.fetch(ctx, shot.Recording.Camera, dir); err != nil {
		return r, err
	}
	if sha := r.Figure.Clip.Voice; sha != "" {
		r.Voice = filepath.Join(dir, "voice.wav")
		if err := m.toFile(ctx, "files/"+sha, r.Voice); err != nil {
			return r, err
		}
	}
	for _, id := range w.Figure.Shots()[1:] {
		inset, err := m.store.Captures.Shot(ctx, id)
		if err != nil {
			return r, err
		}
		if r.Insets[id], err = m.pixels(ctx, inset); err != nil {
			return r, err
		}
	}
	return r, nil
}

func (m *Maker) keepMoving(ctx context.Context, name string, form media.Form, path string) error {
	f, err := os.Open(path)
	if err != nil {
		return fmt.Errorf("keeping a clip: %w", err)
	}
	defer f.Close()
	if err := m.blobs.Put(ctx, renditionKey(name), f); err != nil {
		return err
	}
	return m.store.Captures.AddRendition(ctx, name, form.Type)
}

// Fetch writes a part that was kept into a file; false where it is not.
func (m *Maker) Fetch(ctx context.Context, name, path string) (bool, error) {
	if !m.HasMoving(ctx, name) {
		return false, nil
	}
	if err := m.toFile(ctx, renditionKey(name), path); err != nil {
		return false, err
	}
	return true, nil
}

// KeepPart keeps a part of a film for as long as finished pictures are kept.
func (m *Maker) KeepPart(ctx context.Context, name, path string) error {
	return m.keepMoving(ctx, name, media.MP4, path)
}

// Drawn is a figure as it is drawn on its shots, at most width pixels wide; nothing is kept. First is the number of its
// first marker.
func (m *Maker) Drawn(ctx context.Context, f figure.Figure, first, width int) (*image.RGBA, error) {
	now := f.Still(first)
	pixels, release, err := m.load(ctx, now, width)
	if err != nil {
		return nil, err
	}
	defer release()
	return picture.Flatten(ctx, now, pixels, first, width)
}
