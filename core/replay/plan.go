package replay

import (
	"raconte/core/capture"
	"raconte/core/figure"
)

// Step is one act of a run that can be done again.
type Step struct {
	Shot   string         `json:"shot"`
	Size   figure.Size    `json:"size"` // of the shot, in pixels; the act's places are in it
	Words  string         `json:"words"`
	Action capture.Action `json:"action"`
}

// Plan are the acts of a run in their order: what was typed in one field is one, and shots that show no act are none.
func Plan(shots []capture.Taken, in capture.Language) []Step {
	steps := []Step{}
	for i, t := range shots {
		act := t.About.Action
		if act == nil || i+1 < len(shots) && capture.Joins(act, shots[i+1].About.Action) {
			continue
		}
		steps = append(steps, Step{t.Shot, t.Size, t.About.Words(in).Reading(nil), *act})
	}
	return steps
}
