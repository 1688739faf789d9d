package reshoot

import (
	"raconte/core/figure"
	"raconte/core/scene"
)

// cropID names the crop among the marks that are asked about.
const cropID = "crop"

// Found is where a mark is in a new shot, as it is told to those who apply it.
type Found struct {
	Mark   string        `json:"mark"`
	Sure   Sure          `json:"sure"`
	Points []scene.Point `json:"points"`
}

// Asked are the marks of a figure whose targets are to be found in a new shot, and its crop as one of them.
func Asked(f figure.Figure) []figure.Mark {
	marks := append([]figure.Mark{}, f.Marks...)
	if c := f.Crop; c != nil && f.Quarter == 0 && !f.Mirror {
		marks = append(marks, figure.Mark{
			ID: cropID, Kind: figure.Box, Style: figure.Box.Usual(), Points: []scene.Point{{X: c.X, Y: c.Y}, {X: c.X + c.W, Y: c.Y + c.H}},
		})
	}
	return marks
}

// Applied is a figure with another shot: each mark is where its target is now, and the crop where what it showed has
// gone. Of the marks some are unsure, for a person to confirm; some are lost, and stay as they were.
func Applied(f figure.Figure, shot string, found []Found) figure.Figure {
	f = f.Clone()
	f.Shot = shot
	at := map[string]Found{}
	for _, t := range found {
		at[t.Mark] = t
	}
	if c, ok := at[cropID]; ok && f.Crop != nil && len(c.Points) == 2 {
		r := scene.Between(c.Points[0], c.Points[1])
		f.Crop = &r
	}
	for i, m := range f.Marks {
		t := at[m.ID]
		if len(t.Points) == len(m.Points) {
			f.Marks[i].Points = t.Points
		}
		f.Marks[i].Lost, f.Marks[i].Unsure = t.Sure == Lost, t.Sure == Perhaps
	}
	return f
}
