package pdf

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// read are the texts of pages as pdftotext gives them.
func read(ctx context.Context, file string, args ...string) ([]string, error) {
	out, said, err := run(ctx, mostText, "pdftotext", append(args, "-enc", "UTF-8", "-eol", "unix", file, "-")...)
	if err != nil {
		return nil, told(err, said)
	}
	return strings.Split(strings.ToValidUTF8(string(out), "\uFFFD"), "\f"), nil
}

// crop is a run of pages of which their author cut something off (CropBox, ISO 32000-1 14.11.2), all alike.
type crop struct {
	from, to   int
	x, y, w, h float64 // of what is left, in points from the upper left corner of the whole page as it is turned
}

// mostCrops is how many runs of pages may be cut each in another way.
const mostCrops = 40

// only are pdftotext's words for what is left of the pages: it reads all of a page otherwise, whatever box it is shown
// by.
func (c crop) only() []string {
	n := func(v float64) string { return strconv.Itoa(int(math.Ceil(v))) }
	return []string{"-f", strconv.Itoa(c.from), "-l", strconv.Itoa(c.to), "-r", "72", "-x", n(c.x), "-y", n(c.y), "-W", n(c.w), "-H", n(c.h)}
}

// cropped are the runs of pages of which something was cut off.
func cropped(ctx context.Context, file string, pages int) ([]crop, error) {
	out, said, err := run(ctx, mostText, "pdfinfo", "-box", "-f", "1", "-l", strconv.Itoa(pages), file)
	if err != nil {
		return nil, told(err, said)
	}
	var all []crop
	var media [4]float64
	turned := 0
	for lines := bufio.NewScanner(bytes.NewReader(out)); lines.Scan(); {
		var page, rot int
		var box [4]float64
		line := strings.Join(strings.Fields(lines.Text()), " ")
		if n, _ := fmt.Sscanf(line, "Page %d rot: %d", &page, &rot); n == 2 {
			turned = rot
		}
		if n, _ := fmt.Sscanf(line, "Page %d MediaBox: %f %f %f %f", &page, &box[0], &box[1], &box[2], &box[3]); n == 5 {
			media = box
		}
		if n, _ := fmt.Sscanf(line, "Page %d CropBox: %f %f %f %f", &page, &box[0], &box[1], &box[2], &box[3]); n != 5 || box == media {
			continue
		}
		left, foot, right, top := box[0]-media[0], box[1]-media[1], media[2]-box[2], media[3]-box[3]
		w, h := box[2]-box[0], box[3]-box[1]
		c := map[int]crop{0: {0, 0, left, top, w, h}, 90: {0, 0, foot, left, h, w}, 180: {0, 0, right, foot, w, h}, 270: {0, 0, top, right, h, w}}[turned]
		c.from, c.to = page, page
		if last := len(all) - 1; last >= 0 && all[last].to == page-1 && all[last].x == c.x && all[last].y == c.y && all[last].w == c.w && all[last].h == c.h {
			all[last].to = page
			continue
		}
		if all = append(all, c); len(all) > mostCrops {
			return nil, refuse("The pages of this PDF are cut in more than %d ways. Print it into a new PDF and file that.", mostCrops)
		}
	}
	return all, nil
}
