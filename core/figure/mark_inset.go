package figure

import (
	"raconte/core/scene"
)

func insetShape() shape {
	s := groundShape("Second shot")
	s.about, s.inMiddle = aboutNothing, nil
	s.pulled, s.ties = pulledFreely, tiesEdge
	return s
}

// inset draws another shot in r.
func (f Figure) inset(s *scene.Scene, m Mark, r scene.Rect, unit float64) {
	s.Items = append(s.Items, scene.Item{Picture: &scene.Picture{Ref: m.Shot, Target: r, Tone: f.Tone}})
	s.Fill(scene.Frame(r, 0, 1.5*unit), f.Tone.Apply(darkInk))
}
