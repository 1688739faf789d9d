package style

// Default is the style that ships, on which the others are built.
func Default() Style {
	return Style{
		Format: Format, Name: "Plain", Language: English, Paper: Paper{Name: "a4"},
		Margins: Margins{Top: 40, Right: 43, Bottom: 52, Left: 43}, Size: 10.5,
		Colors:  Colors{Text: "#16272d", Soft: "#596a70", Line: "#d0d8da", Accent: "#0b5f66", Shade: "#eef2f3"},
		Numbers: Numbers{Sections: true, Steps: true},
		Footer:  Band{Left: "{house} · {title}", Right: "{page of pages}", Rule: true},
		Layout:  Running,
		Steps:   Steps{Share: 0.56, Largest: 0.75, Band: 96, Rules: true},
		Links:   Links{Underlined: true, Codes: true, Addresses: true},
		Stamps:  Stamps{Draft: true, Replaced: true},
	}
}

// builtIns are the styles that ship besides the default, by what is different in each.
var builtIns = []struct {
	id     string
	change func(*Style)
}{
	{"plain", func(*Style) {}},
	{"training", func(s *Style) {
		s.Name, s.Layout, s.Size, s.Paper.Across = "Training", One, 13, true
		s.Steps.Largest, s.Steps.Rules = 1, false
		s.Footer.Middle = "{section}"
	}},
	{"shop-floor", func(s *Style) {
		s.Name, s.Layout, s.Paper.Across = "Shop floor", Four, true
		s.Contents, s.Steps.Frame = ListNothing, Line
		s.Margins = Margins{Top: 34, Right: 34, Bottom: 44, Left: 34}
		s.Footer = Band{Left: "{number}", Middle: "{title}", Right: "{page of pages}", Rule: true}
	}},
	{"controlled", func(s *Style) {
		s.Name = "Controlled copy"
		s.Title = AllTitled
		s.Margins.Top = 58
		s.Header = Band{Left: "{number}", Middle: "{title}", Right: "{revision}", Rule: true}
		s.Footer = Band{Left: "{house} · {classification}", Middle: "{effective}", Right: "{page of pages}", Rule: true}
		s.Numbers.Pictures = true
	}},
	{"pocket", func(s *Style) {
		s.Name, s.Layout, s.Size = "Pocket", Two, 9.5
		s.Paper.Name = "a5"
		s.Margins = Margins{Top: 30, Right: 28, Bottom: 40, Left: 28}
	}},
	{"reference", func(s *Style) {
		s.Name, s.Layout = "Reference", Bands
		s.Contents, s.Steps.Rules = ListSections, false
	}},
}

// BuiltIn is a style that ships by its id.
func BuiltIn(id string) (Style, bool) {
	for _, b := range builtIns {
		if b.id == id {
			s := Default()
			b.change(&s)
			return s, true
		}
	}
	return Style{}, false
}

// BuiltIns are the ids of the styles that ship, the default first.
func BuiltIns() []string {
	ids := make([]string, len(builtIns))
	for i, b := range builtIns {
		ids[i] = b.id
	}
	return ids
}
