package sight

import (
	"fmt"
	"hash/maphash"
	"image"
)

// Stitch joins pictures of one area that was scrolled down between them into one long picture. What stays in
// place at the top and at the bottom, such as the heads of a table, is in it once. Overlaps are found
// by content. A picture that shows nothing new is left out.
//
// NoOverlap is the error where two neighbours share nothing.
func Stitch(shots []*image.RGBA) (*image.RGBA, error) {
	if len(shots) == 0 {
		return nil, fmt.Errorf("there is nothing to join")
	}
	size := shots[0].Bounds().Size()
	var prints []rowPrints
	var kept []*image.RGBA
	for i, s := range shots {
		if s.Bounds().Size() != size {
			return nil, fmt.Errorf("picture %d has another size than the first", i+1)
		}
		p := printRows(s)
		if len(prints) > 0 && still(prints[len(prints)-1], p) {
			continue
		}
		prints, kept = append(prints, p), append(kept, s)
	}
	head, foot := size.Y, size.Y
	for i := 1; i < len(prints); i++ {
		h, f := fixed(prints[i-1], prints[i])
		head, foot = min(head, h), min(foot, f)
	}
	shifts, height := make([]int, len(prints)), size.Y
	for i := 1; i < len(prints); i++ {
		shifts[i] = shift(prints[i-1], prints[i], head, size.Y-foot)
		if shifts[i] == 0 {
			return nil, NoOverlap{i + 1}
		}
		height += shifts[i]
	}
	if len(prints) == 1 {
		return kept[0], nil
	}
	out := image.NewRGBA(image.Rect(0, 0, size.X, height))
	y := 0
	put := func(s *image.RGBA, from, to int) {
		for ; from < to; from++ {
			copy(out.Pix[y*out.Stride:(y+1)*out.Stride], s.Pix[from*s.Stride:from*s.Stride+4*size.X])
			y++
		}
	}
	put(kept[0], 0, size.Y-foot)
	for i := 1; i < len(kept); i++ {
		put(kept[i], size.Y-foot-shifts[i], size.Y-foot)
	}
	put(kept[len(kept)-1], size.Y-foot, size.Y)
	return out, nil
}

// NoOverlap says that a picture, counted from 1, shares nothing with the one before it.
type NoOverlap struct{ Picture int }

func (e NoOverlap) Error() string {
	return fmt.Sprintf("picture %d shares nothing with the one before it: scroll less far between them", e.Picture)
}

// strips is how many parts a row is compared in, so that a moving scroll bar spoils one part only.
const strips = 8

// rowPrints are fingerprints of each part of each row. Plain parts, which look the same in many rows, tell
// nothing and are marked.
type rowPrints struct {
	print []uint64
	plain []bool
	rows  int
}

var seed = maphash.MakeSeed()

func printRows(s *image.RGBA) rowPrints {
	size := s.Bounds().Size()
	p := rowPrints{make([]uint64, size.Y*strips), make([]bool, size.Y*strips), size.Y}
	for y := range size.Y {
		row := s.Pix[y*s.Stride : y*s.Stride+4*size.X]
		for k := range strips {
			part := row[4*(k*size.X/strips) : 4*((k+1)*size.X/strips)]
			p.print[y*strips+k] = maphash.Bytes(seed, part)
			p.plain[y*strips+k] = isPlain(part)
		}
	}
	return p
}

func isPlain(part []byte) bool {
	for i := 4; i < len(part); i++ {
		if part[i] != part[i-4] {
			return false
		}
	}
	return true
}

// same tells whether row y of a is row z of b, but for one part.
func (a rowPrints) same(y int, b rowPrints, z int) bool {
	differ := 0
	for k := range strips {
		if a.print[y*strips+k] != b.print[z*strips+k] {
			differ++
		}
	}
	return differ <= 1
}

func still(a, b rowPrints) bool {
	for y := range a.rows {
		if !a.same(y, b, y) {
			return false
		}
	}
	return true
}

// fixed is how many rows at the top and at the bottom stay in place.
func fixed(a, b rowPrints) (head, foot int) {
	for head < a.rows && a.same(head, b, head) {
		head++
	}
	for foot < a.rows-head && a.same(a.rows-1-foot, b, a.rows-1-foot) {
		foot++
	}
	return head, foot
}

// leastTelling is how many telling parts must agree before an overlap is believed.
const leastTelling = 16

// shift is by how many rows b is scrolled on from a, between the rows head and end; 0 where they share nothing.
func shift(a, b rowPrints, head, end int) int {
	best, bestShare := 0, 0.75
	for by := 1; by < end-head; by++ {
		agree, telling := 0, 0
		for y := head; y+by < end; y++ {
			for k := range strips {
				i, j := (y+by)*strips+k, y*strips+k
				if a.plain[i] && b.plain[j] {
					continue
				}
				telling++
				if a.print[i] == b.print[j] {
					agree++
				}
			}
			if telling > 200 && agree*2 < telling {
				break
			}
		}
		if share := float64(agree) / float64(max(telling, 1)); telling >= leastTelling && share > bestShare {
			best, bestShare = by, share
		}
	}
	return best
}
