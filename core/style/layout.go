package style

import (
	"encoding/json"
	"fmt"
	"strconv"
)

// Layout says how steps are set on a page.
type Layout string

// The layouts, each with its use. The empty one is that of the style.
const (
	Own     Layout = ""
	One     Layout = "one"     // a step to a page: training
	Two     Layout = "two"     // two to a page, pictures wide: careful work
	Four    Layout = "four"    // two by two: the shop floor
	Six     Layout = "six"     // two by three: at a glance
	Running Layout = "running" // words beside pictures, one after the other: manuals
	Bands   Layout = "bands"   // words, with low bands of pictures between them: reference
)

// Layouts are all of them, in the order in which people are offered them.
var Layouts = []Layout{Running, One, Two, Four, Six, Bands}

var grids = map[Layout][2]int{One: {1, 1}, Two: {1, 2}, Four: {2, 2}, Six: {2, 3}, Running: {1, 4}, Bands: {1, 5}}

// Grid is how many columns and rows of steps a page has. Those of running layouts say what a step's share is.
func (l Layout) Grid() (columns, rows int) {
	g := grids[l]
	return g[0], g[1]
}

// Known tells whether there is such a layout.
func (l Layout) Known() bool { _, known := grids[l]; return known }

// Beside tells whether words stand beside pictures, not below or above.
func (l Layout) Beside() bool { return l == Running }

// Runs tells whether steps follow each other without a share of the page each.
func (l Layout) Runs() bool { return l == Running || l == Bands }

// counted are the layouts as they were called until format 6 of documents: by how many steps a page has.
var counted = map[int]Layout{0: Own, 2: Two, 4: Running}

// Called is the layout of a name, or of what people called it until format 6 of documents ("4"). An empty name is that
// of the style.
func Called(name string) (Layout, error) {
	if l := Layout(name); l == Own || l.Known() {
		return l, nil
	}
	if n, err := strconv.Atoi(name); err == nil {
		if l, known := counted[n]; known {
			return l, nil
		}
	}
	return Own, fmt.Errorf("there is no layout %q", name)
}

// UnmarshalJSON reads a layout of any format of documents.
func (l *Layout) UnmarshalJSON(raw []byte) error {
	var n int
	if json.Unmarshal(raw, &n) == nil {
		name, known := counted[n]
		if !known {
			return fmt.Errorf("there is no layout of %d steps to a page", n)
		}
		*l = name
		return nil
	}
	return json.Unmarshal(raw, (*string)(l))
}
