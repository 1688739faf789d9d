package page

import (
	"strconv"
	"strings"

	"raconte/core/document"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/text"
)

const (
	besideCode = 46.0 // side of the code of what a step leads to
	besideSize = 9.0
)

// toBlock begins the address of a link to a block of the story, while its page is not known yet.
const toBlock = "#"

// wait is an item that ends with the page of a block.
type wait struct {
	sheet, item int
	block       string
}

// stacked is one setting above another; one without height leaves no room.
func stacked(above, below setting) setting {
	switch {
	case above.height == 0:
		return below
	case below.height == 0:
		return above
	}
	from, items := len(above.drawn.Items), below.items(0, above.height+between)
	above.drawn.Items = append(above.drawn.Items, items...)
	for i, block := range below.pages {
		if above.pages == nil {
			above.pages = map[int]string{}
		}
		above.pages[from+i] = block
	}
	above.height += between + below.height
	return above
}

// place puts a setting on the sheet, and keeps what in it waits for a page.
func (s *setter) place(set setting, x, y float64) {
	sheet := s.sheet()
	for i, block := range set.pages {
		s.waits = append(s.waits, wait{len(s.pages.Sheets) - 1, len(sheet.Items) + i, block})
	}
	sheet.Items = append(sheet.Items, set.items(x, y)...)
}

// setCritical says that a step is critical; nothing of one that is not.
func (l *look) setCritical(step story.Block) setting {
	var s setting
	if !step.Critical {
		return s
	}
	label := l.Said("critical")
	w := l.measure(text.Bold, besideSize, label) + 2*noticePad
	s.height = 17
	s.drawn.Fill(scene.Rounded(scene.Rect{W: w, H: s.height}, 0), l.ink)
	s.drawn.Open("P")
	l.set(&s.drawn, text.Bold, besideSize, noticePad, 12, label, paper)
	s.drawn.Close(1)
	return s
}

// setBeside sets what a step leads to: the procedure that it hands over to, web links and films, each with its code.
func (s *setter) setBeside(step story.Block, width float64) setting {
	var all setting
	if o := step.Does; o != nil {
		chapter := s.chapter(o.ID)
		all = s.card(s.Said("do")+": "+o.Said(), o.Address, chapter, width)
	}
	for _, l := range step.Beside {
		said := l.Said()
		if l.Film {
			said = s.Said("film") + ": " + said
		}
		all = stacked(all, s.card(said, l.Address, "", width))
	}
	return all
}

// chapter is the chapter of the manual that another document is; "" where it is none.
func (s *setter) chapter(id string) string {
	for _, b := range s.req.Story.Blocks {
		if b.Type == document.Chapter && b.Document == id {
			return b.ID
		}
	}
	return ""
}

// card sets one thing that a step leads to; block is where it stands in the same story, or "".
func (s *setter) card(said, address, block string, width float64) setting {
	set := setting{}
	x, y := 0.0, 0.0
	to := scene.Link{URL: address}
	if block != "" {
		to.URL = toBlock + block
	}
	set.drawn.Open("P")
	if code := s.req.Codes[address]; s.Links.Codes && len(code) > 0 {
		set.drawn.Begin(scene.Tag{Role: "Artifact"}) // the address is read out
		s.drawCode(&set.drawn, code, scene.Rect{W: besideCode, H: besideCode})
		set.drawn.Close(1)
		x = besideCode + 8
	}
	role := "Link"
	if to.URL == "" {
		role = "Span"
	}
	set.drawn.Begin(scene.Tag{Role: role, Alt: said})
	for _, l := range s.wrap(text.Bold, s.body, width-x, said) {
		s.set(&set.drawn, text.Bold, s.body, x, y+baseline(s.body), l, s.action)
		y += s.body * leading
	}
	if block != "" {
		s.set(&set.drawn, text.Regular, besideSize, x, y+baseline(besideSize), s.Said("page")+" ", s.soft)
		set.pages = map[int]string{len(set.drawn.Items) - 1: block}
		y += besideSize * leading
	} else if s.Links.Addresses {
		for _, l := range s.wrap(text.Regular, besideSize, width-x, (address)) {
			s.set(&set.drawn, text.Regular, besideSize, x, y+baseline(besideSize), l, s.soft)
			y += besideSize * leading
		}
	}
	set.height = max(y, 0)
	if x > 0 {
		set.height = max(y, besideCode)
	}
	if to.URL != "" {
		to.Area = scene.Rect{W: width, H: set.height}
		set.drawn.Items = append(set.drawn.Items, scene.Item{Link: &to})
	}
	set.drawn.Close(2)
	return set
}

// settle writes the pages that were waited for, and leads references to where the blocks stand that they name, or to
// where other documents are read; those to nothing lead nowhere.
func (s *setter) settle() {
	places := s.places()
	for _, w := range s.waits {
		item := &s.pages.Sheets[w.sheet].Items[w.item]
		said := *item.Words
		said.Text += strconv.Itoa(places[w.block].Page)
		said.Width = text.Width(said.Face, said.Size, said.Text)
		item.Words = &said
	}
	for i, sheet := range s.pages.Sheets {
		var items []scene.Item
		for _, item := range sheet.Items {
			if item.Link != nil && strings.HasPrefix(item.Link.URL, toBlock) {
				to := strings.TrimPrefix(item.Link.URL, toBlock)
				l := scene.Link{Area: item.Link.Area, URL: s.req.Story.Others[to].Address}
				if p, there := places[to]; there {
					l = scene.Link{Area: l.Area, Page: p.Page, Y: p.Y}
				}
				if l.Page == 0 && l.URL == "" {
					continue
				}
				item.Link = &l
			}
			items = append(items, item)
		}
		s.pages.Sheets[i].Items = items
	}
}

// places are where all stands that can be referred to, by its id: blocks, pictures, marks, and documents that are
// chapters.
func (s *setter) places() map[string]Place {
	blocks, places := map[string]Place{}, map[string]Place{}
	for _, p := range s.pages.Places {
		blocks[p.Block] = p
	}
	for id, block := range s.req.Story.Where() {
		if p, there := blocks[block]; there {
			places[id] = p
		}
	}
	return places
}
