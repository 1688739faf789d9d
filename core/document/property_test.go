package document

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"raconte/core/figure"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// some is a document of blocks in any order; every step refers to another one.
func some(random *rand.Rand, kind Kind) Document {
	d := Document{ID: "d", Kind: kind, Facts: Facts{Title: "T", Counting: []Counting{Through, Anew}[random.IntN(2)]}}
	n := 1 + random.IntN(30)
	for i := range n {
		id := fmt.Sprint("b", i)
		switch random.IntN(6) {
		case 0:
			d.Blocks = append(d.Blocks, NewSection(id, 1, words.Plain("One")))
		case 1:
			d.Blocks = append(d.Blocks, NewSection(id, 2, words.Plain("Two")))
		case 2:
			d.Blocks = append(d.Blocks, NewPassage(id, words.Plain("Between"), figure.Figure{ID: "f" + id, Shot: "s"}))
		default:
			if kind == Manual {
				d.Blocks = append(d.Blocks, chapter(id, fmt.Sprint("p", random.IntN(5))))
				continue
			}
			b := NewStep(id, refer(words.ToStep, fmt.Sprint("b", random.IntN(n))), figure.Figure{ID: "f" + id, Shot: "s"})
			d.Blocks = append(d.Blocks, b)
		}
	}
	return d
}

// TestNumbersCountWithoutGapsWhateverTheOrder holds for any order of blocks: steps and pictures count by one, anew
// where that is wanted, and sections lie below those before them.
func TestNumbersCountWithoutGapsWhateverTheOrder(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	for range 400 {
		d := some(random, Procedure)
		n := d.Numbers()
		step, picture, section := 0, 0, []int{0, 0}
		for _, b := range d.Blocks {
			switch b.Type {
			case Step:
				step++
				require.Equal(t, strconv.Itoa(step), n.Blocks[b.ID])
			case Passage:
				require.Empty(t, n.Blocks[b.ID], "a passage does not count")
			case Section:
				if d.Facts.Counting == Anew {
					step = 0
				}
				if b.Level == 2 && section[0] > 0 {
					section[1]++
					require.Equal(t, fmt.Sprintf("%d.%d", section[0], section[1]), n.Blocks[b.ID])
				} else {
					section = []int{section[0] + 1, 0}
					require.Equal(t, strconv.Itoa(section[0]), n.Blocks[b.ID])
				}
			}
			for _, f := range b.Figures {
				picture++
				require.Equal(t, picture, n.Figures[f.ID])
			}
		}
	}
}

// TestReferencesFollowWhatTheyNameWhateverMoves moves blocks about: every reference reads as the number that stands
// beside what it names, and as "?" only where that is gone.
func TestReferencesFollowWhatTheyNameWhateverMoves(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	for range 300 {
		d := some(random, Procedure)
		for range 5 {
			i, j := random.IntN(len(d.Blocks)), random.IntN(len(d.Blocks))
			b := d.Blocks[i]
			d.Blocks = slices.Insert(slices.Delete(slices.Clone(d.Blocks), i, i+1), min(j, len(d.Blocks)-1), b)
			if random.IntN(4) == 0 && len(d.Blocks) > 1 {
				d.Blocks = slices.Delete(slices.Clone(d.Blocks), 0, 1)
			}
			n, names := d.Numbers(), d.Names(nil, nil)
			for _, b := range d.Blocks {
				for _, r := range b.Words.Refers() {
					said := strings.TrimPrefix(b.Words.Named(names).Reading(nil), "See ")
					at := slices.IndexFunc(d.Blocks, func(o Block) bool { return o.ID == r.To })
					switch {
					case at < 0:
						require.Equal(t, "?", said)
					case d.Blocks[at].Type == Passage:
						require.Equal(t, "Between", said)
					default:
						require.Equal(t, fmt.Sprintf("%s %s", d.Blocks[at].Type, n.Blocks[r.To]), said)
					}
				}
			}
		}
	}
}

// TestManualsOfAnyProceduresAreSound composes manuals of procedures that share ids: what comes out has each id once,
// all that the procedures hold, and steps that count anew in each chapter.
func TestManualsOfAnyProceduresAreSound(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	for range 200 {
		parts := map[string]Document{}
		for i := range 5 {
			parts[fmt.Sprint("p", i)] = some(random, Procedure)
		}
		d := some(random, Manual)
		whole := d.Composed(func(b Block) (Document, bool) { p, ok := parts[b.Document]; return p, ok })
		seen := map[string]bool{}
		wanted, got := 0, 0
		for _, b := range d.Blocks {
			wanted++
			if b.Type == Chapter {
				wanted += len(parts[b.Document].Blocks)
			}
		}
		n, step := whole.Numbers(), 0
		for _, b := range whole.Blocks {
			got++
			require.False(t, seen[b.ID], "the block %s stands twice", b.ID)
			seen[b.ID] = true
			for _, f := range b.Figures {
				require.False(t, seen[f.ID], "the picture %s stands twice", f.ID)
				seen[f.ID] = true
			}
			if b.Type == Chapter || b.Type == Section && whole.Facts.Counting == Anew {
				step = 0
			}
			if b.Type == Step {
				step++
				require.Equal(t, strconv.Itoa(step), n.Blocks[b.ID])
			}
		}
		assert.Equal(t, wanted, got)
	}
}

func FuzzRewritten(f *testing.F) {
	f.Add("Leak\n\n1. Go.\nand on\n\n2 Heading here\n\nStep 3: Stop\f", 2)
	f.Fuzz(func(t *testing.T, text string, shots int) {
		if len(text) > 100_000 {
			return
		}
		var pictures []string
		for i := range max(0, min(shots, 20)) {
			pictures = append(pictures, fmt.Sprint("shot", i))
		}
		n := 0
		blocks := Rewritten(strings.Split(strings.ToValidUTF8(text, ""), "\f"), pictures, func() string { n++; return fmt.Sprint("id", n) })
		for _, b := range blocks {
			if err := b.Check(); err != nil && !strings.Contains(err.Error(), "longer than") {
				t.Fatal(err)
			}
		}
	})
}
