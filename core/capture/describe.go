package capture

import (
	"regexp"
	"strings"

	"raconte/core/words"
)

// The roles of elements that words are made for; they are those of the ARIA standard where it has one.
const (
	RoleButton   = "button"
	RoleField    = "textbox"
	RolePassword = "password"
	RoleChoice   = "combobox"
	RoleOption   = "option"
	RoleMenu     = "menu"
	RoleMenuItem = "menuitem"
	RoleTick     = "checkbox"
	RoleSwitch   = "switch"
	RoleRadio    = "radio"
	RoleTab      = "tab"
	RoleLink     = "link"
	RoleRow      = "row"
	RoleCell     = "cell"
	RoleWindow   = "window"
	RoleLabel    = "label"
	RoleClock    = "clock" // no ARIA role is only a clock
)

// The styles of core/words that the words use.
const (
	styleControl = "control"
	styleKeycap  = "keycap"
)

// Words are the words of a step made from what was done, for the writer to change: empty where nothing
// is known. What was typed is summarised, and nothing at all is told of a password.
func (a About) Words() words.Node {
	if a.Action == nil {
		return words.Plain("")
	}
	return sentence(a.Action)
}

func sentence(act *Action) words.Node {
	if act.Kind == Shortcut {
		return say("Press ", styleKeycap, act.Text, ".")
	}
	e := act.Element
	if e == nil || strings.TrimSpace(e.Name) == "" {
		switch act.Kind {
		case Keys:
			return words.Plain("Type " + kindOf(act.Text) + ".")
		case PointAt:
			return words.Plain("Point here.")
		}
		return words.Plain("Click here.")
	}
	name := strings.TrimSpace(e.Name)
	switch act.Kind {
	case Keys:
		if e.Secret || e.Role == RolePassword {
			return say("Type your password in ", styleControl, name, ".")
		}
		what := e.Asks
		if what == "" {
			what = kindOf(act.Text)
		}
		return say("Type "+what+" in ", styleControl, name, ".")
	case DoubleClick:
		return say("Double-click ", styleControl, name, ".")
	case RightClick:
		return say("Right-click ", styleControl, name, ".")
	case PointAt:
		return say("Point at ", styleControl, name, ".")
	}
	switch e.Role {
	case RoleButton:
		return say("Press ", styleControl, name, ".")
	case RoleOption, RoleMenuItem, RoleRadio, RoleTab, RoleRow, RoleCell:
		return say("Choose ", styleControl, name, ".")
	case RoleChoice, RoleMenu, RoleLink:
		return say("Open ", styleControl, name, ".")
	case RoleField, RolePassword:
		return say("Click in ", styleControl, name, ".")
	case RoleTick:
		if e.On { // the shot and the element are as they were before the click
			return say("Clear ", styleControl, name, ".")
		}
		return say("Tick ", styleControl, name, ".")
	case RoleSwitch:
		to := " on."
		if e.On {
			to = " off."
		}
		return say("Turn ", styleControl, name, to)
	}
	return say("Click ", styleControl, name, ".")
}

func say(before, style, name, after string) words.Node {
	return words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{
		{Type: "text", Text: before},
		{Type: "text", Text: name, Marks: []words.Style{{Type: style}}},
		{Type: "text", Text: after},
	}}}}
}

var (
	aNumber = regexp.MustCompile(`^[\d\s.,’'-]+$`)
	aDate   = regexp.MustCompile(`^\d{1,4}[-./]\d{1,2}[-./]\d{1,4}$`)
	aTime   = regexp.MustCompile(`^\d{1,2}:\d{2}$`)
	aMail   = regexp.MustCompile(`^\S+@\S+\.\S+$`)
)

// kindOf says what was typed without repeating it.
func kindOf(text string) string {
	switch text = strings.TrimSpace(text); {
	case text == "":
		return "the text"
	case aDate.MatchString(text):
		return "the date"
	case aTime.MatchString(text):
		return "the time"
	case aMail.MatchString(text):
		return "the e-mail address"
	case aNumber.MatchString(text):
		return "the number"
	}
	return "the text"
}

// Joins tells whether b goes on with what a did: consecutive keys in one field are one step, and the
// later shot shows all of it.
func Joins(a, b *Action) bool {
	return a != nil && b != nil && a.Kind == Keys && b.Kind == Keys && sameElement(a.Element, b.Element)
}

func sameElement(a, b *Element) bool {
	if a == nil || b == nil {
		return a == b
	}
	return a.Name == b.Name && a.Role == b.Role && a.Window == b.Window
}
