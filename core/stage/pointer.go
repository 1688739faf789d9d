package stage

import (
	"math"
	"slices"

	"raconte/core/figure"
	"raconte/core/scene"
)

// Pointer is one pointer event: where, in the places of the finished picture, how many screen pixels a
// pixel of the shot takes there, and which keys are held: Shift steadies, or chooses more; Alt frees
// from snapping.
type Pointer struct {
	At    scene.Point `json:"at"`
	Scale float64     `json:"scale"`
	Shift bool        `json:"shift"`
	Alt   bool        `json:"alt"`
	Touch bool        `json:"touch,omitempty"` // a finger, which hides what it presses
}

// Distances in screen pixels: how near a press must be, and how far a press must travel to be a drag.
const (
	reach    = 7.0
	gripNear = 11.0
	travel   = 4.0

	touchReach = 14.0
	touchGrip  = 18.0
)

func (p Pointer) reach() float64 {
	if p.Touch {
		return touchReach / p.Scale
	}
	return reach / p.Scale
}

func (p Pointer) gripNear() float64 {
	if p.Touch {
		return touchGrip / p.Scale
	}
	return gripNear / p.Scale
}

// Down is a press of the main button.
func (s *Stage) Down(p Pointer) View {
	s.fresh, s.guides = "", nil
	d := &drag{start: p.At, before: s.fig, crop: s.crop}
	switch {
	case s.tool == Crop:
		d.grip = nearest(figure.RectGrips(s.crop), p)
		if d.grip == "" && (!s.crop.Contains(p.At) || s.uncropped()) {
			d.grip, d.fresh = "se", true
		}
	case s.tool == Cutout:
		d.trail = []scene.Point{p.At}
	case s.tool == Fold:
		d.sweep = &scene.Rect{}
	case s.tool == Colour: // where it is let go
	case s.tool == Area:
		d.sweep = &scene.Rect{}
	case s.tool != "" && s.full():
		return s.view()
	case s.tool != "":
		s.begin(d, p)
	default:
		s.grab(d, p)
		if s.drag = d; d.grip == "" && len(s.selected) == 0 {
			d.sweep = &scene.Rect{}
		}
	}
	s.drag = d
	return s.view()
}

// begin draws a new mark.
func (s *Stage) begin(d *drag, p Pointer) {
	d.fresh = true
	at := p.At
	if !s.tool.Free() {
		at = s.snapped(p, "")
	}
	if tie := s.tieAt(p, ""); tie != "" && s.tool.Wire() {
		at = p.At
	}
	d.start = at
	pts := make([]scene.Point, s.tool.Points())
	for i := range pts {
		pts[i] = at
	}
	s.add(s.made(s.tool, pts...))
	if m := s.chosen(); m.Kind.Wire() {
		m.From = s.tieAt(p, m.ID)
		d.grip = "tip"
	}
}

// grab takes hold of a grip of the chosen mark, or of the mark under the pointer.
func (s *Stage) grab(d *drag, p Pointer) {
	if m := s.chosen(); m != nil && !m.Locked {
		if d.grip = nearest(s.tied(*m).Grips(s.unit()), p); d.grip != "" {
			return
		}
	}
	hit := s.hit(p)
	switch {
	case hit == "" && p.Shift: // a sweep adds to what is chosen
		d.sweep = &scene.Rect{}
	case hit == "":
		s.dropEmpty("")
		s.selected = nil
	case p.Shift && slices.Contains(s.selected, hit):
		d.toggles = hit
	case p.Shift:
		s.selected = append(slices.Clone(s.selected), s.mates(hit)...)
	case !slices.Contains(s.selected, hit):
		s.dropEmpty(hit)
		s.selected = s.mates(hit)
	}
	d.before = s.fig
}

// mates are a mark and those grouped with it.
func (s *Stage) mates(id string) []string {
	mates := []string{id}
	group := ""
	if i := s.fig.Find(id); i >= 0 {
		group = s.fig.Marks[i].Group
	}
	for _, m := range s.fig.Marks {
		if group != "" && m.Group == group && m.ID != id {
			mates = append(mates, m.ID)
		}
	}
	return mates
}

// Move is a movement of the pointer with the button held.
func (s *Stage) Move(p Pointer) View {
	if s.drag != nil {
		s.follow(p)
	}
	return s.view()
}

// Moves is a movement through several places, as many as a pen has told of since the last: one view for all.
func (s *Stage) Moves(way []Pointer) View {
	for _, p := range way {
		if s.drag != nil {
			s.follow(p)
		}
	}
	return s.view()
}

// follow makes of the drag what it comes to at p.
func (s *Stage) follow(p Pointer) {
	d := s.drag
	if p.At.Minus(d.start).Length()*p.Scale >= travel {
		d.moved = true
	}
	if !d.moved {
		return
	}
	switch {
	case s.tool == Crop:
		s.moveCrop(p)
	case s.tool == Colour:
	case s.tool == Cutout:
		d.trail = append(d.trail, p.At)
	case s.tool == Fold:
		r := s.foldRect(d.start, p.At)
		d.sweep = &r
	case d.sweep != nil:
		r := scene.Between(d.start, p.At)
		d.sweep = &r
	case d.fresh:
		s.fig = s.fig.Clone()
		s.draw(p)
	case d.grip != "":
		s.reshape(p)
	default:
		s.shift(p)
	}
}

// draw goes on drawing a new mark.
func (s *Stage) draw(p Pointer) {
	if m := s.chosen(); m.Kind.Wire() {
		s.pull(m, "tip", s.drag.start, p)
	} else {
		*m = m.Pulled(s.pulled(p, s.drag))
	}
}

// pulled is how far the drawing of the chosen mark has come.
func (s *Stage) pulled(p Pointer, d *drag) figure.Pull {
	pull := figure.Pull{
		From: d.start, At: p.At, Steady: p.Shift, Moved: d.moved, Scale: p.Scale, Unit: s.unit(), Frame: s.geo.Frame,
		Snapped: func() scene.Point { return s.snapped(p, s.chosen().ID) },
	}
	if !p.Alt {
		pull.Words = s.alongWords
	}
	return pull
}

// pull drags an end of an arrow: it follows the mark that it is pulled onto.
func (s *Stage) pull(m *figure.Mark, grip string, other scene.Point, p Pointer) {
	end, tie := 1, &m.To
	if grip == "tail" {
		end, tie = 0, &m.From
	}
	*tie = ""
	if !p.Alt && !p.Shift {
		*tie = s.tieAt(p, m.ID)
	}
	to := p.At
	if *tie == "" && !p.Shift {
		to = s.snapped(p, m.ID)
	}
	pts := slices.Clone(m.Points)
	pts[end] = figure.Steady(other, to, p.Shift, m.Kind)
	m.Points = pts
}

// tieAt is the mark that an arrow's end at p would follow: one whose plate it lies on or whose edge it is near.
func (s *Stage) tieAt(p Pointer, except string) string {
	if p.Alt {
		return ""
	}
	for _, m := range slices.Backward(s.fig.Marks) {
		if m.ID != except && m.Ties(p.At, s.unit(), p.reach()) {
			return m.ID
		}
	}
	return ""
}

func (s *Stage) reshape(p Pointer) {
	d := s.drag
	was := d.before.Find(s.selected[0])
	s.fig.Marks = slices.Clone(s.fig.Marks) // the places of the one are made anew below
	m := s.chosen()
	base := cloned(d.before.Marks[was])
	switch d.grip {
	case "tail", "tip":
		*m = base
		other := m.Points[0]
		if d.grip == "tail" {
			other = m.Points[1]
		}
		s.pull(m, d.grip, other, p)
	case "bend", "point", "lens", "zoom":
		*m = base.Reshaped(d.grip, p.At, p.Shift)
	default:
		to := s.snapped(p, m.ID)
		if p.Shift && len(d.grip) == 2 && m.Kind.Framed() {
			r := scene.Between(base.Points[0], base.Points[1])
			fixed := scene.Point{X: r.X, Y: r.Y}
			if d.grip[0] == 'n' {
				fixed.Y += r.H
			}
			if d.grip[1] == 'w' {
				fixed.X += r.W
			}
			to = figure.Steady(fixed, to, true, m.Kind)
		}
		*m = base.Reshaped(d.grip, to, p.Shift)
	}
}

// shift moves the chosen marks.
func (s *Stage) shift(p Pointer) {
	d := s.drag
	by := p.At.Minus(d.start)
	if p.Shift && math.Abs(by.X) > math.Abs(by.Y) {
		by.Y = 0
	} else if p.Shift {
		by.X = 0
	} else {
		by = s.snappedBy(by, s.room(d.before), p, s.selected[0])
	}
	s.fig.Marks = slices.Clone(s.fig.Marks)
	for i, was := range d.before.Marks {
		if slices.Contains(s.selected, was.ID) && !was.Locked {
			s.fig.Marks[i] = s.moved(was, by)
		}
	}
}

// moved is a mark moved by hand: an arrow lets go of marks that are not moved with it, and what is moved
// among others takes its target with it.
func (s *Stage) moved(m figure.Mark, by scene.Point) figure.Mark {
	if m.Kind.Wire() && (m.From != "" || m.To != "") {
		m = cloned(s.tied(m))
		if !slices.Contains(s.selected, m.From) {
			m.From = ""
		}
		if !slices.Contains(s.selected, m.To) {
			m.To = ""
		}
	}
	if len(s.selected) > 1 {
		return m.ShiftedBy(by)
	}
	return m.MovedBy(by)
}

// room is the room of all chosen marks of a figure.
func (s *Stage) room(f figure.Figure) scene.Rect {
	var r scene.Rect
	for _, m := range f.Marks {
		if slices.Contains(s.selected, m.ID) {
			r = r.Union(m.Area(s.unit()))
		}
	}
	return r
}

func (s *Stage) moveCrop(p Pointer) {
	d := s.drag
	up := s.fig.Upright(s.shot)
	whole := scene.Rect{W: float64(up.W), H: float64(up.H)}
	switch {
	case d.fresh:
		s.crop = scene.Between(d.start, figure.Steady(d.start, s.snapped(p, ""), p.Shift, figure.Box)).Intersect(whole)
		s.crop = proportioned(s.crop, s.ratio, "se", whole)
	case d.grip != "":
		s.crop = figure.DragSide(d.crop, d.grip, s.snapped(p, "")).Intersect(whole)
		s.crop = proportioned(s.crop, s.ratio, d.grip, whole)
	default:
		s.crop = shifted(d.crop, p.At.Minus(d.start), whole)
	}
}

// proportioned is r with its sides in a ratio of width to height, fixed at the corner opposite the grip.
func proportioned(r scene.Rect, ratio float64, grip string, whole scene.Rect) scene.Rect {
	if ratio <= 0 || r.Empty() {
		return r
	}
	w, h := r.W, r.W/ratio
	if grip == "n" || grip == "s" || h > whole.H {
		w, h = r.H*ratio, r.H
	}
	if w > whole.W {
		w, h = whole.W, whole.W/ratio
	}
	out := scene.Rect{X: r.X, Y: r.Y, W: w, H: h}
	for _, side := range grip {
		if side == 'n' {
			out.Y = r.Y + r.H - h
		}
		if side == 'w' {
			out.X = r.X + r.W - w
		}
	}
	return shifted(out, scene.Point{}, whole)
}

// shifted is r moved by d but kept inside whole.
func shifted(r scene.Rect, d scene.Point, whole scene.Rect) scene.Rect {
	r.X = math.Max(0, math.Min(whole.W-r.W, r.X+d.X))
	r.Y = math.Max(0, math.Min(whole.H-r.H, r.Y+d.Y))
	return r
}

// foldRect is the band that a drag takes out: across the picture, or down it where it went sideways.
func (s *Stage) foldRect(a, b scene.Point) scene.Rect {
	in := s.geo.Inner
	r := scene.Between(a, b).Intersect(in)
	if r.W > r.H {
		return scene.Rect{X: r.X, Y: in.Y, W: r.W, H: in.H}
	}
	return scene.Rect{X: in.X, Y: r.Y, W: in.W, H: r.H}
}

// Up is the release of the button.
func (s *Stage) Up(p Pointer) View {
	d := s.drag
	if d == nil {
		return s.view()
	}
	s.follow(p)
	s.drag, s.guides = nil, nil
	switch {
	case s.tool == Crop:
		switch {
		case d.fresh && (s.crop.W < figure.SmallestCut || s.crop.H < figure.SmallestCut):
			s.crop = d.crop
		case d.fresh:
			return s.ApplyCrop()
		}
	case s.tool == Cutout:
		s.cutOut(d.trail, p.Scale)
	case s.tool == Colour:
		return s.pick(p.At)
	case s.tool == Area:
		return s.part(*d.sweep)
	case s.tool == Fold:
		s.foldAway(d)
	case d.sweep != nil:
		s.sweep(*d.sweep, p.Shift)
	case d.fresh:
		s.finish(d, p)
	case d.moved:
		s.settle()
	case d.toggles != "":
		s.selected = slices.DeleteFunc(slices.Clone(s.selected), func(id string) bool { return id == d.toggles })
	}
	return s.view()
}

// sweep chooses the marks in r.
func (s *Stage) sweep(r scene.Rect, more bool) {
	if !more {
		s.selected = nil
	}
	for _, m := range s.fig.Marks {
		a := m.Area(s.unit())
		if !m.Locked && !r.Empty() && r.Contains(scene.Point{X: a.X, Y: a.Y}) && r.Contains(scene.Point{X: a.X + a.W, Y: a.Y + a.H}) &&
			!slices.Contains(s.selected, m.ID) {
			s.selected = append(s.selected, m.ID)
		}
	}
}

// settle ends a change of the chosen marks: inks that are left to contrast follow the new ground.
func (s *Stage) settle() {
	s.fig = s.fig.Clone()
	for i := range s.fig.Marks {
		if m := &s.fig.Marks[i]; slices.Contains(s.selected, m.ID) {
			s.inkOf(m)
			if m.Kind.Matches() {
				m.Color = s.around(scene.Between(m.Points[0], m.Points[1])).String()
			}
			m.Lost, m.Unsure = false, false // a person has put it there
		}
	}
	s.changed = true
	if m := s.chosen(); m != nil && m.Kind.Speaks() && m.Text == "" {
		s.changed = false
	}
}

// finish ends the drawing of a mark.
func (s *Stage) finish(d *drag, p Pointer) {
	m := s.chosen()
	done, drawn := cloned(*m).Finished(s.pulled(p, d))
	if !drawn {
		s.giveUp(d) // a press without a drag draws nothing
		return
	}
	*m = done
	s.keepIn(m)
	s.settle()
	if m.Kind.Speaks() || (m.Kind.Counts() && !s.keep) {
		s.fresh = m.ID
	}
	if !s.keep {
		s.tool = ""
	}
}

func (s *Stage) keepIn(m *figure.Mark) { *m = m.KeptIn(s.geo.Frame, s.unit()) }

func (s *Stage) giveUp(d *drag) { s.fig, s.selected = d.before, nil }

// hit is the topmost mark under the pointer, or "".
func (s *Stage) hit(p Pointer) string {
	tolerance := p.reach()
	s.lay()
	tied := figure.Tied(s.fig.Marks, s.unit())
	for _, ground := range []bool{false, true} { // what lies on the picture before what is part of it
		for i := len(tied) - 1; i >= 0; i-- {
			m := tied[i]
			if m.Locked || m.Kind.Ground() != ground {
				continue
			}
			if piece, ok := s.piece(m.ID); ok && m.Hits(p.At, s.unit(), tolerance, piece.Bounds) {
				return m.ID
			}
		}
	}
	return ""
}

func nearest(grips []figure.Grip, p Pointer) string {
	name, best := "", p.gripNear()
	for _, g := range grips {
		if d := g.At.Minus(p.At).Length(); d <= best {
			name, best = g.Name, d
		}
	}
	return name
}

// Cursor is the CSS name of the pointer's shape over a place.
func (s *Stage) Cursor(p Pointer) string {
	grip := ""
	if s.tool == Crop {
		if grip = nearest(figure.RectGrips(s.crop), p); grip == "" && s.crop.Contains(p.At) && !s.uncropped() {
			return "move"
		}
	} else if m := s.chosen(); m != nil && s.tool == "" && !m.Locked {
		grip = nearest(s.tied(*m).Grips(s.unit()), p)
	}
	switch grip {
	case "nw", "se", "zoom":
		return "nwse-resize"
	case "ne", "sw":
		return "nesw-resize"
	case "n", "s":
		return "ns-resize"
	case "e", "w":
		return "ew-resize"
	case "tail", "tip", "bend", "point":
		return "crosshair"
	case "lens":
		return "move"
	}
	switch {
	case s.tool != "":
		return "crosshair"
	case s.hit(p) != "":
		return "move"
	}
	return "default"
}
