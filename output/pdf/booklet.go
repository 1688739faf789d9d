package pdf

// side is a page of the file while it is drawn on.
type side struct {
	id    int // its object
	w, h  float64
	b     []byte         // its content
	used  map[string]int // fonts, pictures and states, by their names on it
	notes []int          // annotations
}

// folded says on which side of the paper pages stand.
type folded struct {
	booklet bool
	sides   int
	places  []place
}

type place struct {
	side  int
	right bool
}

// folds places n pages: each on a side of its own, or as a booklet, two on a side in the order in which sheets that lie
// in each other are folded. Both sides of a sheet come after each other, turned over at their short edge.
func folds(n int, booklet bool) folded {
	f := folded{booklet: booklet, sides: n}
	if !booklet {
		for i := range n {
			f.places = append(f.places, place{side: i})
		}
		return f
	}
	whole := (n + 3) / 4 * 4
	f.sides = whole / 2
	for i := range n {
		outer := min(i, whole-1-i) // the side, from the outermost page
		f.places = append(f.places, place{outer, i%2 == 0})
	}
	return f
}

// sideOf is the side that a page stands on.
func (d *drawing) sideOf(page int) *side { return d.sides[d.folded.places[page].side] }
