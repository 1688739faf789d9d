package figure

import (
	"encoding/json"
	"errors"
	"slices"

	"raconte/core/scene"
)

// Ground is the figure with nothing but what changes the picture itself, shown as it was taken: what others draw on who
// may see what the figure shows and no more of its shot. What it cuts off is told by Visible.
func (f Figure) Ground() Shown {
	s := f.Still(1)
	s.Figure = Figure{ID: f.ID, Shot: f.Shot, Marks: s.grounds()}
	return s
}

func (f Figure) grounds() []Mark {
	marks := []Mark{}
	for _, m := range f.Marks {
		if m.Kind.Ground() {
			marks = append(marks, m)
		}
	}
	return marks
}

// Visible is what of a shot of the given size the figure shows, in the shot's pixels: a place shows that lies in every
// one of the outlines.
func (f Figure) Visible(shot Size) []scene.Outline {
	g := f.Geometry(shot)
	var all scene.Outline
	from, _ := g.parts()
	for _, part := range from {
		all = append(all, scene.Rounded(part, 0).Through(g.back)...)
	}
	if len(f.Outline) < 3 {
		return []scene.Outline{all}
	}
	return []scene.Outline{all, scene.Polygon(f.Outline...).Through(g.back)}
}

// CheckSuggested tells what is wrong with a figure that is suggested in the place of f by someone who has seen its
// Ground; nil where nothing is. What conceals stays, and so does what is set in: they could not see what is under it.
func (f Figure) CheckSuggested(to Figure) error {
	if err := to.Check(); err != nil {
		return err
	}
	if to.ID != f.ID || to.Shot != f.Shot {
		return errors.New("what is suggested is not another look of the same picture")
	}
	for _, m := range f.grounds() {
		if !slices.ContainsFunc(to.Marks, func(n Mark) bool { return alike(m, n) }) {
			return errors.New("what conceals, and pictures that are set in, stay as they are in a suggestion")
		}
	}
	for _, s := range to.Shots() {
		if !slices.Contains(f.Shots(), s) {
			return errors.New("a suggestion sets no other pictures in")
		}
	}
	if f.SameLook(to) {
		return errors.New("the suggested picture is the one that stands there")
	}
	return nil
}

// SameLook tells whether two figures show the same, whatever stands for them where they can't be seen.
func (f Figure) SameLook(other Figure) bool {
	drawn := func(f Figure) Figure {
		over := slices.DeleteFunc(slices.Clone(f.Marks), func(m Mark) bool { return m.Kind.Ground() })
		f.Alt, f.Marks = "", append(f.grounds(), over...)
		return f
	}
	return alike(drawn(f), drawn(other))
}

// alike tells whether two things are written alike: a list of none is no list.
func alike(a, b any) bool {
	one, err := json.Marshal(a)
	two, failed := json.Marshal(b)
	return err == nil && failed == nil && string(one) == string(two)
}

// Taking is the figure with the look that was suggested for it, and with all that conceals now: what was concealed
// since the suggestion was made stays so. False where it has another shot by now.
func (f Figure) Taking(suggested Figure) (Figure, bool) {
	out := suggested.Clone()
	out.Alt = f.Alt
	for i, m := range f.grounds() {
		out.Marks = slices.DeleteFunc(out.Marks, func(n Mark) bool { return n.ID == m.ID })
		out.Marks = slices.Insert(out.Marks, i, m)
	}
	return out, f.ID == suggested.ID && f.Shot == suggested.Shot
}
