package raster

import (
	"bytes"
	"math/bits"
)

// block is how many pixels of a row are looked at together.
const block = 8

// mask is a bit for each block of a row.
type mask []uint64

func newMask(pixels int) mask { return make(mask, ((pixels+block-1)/block+63)/64) }

// compare marks the blocks in which two rows differ, and tells whether any does.
func (m mask) compare(a, b []byte) bool {
	clear(m)
	if bytes.Equal(a, b) {
		return false
	}
	for i := 0; i < len(a); i += 4 * block {
		end := min(i+4*block, len(a))
		if !bytes.Equal(a[i:end], b[i:end]) {
			at := i / (4 * block)
			m[at>>6] |= 1 << (at & 63)
		}
	}
	return true
}

// join marks what another marks, too; nil marks nothing.
func (m mask) join(o mask) {
	for i, v := range o {
		m[i] |= v
	}
}

// each calls for each block that is marked, in order.
func (m mask) each(call func(block int)) {
	for i, word := range m {
		for ; word != 0; word &= word - 1 {
			call(i<<6 + bits.TrailingZeros64(word))
		}
	}
}

// reached are, for each block of a row of source pixels, the results that it goes into: from the first, up to the
// second.
func reached(across []kernel, pixels int) [][2]int {
	all := make([][2]int, (pixels+block-1)/block)
	for i := range all {
		all[i] = [2]int{len(across), 0}
	}
	for x, k := range across {
		for b := k.first / block; b <= (k.first+len(k.weights)-1)/block; b++ {
			all[b][0], all[b][1] = min(all[b][0], x), max(all[b][1], x+1)
		}
	}
	return all
}

// spans are the results that the marked blocks go into, those that touch in one.
func (m mask) spans(reached [][2]int) [][2]int {
	var all [][2]int
	m.each(func(b int) {
		r := reached[b]
		if r[0] >= r[1] {
			return
		}
		if n := len(all); n > 0 && r[0] <= all[n-1][1] {
			all[n-1][1] = max(all[n-1][1], r[1])
			return
		}
		all = append(all, r)
	})
	return all
}
