package page

import (
	"raconte/core/scene"
	"raconte/core/words"
)

// lister keeps the structure of lists: a list holds items, an item its label and its body, and that other lists.
type lister struct {
	scene *scene.Scene
	open  []bool // of each list that is open, whether an item of it is
}

// enter prepares for a paragraph: lists that it is not in are ended, those that it is in are begun, and so is its item.
func (l *lister) enter(p words.Paragraph) {
	l.leave(p.Depth)
	if p.Bullet != "" && len(l.open) == p.Depth && p.Depth > 0 {
		l.endItem()
	}
	for len(l.open) < p.Depth {
		l.scene.Open("L")
		l.open = append(l.open, false)
		if len(l.open) < p.Depth { // a list that begins with another
			l.scene.Open("LI")
			l.scene.Open("LBody")
			l.open[len(l.open)-1] = true
		}
	}
	if last := len(l.open) - 1; last >= 0 && !l.open[last] {
		l.scene.Open("LI")
		if p.Bullet == "" { // else its label opens the body
			l.scene.Open("LBody")
		}
		l.open[last] = true
	}
}

func (l *lister) endItem() {
	if last := len(l.open) - 1; last >= 0 && l.open[last] {
		l.scene.Close(2)
		l.open[last] = false
	}
}

// leave ends lists down to a depth.
func (l *lister) leave(depth int) {
	for len(l.open) > depth {
		l.endItem()
		l.scene.Close(1)
		l.open = l.open[:len(l.open)-1]
	}
}
