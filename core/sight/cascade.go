package sight

import (
	"encoding/xml"
	"errors"
	"fmt"
	"image"
	"math"
	"slices"
	"strconv"
	"strings"
)

// Cascade finds things of one kind in pictures, as faces that look at one, by a trained cascade of boosted trees of
// rectangle features (P. Viola and M. Jones, Rapid Object Detection using a Boosted Cascade of Simple Features, 2001;
// with trees, R. Lienhart and J. Maydt, 2002).
type Cascade struct {
	w, h     int
	stages   []stageOf
	features []feature
}

type stageOf struct {
	least float64
	trees []tree
}

// tree is a decision tree. A child that is zero or less is a leaf, counted back from 0.
type tree struct {
	nodes  []node
	leaves []float64
}

type node struct {
	left, right, feature int
	threshold            float64
}

type feature []weighed

type weighed struct {
	x, y, w, h int
	weight     float64
}

// ReadCascade reads a cascade as OpenCV writes it (XML, type opencv-cascade-classifier, features HAAR that are not
// tilted).
func ReadCascade(data []byte) (*Cascade, error) {
	var in struct {
		Cascade struct {
			Type   string `xml:"featureType"`
			Height int    `xml:"height"`
			Width  int    `xml:"width"`
			Stages []struct {
				Threshold string `xml:"stageThreshold"`
				Trees     []struct {
					Nodes  string `xml:"internalNodes"`
					Leaves string `xml:"leafValues"`
				} `xml:"weakClassifiers>_"`
			} `xml:"stages>_"`
			Features []struct {
				Rects  []string `xml:"rects>_"`
				Tilted int      `xml:"tilted"`
			} `xml:"features>_"`
		} `xml:"cascade"`
	}
	if err := xml.Unmarshal(data, &in); err != nil {
		return nil, fmt.Errorf("reading a cascade: %w", err)
	}
	c := &Cascade{w: in.Cascade.Width, h: in.Cascade.Height}
	if in.Cascade.Type != "HAAR" || c.w < 8 || c.h < 8 || len(in.Cascade.Stages) == 0 {
		return nil, errors.New("this is no cascade of HAAR features")
	}
	for _, f := range in.Cascade.Features {
		var made feature
		for _, r := range f.Rects {
			n, err := numbers(r, 5)
			if err != nil || f.Tilted != 0 {
				return nil, errors.New("a feature of the cascade can't be read")
			}
			one := weighed{int(n[0]), int(n[1]), int(n[2]), int(n[3]), n[4]}
			if one.x < 0 || one.y < 0 || one.w < 1 || one.h < 1 || one.x+one.w > c.w || one.y+one.h > c.h {
				return nil, errors.New("a feature of the cascade lies outside of its window")
			}
			made = append(made, one)
		}
		c.features = append(c.features, made)
	}
	for _, s := range in.Cascade.Stages {
		least, err := numbers(s.Threshold, 1)
		if err != nil {
			return nil, err
		}
		stage := stageOf{least: least[0]}
		for _, t := range s.Trees {
			made, err := c.tree(t.Nodes, t.Leaves)
			if err != nil {
				return nil, err
			}
			stage.trees = append(stage.trees, made)
		}
		c.stages = append(c.stages, stage)
	}
	return c, nil
}

func (c *Cascade) tree(nodes, leaves string) (tree, error) {
	n, err := numbers(nodes, 0)
	if err != nil {
		return tree{}, err
	}
	values, err := numbers(leaves, 0)
	if err != nil {
		return tree{}, err
	}
	t := tree{leaves: values}
	for i := 0; i+3 < len(n); i += 4 {
		t.nodes = append(t.nodes, node{int(n[i]), int(n[i+1]), int(n[i+2]), n[i+3]})
	}
	for i, one := range t.nodes {
		for _, child := range []int{one.left, one.right} {
			if child <= 0 && -child >= len(t.leaves) || child > 0 && (child <= i || child >= len(t.nodes)) {
				return t, errors.New("a tree of the cascade leads nowhere")
			}
		}
		if one.feature < 0 || one.feature >= len(c.features) {
			return t, errors.New("a tree of the cascade asks for a feature that it has not")
		}
	}
	if len(t.nodes) == 0 {
		return t, errors.New("a tree of the cascade is empty")
	}
	return t, nil
}

// numbers are those of a text; so many, or any number of them where most is 0.
func numbers(s string, many int) ([]float64, error) {
	fields := strings.Fields(s)
	if many > 0 && len(fields) != many {
		return nil, errors.New("the cascade has too many or too few numbers")
	}
	out := make([]float64, len(fields))
	for i, f := range fields {
		v, err := strconv.ParseFloat(f, 64)
		if err != nil {
			return nil, fmt.Errorf("reading a cascade: %w", err)
		}
		out[i] = v
	}
	return out, nil
}

// How a picture is looked through.
const (
	widestLook = 1600 // pixels of its longer side: a larger picture is looked at smaller
	leastLook  = 1.4  // windows are looked at that are so many times as large as that of the training
	lookScale  = 1.15 // from one size of things to the next
	mostAlike  = 0.2  // of its size, that sightings of one thing lie apart
	leastSeen  = 3    // sightings of a thing, so that it is one
)

// Find are the places of the things in a picture, in its pixels, from the top.
func (c *Cascade) Find(img *image.RGBA) []image.Rectangle {
	grey := greyOf(img)
	full := leastLook
	if long := max(grey.w, grey.h); long > widestLook {
		full *= float64(long) / widestLook
	}
	var seen []image.Rectangle
	for scale := full; int(float64(grey.w)/scale) >= c.w && int(float64(grey.h)/scale) >= c.h; scale *= lookScale {
		seen = append(seen, c.look(grey.smaller(scale), scale)...)
	}
	return together(seen)
}

// look finds the things that are as large as the window in a picture that was made smaller by a scale.
func (c *Cascade) look(p plane8, scale float64) []image.Rectangle {
	sums := p.sums()
	laid := c.laid(sums.w)
	var seen []image.Rectangle
	at := func(v int) int { return int(math.Round(float64(v) * scale)) }
	for y := 0; y+c.h <= p.h; y += lookStep {
		for x := 0; x+c.w <= p.w; x += lookStep {
			if c.holds(sums, laid, x, y) {
				seen = append(seen, image.Rect(at(x), at(y), at(x+c.w), at(y+c.h)))
			}
		}
	}
	return seen
}

// lookStep is how many pixels lie from one window to the next.
const lookStep = 2

// corners are where the sums of a rectangle stand, counted from that of the window, and its weight.
type corners struct {
	a, b, c, d int
	weight     float64
}

// laid are the features for sums of a width.
func (c *Cascade) laid(width int) [][]corners {
	all := make([][]corners, len(c.features))
	for i, f := range c.features {
		for _, r := range f {
			top, foot := r.y*width+r.x, (r.y+r.h)*width+r.x
			all[i] = append(all[i], corners{top, top + r.w, foot, foot + r.w, r.weight})
		}
	}
	return all
}

// holds tells whether the window at a place holds the thing. Features are measured by how much the window varies within
// a border of one pixel.
func (c *Cascade) holds(s sums, laid [][]corners, x, y int) bool {
	area := float64((c.w - 2) * (c.h - 2))
	sum := float64(of(s.sum, s.w, x+1, y+1, c.w-2, c.h-2))
	varies := area*float64(of(s.squares, s.w, x+1, y+1, c.w-2, c.h-2)) - sum*sum
	if varies <= area*area*flat {
		return false
	}
	varies = math.Sqrt(varies)
	window := s.sum[y*s.w+x:]
	for _, stage := range c.stages {
		votes := 0.0
		for _, t := range stage.trees {
			at := 0
			for {
				n := t.nodes[at]
				value := 0.0
				for _, r := range laid[n.feature] {
					value += r.weight * float64(window[r.d]-window[r.c]-window[r.b]+window[r.a])
				}
				if at = n.right; value < n.threshold*varies {
					at = n.left
				}
				if at <= 0 {
					break
				}
			}
			votes += t.leaves[-at]
		}
		if votes < stage.least {
			return false
		}
	}
	return true
}

// flat is the variance below which a window shows nothing.
const flat = 16

// together are things of which there are enough sightings, in the middle of these.
func together(seen []image.Rectangle) []image.Rectangle {
	type group struct {
		x, y, w, h, n int
		last          image.Rectangle
	}
	var groups []*group
	for _, r := range seen {
		at := slices.IndexFunc(groups, func(g *group) bool {
			near := mostAlike * float64(min(g.last.Dx(), r.Dx())+min(g.last.Dy(), r.Dy())) / 2
			apart := func(a, b int) bool { return math.Abs(float64(a-b)) > near }
			return !apart(g.last.Min.X, r.Min.X) && !apart(g.last.Min.Y, r.Min.Y) && !apart(g.last.Max.X, r.Max.X) && !apart(g.last.Max.Y, r.Max.Y)
		})
		if at < 0 {
			groups, at = append(groups, &group{}), len(groups)
		}
		g := groups[at]
		g.x, g.y, g.w, g.h, g.n, g.last = g.x+r.Min.X, g.y+r.Min.Y, g.w+r.Dx(), g.h+r.Dy(), g.n+1, r
	}
	var out []image.Rectangle
	for _, g := range groups {
		if g.n >= leastSeen {
			out = append(out, image.Rect(g.x/g.n, g.y/g.n, (g.x+g.w)/g.n, (g.y+g.h)/g.n))
		}
	}
	// What lies within another thing is part of it.
	out = slices.DeleteFunc(slices.Clone(out), func(r image.Rectangle) bool {
		return slices.ContainsFunc(out, func(o image.Rectangle) bool { return o != r && r.In(o) })
	})
	slices.SortFunc(out, func(a, b image.Rectangle) int { return a.Min.Y - b.Min.Y })
	return out
}

// plane8 is a picture in greys.
type plane8 struct {
	w, h int
	pix  []uint8
}

func greyOf(img *image.RGBA) plane8 {
	p := plane8{img.Rect.Dx(), img.Rect.Dy(), make([]uint8, img.Rect.Dx()*img.Rect.Dy())}
	for y := range p.h {
		row := img.Pix[img.PixOffset(img.Rect.Min.X, img.Rect.Min.Y+y):]
		for x := range p.w {
			r, g, b := int(row[4*x]), int(row[4*x+1]), int(row[4*x+2])
			p.pix[y*p.w+x] = uint8((299*r + 587*g + 114*b + 500) / 1000) // the luma of ITU-R BT.601
		}
	}
	return p
}

// smaller is the picture at 1/scale of its size, each pixel the mean of what it stands for.
func (p plane8) smaller(scale float64) plane8 {
	if scale <= 1 {
		return p
	}
	out := plane8{w: int(float64(p.w) / scale), h: int(float64(p.h) / scale)}
	out.pix = make([]uint8, out.w*out.h)
	part := func(i int) (from, to int) {
		from = int(float64(i) * scale)
		return from, max(from+1, int(float64(i+1)*scale))
	}
	for y := range out.h {
		y0, y1 := part(y)
		for x := range out.w {
			x0, x1 := part(x)
			sum, n := 0, (x1-x0)*(y1-y0)
			for v := y0; v < y1; v++ {
				for _, grey := range p.pix[v*p.w+x0 : v*p.w+x1] {
					sum += int(grey)
				}
			}
			out.pix[y*out.w+x] = uint8((sum + n/2) / n)
		}
	}
	return out
}

// sums are those of all pixels above and at the left of each, and of their squares.
type sums struct {
	w       int
	sum     []int32 // of at most widestLook² pixels of 255
	squares []int64
}

func (p plane8) sums() sums {
	s := sums{p.w + 1, make([]int32, (p.w+1)*(p.h+1)), make([]int64, (p.w+1)*(p.h+1))}
	for y := range p.h {
		var row int32
		var squares int64
		for x := range p.w {
			v := int32(p.pix[y*p.w+x])
			row, squares = row+v, squares+int64(v*v)
			at := (y+1)*s.w + x + 1
			s.sum[at], s.squares[at] = s.sum[at-s.w]+row, s.squares[at-s.w]+squares
		}
	}
	return s
}

func of[N int32 | int64](all []N, width, x, y, w, h int) N {
	top, foot := y*width+x, (y+h)*width+x
	return all[foot+w] - all[foot] - all[top+w] + all[top]
}
