// Package difference says what has changed between two states of a document: steps added, removed, moved and reworded,
// word by word; pictures and facts changed. It knows nothing of pixels.
package difference

import (
	"cmp"
	"reflect"
	"slices"

	"raconte/core/document"
	"raconte/core/words"
)

// Change is a way in which a block is another.
type Change string

// The ways.
const (
	Added    Change = "added"
	Removed  Change = "removed"
	Moved    Change = "moved"
	Reworded Change = "reworded"
	Restyled Change = "restyled" // the same words, set in another way
	Pictures Change = "pictures"
	Notice   Change = "notice"
	About    Change = "about" // its time, links, level, or whether it is critical
)

// Difference is what has changed, in the order of the later state; what was removed stands where it stood.
type Difference struct {
	Facts  []Fact         `json:"facts"`
	Blocks []Block        `json:"blocks"`
	Counts map[Change]int `json:"counts"` // blocks by the ways in which they are others
}

// Fact is something that is said of the document, or a block, and is another.
type Fact struct {
	Name   string `json:"name"`
	Before string `json:"before"`
	After  string `json:"after"`
}

// Block is a block in both states, or in one. One that is as it was has no changes.
type Block struct {
	Before   string        `json:"before"` // its id; "" where it was not there
	After    string        `json:"after"`  // its id; "" where it is not there any more
	Type     document.Type `json:"type"`
	Was      string        `json:"was"`    // how it was numbered
	Number   string        `json:"number"` // how it is
	Label    string        `json:"label"`
	Changes  []Change      `json:"changes"`
	Words    []Piece       `json:"words"` // of what is new, gone or reworded
	Pictures []Picture     `json:"pictures"`
	Facts    []Fact        `json:"facts"`
}

// Picture is a picture in both states, or in one, that is another.
type Picture struct {
	Before string `json:"before"` // the figure's id; "" where it was not there
	After  string `json:"after"`
	Shot   bool   `json:"shot"` // it shows another shot
	Alt    bool   `json:"alt"`  // what stands for it is another, and nothing else
}

// Of compares two states of a document.
func Of(before, after document.Document) Difference {
	d := Difference{Facts: facts(before.Facts, after.Facts), Blocks: []Block{}, Counts: map[Change]int{}}
	was, is := before.Numbers(), after.Numbers()
	pairs := paired(before.Blocks, after.Blocks) // the place in before, by that in after
	moved := outOfOrder(pairs)
	removed := gone(pairs, len(before.Blocks))
	leave := func(until int) { // what was removed stands before what stood after it
		for len(removed) > 0 && removed[0] < until {
			b := before.Blocks[removed[0]]
			removed = removed[1:]
			out := Block{Before: b.ID, Type: b.Type, Was: was.Blocks[b.ID], Label: b.Label(), Changes: []Change{Removed}, Words: apart(reading(b, was), ""), Pictures: []Picture{}, Facts: []Fact{}}
			for _, f := range b.Figures {
				out.Pictures = append(out.Pictures, Picture{Before: f.ID})
			}
			d.Blocks = append(d.Blocks, out)
		}
	}
	for i, b := range after.Blocks {
		at := pairs[i]
		out := Block{After: b.ID, Type: b.Type, Number: is.Blocks[b.ID], Label: b.Label(), Changes: []Change{}, Words: []Piece{}, Pictures: []Picture{}, Facts: []Fact{}}
		if at < 0 {
			out.Changes = append(out.Changes, Added)
			out.Words = apart("", reading(b, is))
			for _, f := range b.Figures {
				out.Pictures = append(out.Pictures, Picture{After: f.ID})
			}
		} else {
			if !moved[i] {
				leave(at)
			}
			old := before.Blocks[at]
			out.Before, out.Was = old.ID, was.Blocks[old.ID]
			if moved[i] {
				out.Changes = append(out.Changes, Moved)
			}
			compare(&out, old, b, reading(old, was), reading(b, is))
		}
		d.Blocks = append(d.Blocks, out)
	}
	leave(len(before.Blocks))
	for _, b := range d.Blocks {
		for _, c := range b.Changes {
			d.Counts[c]++
		}
	}
	return d
}

// Same tells whether nothing has changed.
func (d Difference) Same() bool { return len(d.Facts) == 0 && len(d.Counts) == 0 }

// OfWords are the words of a block against others that it could have instead, word by word.
func OfWords(b document.Block, before, after words.Node, n document.Numbers) []Piece {
	old, now := b, b
	old.Words, now.Words = before, after
	return apart(reading(old, n), reading(now, n))
}

// reading are the words of a block as they are read, markers by their numbers.
func reading(b document.Block, n document.Numbers) string {
	numbers := map[string]int{}
	for id, tag := range n.Tags(b.Figures) {
		numbers[id] = tag.Number
	}
	return b.Words.Reading(numbers)
}

// compare says in which ways a block that was there is another.
func compare(out *Block, old, now document.Block, was, is string) {
	say := func(c Change) { out.Changes = append(out.Changes, c) }
	switch {
	case was != is:
		say(Reworded)
		out.Words = apart(was, is)
	case !reflect.DeepEqual(old.Words, now.Words):
		say(Restyled)
		out.Words = apart(is, is)
	}
	if out.Pictures = pictures(old.Figures, now.Figures); len(out.Pictures) > 0 {
		say(Pictures)
	}
	if before, after := said(old.Notice), said(now.Notice); before != after {
		say(Notice)
		out.Facts = append(out.Facts, Fact{"notice", before, after})
	}
	about := len(out.Facts)
	for _, f := range []Fact{
		{"time", seconds(old.Seconds), seconds(now.Seconds)}, {"critical", yes(old.Critical), yes(now.Critical)},
		{"links", links(old.Beside), links(now.Beside)}, {"leads to", old.Document, now.Document},
		{"revision", revision(old.Revision), revision(now.Revision)}, {"film", told(old.Film), told(now.Film)}, {"level", level(old), level(now)},
	} {
		if f.Before != f.After {
			out.Facts = append(out.Facts, f)
		}
	}
	if len(out.Facts) > about {
		say(About)
	}
}

// gone are the places of blocks that have no pair.
func gone(pairs []int, before int) []int {
	var all []int
	for i := range before {
		if !slices.Contains(pairs, i) {
			all = append(all, i)
		}
	}
	return all
}

// outOfOrder tells which blocks have moved: as few as explain the new order, which are all that are not in the longest
// part of it that goes up.
func outOfOrder(pairs []int) []bool {
	moved := make([]bool, len(pairs))
	var ends []int // of the best part of each length, its last place in pairs
	from := make([]int, len(pairs))
	for i, at := range pairs {
		if at < 0 {
			continue
		}
		n, _ := slices.BinarySearchFunc(ends, at, func(end, at int) int { return cmp.Compare(pairs[end], at) })
		if from[i] = -1; n > 0 {
			from[i] = ends[n-1]
		}
		if n == len(ends) {
			ends = append(ends, i)
		} else {
			ends[n] = i
		}
		moved[i] = true
	}
	if len(ends) > 0 {
		for i := ends[len(ends)-1]; i >= 0; i = from[i] {
			moved[i] = false
		}
	}
	return moved
}
