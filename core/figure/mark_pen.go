package figure

import (
	"raconte/core/scene"
)

func penShape() shape {
	return shape{
		name: "Pen", inked: true, least: 1, most: MostPoints, about: aboutNothing, usual: Style{Auto: true}, dashed: 1,
		free: true, pulled: pulledByHand, finished: func(m Mark, p Pull) (Mark, bool) {
			m.Points = scene.Thinned(m.Points, 0.8/p.Scale)
			return m, p.Moved
		},
		area: spread, edge: itself,
		cost:     func(m Mark) int { return perPoint * smoothed(m.Points) },
		draw:     func(d *drawing) { d.line(scene.Smooth(d.Points), false) },
		hits:     func(m Mark, h hit) bool { return scene.DistanceToLine(h.at, m.Points) <= h.width/2+h.tolerance },
		inMiddle: inMiddle([2]float64{-80, 0}, [2]float64{-40, -20}, [2]float64{}, [2]float64{40, 20}, [2]float64{80, 0}),
	}
}
