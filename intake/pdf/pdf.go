// Package pdf reads PDF files from outside with poppler, in processes of their own whose time and memory are limited.
package pdf

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"regexp"
	"strconv"
	"strings"
	"time"

	"raconte/core/refusal"
	"raconte/engines/confined"
)

// Limits of a PDF.
const (
	MostBytes  = 100 << 20
	MostPages  = 2000
	mostText   = 64 << 20
	mostPage   = 200_000 // characters of one page that are kept
	mostMemory = 1 << 30 // bytes of one process
	longest    = 60 * time.Second
	pageSide   = 1600 // pixels of a page's longer side
)

var refuse = refusal.New

// About is what a PDF says of itself.
type About struct {
	Title string
	Pages int
}

// address is what browsers call a page that has no title: where it was.
var address = regexp.MustCompile(`^[A-Za-z][A-Za-z0-9+.-]*:\S*$`)

// Check reads what a PDF file says of itself. The error is a refusal where it is none, broken, locked or too large.
func Check(ctx context.Context, file string) (About, error) {
	info, err := os.Stat(file)
	if err != nil {
		return About{}, fmt.Errorf("reading a PDF: %w", err)
	}
	if info.Size() > MostBytes {
		return About{}, refuse("The PDF is larger than %d MB.", MostBytes>>20)
	}
	if err := sniff(file); err != nil {
		return About{}, err
	}
	out, said, err := run(ctx, 1<<20, "pdfinfo", "-enc", "UTF-8", file)
	if err != nil {
		return About{}, told(err, said)
	}
	about := About{}
	for line := range strings.Lines(string(out)) {
		name, value, _ := strings.Cut(line, ":")
		value = strings.TrimSpace(value)
		switch name {
		case "Title":
			if !address.MatchString(value) {
				about.Title = value
			}
		case "Pages":
			about.Pages, _ = strconv.Atoi(value) // checked below
		case "Encrypted":
			if strings.HasPrefix(value, "yes") && strings.Contains(value, "copy:no") {
				return About{}, refuse("The PDF forbids to take its text. Save it without protection and file it again.")
			}
		}
	}
	switch {
	case about.Pages < 1:
		return About{}, refuse("The PDF is broken: it has no pages that can be read.")
	case about.Pages > MostPages:
		return About{}, refuse("The PDF has %d pages; at most %d are filed. Divide it.", about.Pages, MostPages)
	}
	return about, nil
}

func sniff(file string) error {
	f, err := os.Open(file)
	if err != nil {
		return fmt.Errorf("reading a PDF: %w", err)
	}
	defer f.Close()
	head := make([]byte, 1024)
	n, err := io.ReadFull(f, head)
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) && !errors.Is(err, io.EOF) {
		return fmt.Errorf("reading a PDF: %w", err)
	}
	if !bytes.Contains(head[:n], []byte("%PDF-")) {
		return refuse("This is not a PDF.")
	}
	return nil
}

// Texts are the texts of a PDF's pages, in reading order as far as poppler finds it.
func Texts(ctx context.Context, file string, pages int) ([]string, error) {
	texts, err := read(ctx, file)
	if err != nil {
		return nil, err
	}
	cut, err := cropped(ctx, file, pages)
	if err != nil {
		return nil, err
	}
	for _, c := range cut {
		some, err := read(ctx, file, c.only()...)
		if err != nil {
			return nil, err
		}
		for n := c.from; n <= c.to && n <= len(texts); n++ {
			texts[n-1] = ""
			if n-c.from < len(some) {
				texts[n-1] = some[n-c.from]
			}
		}
	}
	all := make([]string, pages)
	for i := range all {
		if i < len(texts) {
			all[i] = strings.ReplaceAll(texts[i], "\x00", "")
			if r := []rune(all[i]); len(r) > mostPage {
				all[i] = string(r[:mostPage])
			}
		}
	}
	return all, nil
}

// Page is a page, counted from 1, as a PNG picture of at most 1600 pixels.
func Page(ctx context.Context, file string, page int) ([]byte, error) {
	n := strconv.Itoa(page)
	out, said, err := run(ctx, 40<<20, "pdftoppm", "-cropbox", "-png", "-singlefile", "-f", n, "-l", n, "-scale-to", strconv.Itoa(pageSide), file)
	if err != nil {
		return nil, told(err, said)
	}
	if len(out) == 0 {
		return nil, refuse("Page %d of the PDF can't be drawn.", page)
	}
	return out, nil
}

// run runs one of poppler's programs; it may write at most so many bytes.
func run(ctx context.Context, most int, name string, args ...string) (out []byte, said string, err error) {
	return confined.Run(ctx, confined.Limits{Memory: mostMemory, Longest: longest, Output: most}, name, args...)
}

// told is what went wrong in words for people, where it is the file's fault.
func told(err error, said string) error {
	var exit *exec.ExitError
	switch {
	case strings.Contains(said, "Incorrect password"):
		return refuse("The PDF is locked by a password. Save it without one and file it again.")
	case errors.Is(err, confined.ErrTooMuch):
		return refuse("The PDF unpacks to more than is allowed.")
	case errors.Is(err, context.Canceled):
		return err
	case errors.Is(err, exec.ErrNotFound):
		return fmt.Errorf("poppler is not installed: %w", err)
	case errors.As(err, &exit):
		return refuse("The PDF is broken, or takes too long to read.")
	}
	return fmt.Errorf("reading a PDF: %w", err)
}
