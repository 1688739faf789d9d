package style

import "errors"

// Quality is how sharp pictures are in print: dots to an inch, and colours, 0 for as many as there are.
type Quality struct {
	DPI    int `json:"dpi,omitempty"`
	Colors int `json:"colors,omitempty"`
}

// Usual is the resolution in print where nobody has chosen one.
const Usual = 250

// Pixels is how many a length in points takes.
func (q Quality) Pixels(points float64) int {
	if q.DPI == 0 {
		q.DPI = Usual
	}
	return int(points / 72 * float64(q.DPI))
}

// Check tells what is wrong with a quality that came from outside; nil where nothing is.
func (q Quality) Check() error {
	if q.DPI != 0 && (q.DPI < 72 || q.DPI > 600) {
		return errors.New("pictures have 72 to 600 dots to an inch")
	}
	if q.Colors != 0 && (q.Colors < 2 || q.Colors > 256) {
		return errors.New("pictures have 2 to 256 colours, or as many as there are")
	}
	return nil
}
