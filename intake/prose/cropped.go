package prose

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"
	"strconv"
	"strings"

	"raconte/intake"

	"github.com/beevik/etree"
)

// cropOf is what a drawing cuts off its picture (a:srcRect, ECMA-376 20.1.8.55; in VML cropleft and so on): thousandths
// of a percent from the left, top, right and bottom; "" for nothing.
func cropOf(blip *etree.Element) string {
	var cut [4]int
	any := false
	set := func(i int, thousandths float64) {
		cut[i] = int(max(0, min(100_000, thousandths)))
		any = any || cut[i] > 0
	}
	if blip.Tag == "imagedata" {
		for i, name := range []string{"cropleft", "croptop", "cropright", "cropbottom"} {
			v := blip.SelectAttrValue(name, "")
			if f, is := strings.CutSuffix(v, "f"); is { // parts of 65536
				n, _ := strconv.ParseFloat(f, 64)
				set(i, n/65536*100_000)
			} else if n, err := strconv.ParseFloat(v, 64); err == nil {
				set(i, n*100_000)
			}
		}
	} else if src := blip.Parent().SelectElement("srcRect"); src != nil {
		for i, name := range []string{"l", "t", "r", "b"} {
			v := src.SelectAttrValue(name, "0")
			if p, is := strings.CutSuffix(v, "%"); is {
				n, _ := strconv.ParseFloat(p, 64)
				set(i, n*1000)
			} else if n, err := strconv.ParseFloat(v, 64); err == nil {
				set(i, n)
			}
		}
	}
	if !any {
		return ""
	}
	return fmt.Sprint(cut[0], " ", cut[1], " ", cut[2], " ", cut[3])
}

func readCrop(crop string) (cut [4]int, err error) {
	if _, err := fmt.Sscan(crop, &cut[0], &cut[1], &cut[2], &cut[3]); err != nil {
		return cut, refuse("Its crop can't be read.")
	}
	if cut[0]+cut[2] >= 100_000 || cut[1]+cut[3] >= 100_000 {
		return cut, refuse("Nothing of it is shown.")
	}
	return cut, nil
}

// checkCrop refuses a crop that leaves nothing.
func checkCrop(crop string) error {
	if crop == "" {
		return nil
	}
	_, err := readCrop(crop)
	return err
}

// cropped is a picture without what its author cut off: nobody who has the document has more than they showed.
func cropped(ctx context.Context, data []byte, crop string) ([]byte, error) {
	if crop == "" {
		return data, nil
	}
	cut, err := readCrop(crop)
	if err != nil {
		return nil, err
	}
	img, err := intake.Decode(ctx, data)
	if err != nil {
		return nil, err
	}
	w, h := img.Rect.Dx(), img.Rect.Dy()
	r := image.Rect(w*cut[0]/100_000, h*cut[1]/100_000, w-w*cut[2]/100_000, h-h*cut[3]/100_000)
	if r.Empty() {
		return nil, refuse("Nothing of it is shown.")
	}
	var out bytes.Buffer
	if err := png.Encode(&out, img.SubImage(r)); err != nil {
		return nil, fmt.Errorf("cropping a picture: %w", err)
	}
	return out.Bytes(), nil
}
