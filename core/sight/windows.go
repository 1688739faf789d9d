package sight

import (
	"image"
	"sort"
)

// The sizes of what is taken for a window, in pixels, and how far its edges may miss each other: corners are round.
const (
	leastWindow = 100
	missing     = 14
	strongEdge  = 10 // of 255, in one channel, between neighbours
	mostWindows = 12
)

// run is a straight edge: at its place across, from one end to the other along.
type run struct{ at, from, to int }

// GuessWindows are rectangles that may be windows, by their strong straight edges, the largest first. It
// is for pictures of a screen whose windows nothing tells.
func GuessWindows(s *image.RGBA) []image.Rectangle {
	size := s.Bounds().Size()
	across := thin(runs(size.Y, size.X, func(y, x int) bool { return y > 0 && edge(s, x, y, x, y-1) }))
	down := runs(size.X, size.Y, func(x, y int) bool { return x > 0 && edge(s, x, y, x-1, y) })
	whole := image.Rect(0, 0, size.X, size.Y)
	var found []image.Rectangle
	for _, top := range across {
		for _, bottom := range across {
			if bottom.at-top.at < leastWindow || off(top.from, bottom.from) > 2*missing || off(top.to, bottom.to) > 2*missing {
				continue
			}
			left, okLeft := side(down, top, bottom, min(top.from, bottom.from))
			right, okRight := side(down, top, bottom, max(top.to, bottom.to))
			if !okLeft || !okRight || right-left < leastWindow {
				continue
			}
			if r := image.Rect(left, top.at, right, bottom.at).Intersect(whole); fresh(found, r) {
				found = append(found, r)
			}
		}
	}
	sort.SliceStable(found, func(i, j int) bool { return area(found[i]) > area(found[j]) })
	return found[:min(len(found), mostWindows)]
}

func edge(s *image.RGBA, x, y, x2, y2 int) bool {
	p, q := s.PixOffset(x, y), s.PixOffset(x2, y2)
	for k := range 3 {
		if off(int(s.Pix[p+k]), int(s.Pix[q+k])) > strongEdge {
			return true
		}
	}
	return false
}

// runs finds the long edges of all lines; a gap of a few pixels does not end one.
func runs(lines, length int, isEdge func(line, at int) bool) []run {
	var out []run
	for line := range lines {
		from, last := -1, -1
		end := func() {
			if from >= 0 && last-from >= leastWindow-2*missing {
				out = append(out, run{line, from, last + 1})
			}
			from = -1
		}
		for at := range length {
			if isEdge(line, at) {
				if from < 0 {
					from = at
				}
				last = at
			} else if from >= 0 && at-last > 3 {
				end()
			}
		}
		end()
	}
	return out
}

// mostRuns bounds the work on a picture that is full of lines: the longest count.
const mostRuns = 400

func thin(all []run) []run {
	sort.SliceStable(all, func(i, j int) bool { return all[i].to-all[i].from > all[j].to-all[j].from })
	return all[:min(len(all), mostRuns)]
}

// side finds the upright edge near x that joins a top to a bottom over most of the way.
func side(down []run, top, bottom run, x int) (int, bool) {
	best, reach := 0, 0
	for _, r := range down {
		if off(r.at, x) > missing {
			continue
		}
		if n := min(r.to, bottom.at) - max(r.from, top.at); n > reach {
			best, reach = r.at, n
		}
	}
	return best, reach*10 >= (bottom.at-top.at-2*missing)*7
}

// fresh tells whether r is not nearly one that was found.
func fresh(found []image.Rectangle, r image.Rectangle) bool {
	for _, f := range found {
		if off(f.Min.X, r.Min.X) <= 8 && off(f.Min.Y, r.Min.Y) <= 8 && off(f.Max.X, r.Max.X) <= 8 && off(f.Max.Y, r.Max.Y) <= 8 {
			return false
		}
	}
	return true
}

func area(r image.Rectangle) int { return r.Dx() * r.Dy() }

func off(a, b int) int { return max(a-b, b-a) }
