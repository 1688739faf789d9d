package replay

import (
	"testing"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
)

func element(role, name string, x, y float64) capture.Element {
	return capture.Element{Role: role, Name: name, Rect: scene.Rect{X: x, Y: y, W: 100, H: 40}}
}

func TestWhatWasUsedIsFoundAgainByRoleNameAndPlace(t *testing.T) {
	was := figure.Size{W: 2560, H: 1600} // the picture had twice the pixels that the view has units
	view := Seen{Size: figure.Size{W: 1280, H: 800}, Elements: []capture.Element{
		element(capture.RoleButton, "Edit", 50, 50),
		element(capture.RoleButton, "Edit", 50, 400),
		element(capture.RoleButton, "Receive the lot", 600, 600),
		element(capture.RoleTab, "Rooms", 1100, 700),
		element(capture.RoleField, "Weight in kg", 300, 300),
		element(capture.RoleRow, "Room 3: 7.1 °C, 98 of 240", 300, 500),
		element(capture.RoleButton, "", 900, 50),
	}}
	for name, c := range map[string]struct {
		used capture.Element
		fit  capture.Fit
		at   int
	}{
		"the nearest of two with one name":  {element(capture.RoleButton, "Edit", 100, 780), capture.FitSame, 1},
		"another wording":                   {element(capture.RoleButton, "Receive lot", 100, 100), capture.FitChanged, 2},
		"somewhere else":                    {element(capture.RoleTab, "Rooms", 10, 10), capture.FitMoved, 3},
		"another name in the same place":    {capture.Element{Role: capture.RoleField, Name: "Bins", Rect: scene.Rect{X: 600, Y: 600, W: 200, H: 80}}, capture.FitChanged, 4},
		"other numbers are no other name":   {element(capture.RoleRow, "Room 3: 6.8 °C, 96 of 240", 600, 1000), capture.FitSame, 5},
		"without a name, by its place":      {capture.Element{Role: capture.RoleButton, Rect: scene.Rect{X: 1800, Y: 100, W: 200, H: 80}}, capture.FitSame, 6},
		"another role with the same name":   {element(capture.RoleLink, "Rooms", 2200, 1400), capture.FitChanged, 3},
		"gone":                              {element(capture.RoleButton, "Print label", 100, 1300), capture.FitGone, -1},
		"without a name, and nothing there": {element(capture.RoleLink, "", 100, 1300), capture.FitGone, -1},
	} {
		f := Find(capture.Action{Kind: capture.PointAt, Element: &c.used}, was, view)
		assert.Equal(t, [2]any{c.fit, c.at}, [2]any{f.Fit, f.At}, name)
	}
}

func TestAPersonIsAskedBeforeAnythingThatSends(t *testing.T) {
	all := []capture.Element{element(capture.RoleButton, "Receive lot", 0, 0), element(capture.RoleTab, "Rooms", 0, 0), element(capture.RolePassword, "Password", 0, 0), element(capture.RoleField, "Bins", 0, 0)}
	all[2].Secret = true
	now := Seen{figure.Size{W: 100, H: 100}, all}
	for _, c := range []struct {
		kind      string
		at        int
		ask, hand bool
	}{
		{capture.Click, 0, true, false},
		{capture.Click, 1, false, false},
		{capture.Keys, 2, true, true},
		{capture.Keys, 3, false, false},
		{capture.Dragged, 1, true, true},
	} {
		f := Find(capture.Action{Kind: c.kind, Element: &all[c.at]}, now.Size, now)
		assert.Equal(t, [2]bool{c.ask, c.hand}, [2]bool{f.Ask != "", f.Hand}, "%s %s", c.kind, all[c.at].Name)
	}
	link := element(capture.RoleLink, "Delete", 0, 0)
	does := Find(capture.Action{Kind: capture.Click, Element: &link}, now.Size, Seen{now.Size, []capture.Element{link}})
	assert.NotEmpty(t, does.Ask, "a link may do anything")
	link.Leads = true
	leads := Find(capture.Action{Kind: capture.Click, Element: &link}, now.Size, Seen{now.Size, []capture.Element{link}})
	assert.Empty(t, leads.Ask, "but for one that leads to a page")
	enter := Find(capture.Action{Kind: capture.Shortcut, Text: "Enter"}, now.Size, now)
	assert.NotEmpty(t, enter.Ask)
	assert.Empty(t, Find(capture.Action{Kind: capture.End}, now.Size, now).Ask)
	gone := Find(capture.Action{Kind: capture.Click, Element: &all[0]}, now.Size, Seen{Size: now.Size})
	assert.True(t, gone.Hand)
}

func TestARunIsItsActsInTheirOrder(t *testing.T) {
	field, other := element(capture.RoleField, "Lot", 10, 10), element(capture.RoleField, "Bin", 10, 90)
	act := func(kind, text string, e *capture.Element) *capture.Action {
		return &capture.Action{Kind: kind, Text: text, Element: e}
	}
	var shots []capture.Taken
	for i, a := range []*capture.Action{
		act(capture.Keys, "7", &field), act(capture.Keys, "71", &field), nil, act(capture.Keys, "712", &field), act(capture.Keys, "3", &other), act(capture.Click, "", &other),
	} {
		shots = append(shots, capture.Taken{Shot: string(rune('a' + i)), Size: figure.Size{W: 10, H: 10}, About: capture.About{Action: a}})
	}
	var got []string
	for _, s := range Plan(shots, capture.English) {
		got = append(got, s.Shot+" "+s.Action.Text)
		assert.NotEmpty(t, s.Words)
	}
	assert.Equal(t, []string{"b 71", "d 712", "e 3", "f "}, got, "what is typed on in a field is one; a shot between parts it")
	assert.NotNil(t, Plan(nil, capture.English), "a run without acts is an empty one")
}
