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
	RoleTreeItem = "treeitem"
	RoleSlider   = "slider"
	RoleDate     = "date"    // a field for a day or a time
	RoleFile     = "file"    // a field for files
	RoleDrawing  = "drawing" // a canvas
	RoleClock    = "clock"   // no ARIA role is only a clock
)

// Words are the words of a step made from what was done, in a language, for the writer to change: empty where nothing
// is known. What was typed is summarised, and nothing at all is told of a password.
func (a About) Words(in Language) words.Node {
	if a.Action == nil {
		return words.Plain("")
	}
	return in.sentence(a.Action)
}

func (l Language) sentence(act *Action) words.Node {
	name := ""
	if act.Element != nil {
		name = strings.TrimSpace(act.Element.Name)
	}
	switch act.Kind {
	case Shortcut:
		return l.say(pressKeys, act.Text, "")
	case GoBack:
		return l.say(goBack, "", "")
	case End:
		return l.say(seeResult, "", "")
	case OtherTab:
		return l.say(goToTab, act.Text, "")
	}
	if name == "" {
		switch act.Kind {
		case Keys:
			return l.say(typeHere, "", l.kindOf(act.Text))
		case PointAt:
			return l.say(pointHere, "", "")
		case Dragged:
			return l.say(dragHere, "", "")
		}
		if act.Element != nil && act.Element.Role == RoleDrawing {
			return l.say(clickDrawing, "", "")
		}
		return l.say(clickHere, "", "")
	}
	e := act.Element
	switch act.Kind {
	case Keys:
		what := e.Asks
		switch {
		case e.Secret || e.Role == RolePassword:
			return l.say(typePassword, name, "")
		case e.Role == RoleDate && what == "":
			return l.say(enterDate, name, "")
		case what == "":
			what = l.kindOf(act.Text)
		}
		return l.say(typeIn, name, what)
	case Choose:
		return l.say(chooseIn, name, act.Text)
	case Set:
		return l.say(setTo, name, act.Text)
	case Dragged:
		if act.Text == "" {
			return l.say(dragIt, name, "")
		}
		return l.say(dragTo, name, act.Text)
	case ChooseFile:
		return l.say(chooseFile, name, "")
	case ScrollTo:
		return l.say(scrollTo, name, "")
	case DoubleClick:
		return l.say(doubleClick, name, "")
	case RightClick:
		return l.say(rightClick, name, "")
	case PointAt:
		return l.say(pointAt, name, "")
	}
	switch e.Role {
	case RoleButton:
		return l.say(press, name, "")
	case RoleOption, RoleMenuItem, RoleRadio, RoleTab, RoleRow, RoleCell:
		return l.say(choose, name, "")
	case RoleChoice, RoleMenu, RoleLink, RoleTreeItem:
		return l.say(open, name, "")
	case RoleField, RolePassword, RoleDate:
		return l.say(clickIn, name, "")
	case RoleFile:
		return l.say(chooseFile, name, "")
	case RoleDrawing:
		return l.say(clickInDrawing, name, "")
	case RoleTick:
		if e.On { // the shot and the element are as they were before the click
			return l.say(untick, name, "")
		}
		return l.say(tick, name, "")
	case RoleSwitch:
		if e.On {
			return l.say(turnOff, name, "")
		}
		return l.say(turnOn, name, "")
	}
	return l.say(click, name, "")
}

var (
	aNumber = regexp.MustCompile(`^[\d\s.,’'-]+$`)
	aDate   = regexp.MustCompile(`^\d{1,4}[-./]\d{1,2}[-./]\d{1,4}$`)
	aTime   = regexp.MustCompile(`^\d{1,2}:\d{2}$`)
	aMail   = regexp.MustCompile(`^\S+@\S+\.\S+$`)
)

// kindOf says what was typed without repeating it.
func (l Language) kindOf(text string) string {
	what := aText
	switch text = strings.TrimSpace(text); {
	case text == "":
	case aDate.MatchString(text):
		what = theDate
	case aTime.MatchString(text):
		what = theTime
	case aMail.MatchString(text):
		what = theMail
	case aNumber.MatchString(text):
		what = theNumber
	}
	return l.phrase(what)
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
