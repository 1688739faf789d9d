package prose

import (
	"cmp"
	"context"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/words"
)

// maker makes blocks of pieces.
type maker struct {
	ctx   context.Context // of the reading
	newID func() string
	made  Made
	index map[string]int // of pictures, by text and name, and by what they hold

	grown   words.Growing // the words of the block that was added last
	grownAt int           // how many blocks there were then

	own      bool             // the text is Raconte's
	warns    *document.Notice // that stands before the next step
	critical bool             // the next step is
	counted  counted
	head     string                    // of the section at hand
	part     int                       // lists that began again in it
	anchors  map[string]document.Block // what links within a text of Raconte's own lead to
}

// text adds what one text holds. Of several, each is a section.
func (m *maker) text(name string, s *source, pictures func(string) ([]byte, error), several bool) {
	for _, l := range s.left {
		m.leave(l)
	}
	pieces := s.pieces
	m.own = s.own
	unnumbered(pieces)
	title := s.title
	base := 0 // levels above the first level of sections
	if len(pieces) > 0 && pieces[0].heading == 1 && !slices.ContainsFunc(pieces[1:], func(p piece) bool { return p.heading == 1 }) {
		if first := plain(pieces[0].inline); title == "" || title == first || !s.named {
			title, pieces, base = first, pieces[1:], 1
		}
	}
	d := &m.made.Document
	if several {
		folder := path.Dir(name)
		if title == "" {
			title = strings.TrimSuffix(path.Base(name), path.Ext(name))
		}
		if folder == "." && len(d.Blocks) == 0 && d.Facts.Title == "" {
			d.Facts.Title = title
		} else {
			m.section(1, title)
			base--
		}
	} else if d.Facts.Title == "" {
		d.Facts.Title = title
	}
	for i := 0; i < len(pieces); i++ {
		p := pieces[i]
		if !s.own && p.heading == 0 && !p.item && p.table == nil {
			if n, used := signalled(pieces[i:]); n != nil {
				m.warn(n, false)
				i += used - 1
				m.show(name, pictures, p.shows)
				continue
			}
		}
		switch {
		case p.caption && m.describe(pieces, i):
		case p.heading > 0:
			level := min(2, max(1, p.heading-base))
			if several {
				level = 2
			}
			if heading := plain(p.inline); heading != "" {
				m.section(level, heading)
			}
		case p.item:
			m.step(p.blocks, p.begins)
			m.show(name, pictures, p.shows)
		case p.table != nil:
			m.table(name, pictures, p)
		default:
			m.prose(name, pictures, p, pieces[i+1:])
		}
		m.say(p.ours)
	}
	m.unwarned()
	for _, p := range s.after {
		m.prose(name, pictures, p, nil)
	}
}

func (m *maker) section(level int, heading string) {
	m.unwarned()
	m.counted.section()
	m.head, m.part = heading, 0
	m.add(document.NewSection(m.newID(), level, words.Plain(cut(heading, document.LongestTitle))))
}

// step adds a step. Begins: a list begins with it, which where steps were counted before in the section is another
// section.
func (m *maker) step(blocks []words.Node, begins bool) {
	if m.counted.step(begins) {
		m.divide()
		m.counted.section()
		m.counted.step(begins)
	}
	if n, rest := warned(blocks); n != nil && m.warns == nil && !m.own {
		blocks = rest
		m.warns = n
		if len(blocks) == 0 {
			return // that is before the next one
		}
	}
	b := document.NewStep(m.newID(), m.words(blocks))
	b.Notice, b.Critical = m.warns, m.critical
	m.warns, m.critical = nil, false
	m.add(b)
}

func (m *maker) add(b document.Block) {
	if len(m.made.Document.Blocks) <= document.MostBlocks {
		m.made.Document.Blocks = append(m.made.Document.Blocks, b)
	}
}

// join adds words to those of the block that was added last; false where they would be too many.
func (m *maker) join(last *document.Block, w words.Node) bool {
	if n := len(m.made.Document.Blocks); m.grownAt != n {
		m.grown, m.grownAt = words.Grow(last.Words), n
	}
	if !m.grown.Join(w) {
		return false
	}
	last.Words = m.grown.Node
	return true
}

func (m *maker) leave(line string) {
	if len(m.made.Left) < mostLeft && !slices.Contains(m.made.Left, line) {
		m.made.Left = append(m.made.Left, line)
	}
}

// last is the block that was added last; false where there is none.
func (m *maker) last() (*document.Block, bool) {
	blocks := m.made.Document.Blocks
	if len(blocks) == 0 {
		return nil, false
	}
	return &blocks[len(blocks)-1], true
}

// prose adds a paragraph or a bulleted list: to the step before it where more steps of its list follow, else to a
// passage. Pictures go to the step or passage before them.
func (m *maker) prose(name string, pictures func(string) ([]byte, error), p piece, rest []piece) {
	blocks := p.blocks
	if len(p.inline) > 0 {
		blocks = append(blocks, words.Node{Type: "paragraph", Content: p.inline})
	}
	b, there := m.last()
	says := !words.Node{Type: "doc", Content: blocks}.Empty()
	joins := there && (b.Type == document.Passage || b.Type == document.Step && (!says || stepsFollow(rest)))
	if m.own { // which says where a block begins
		joins = there && b.Type != document.Section && !p.apart
	}
	if joins && says {
		joins = m.join(b, m.words(blocks))
	}
	if !joins {
		if !says && len(p.shows) == 0 && !p.apart {
			return
		}
		m.unwarned()
		m.add(document.NewPassage(m.newID(), m.words(blocks)))
	}
	m.show(name, pictures, p.shows)
}

func stepsFollow(rest []piece) bool {
	for _, p := range rest {
		switch {
		case p.item:
			return !p.begins
		case p.heading > 0 || p.table != nil:
			return false
		}
	}
	return false
}

// table makes a step of each row that has a picture beside words, and a notice of one that says nothing but what a
// signal word warns of; another table stays one, in a passage, or in a step of Raconte's own.
func (m *maker) table(name string, pictures func(string) ([]byte, error), p piece) {
	rows := p.table
	if n := boxed(rows); n != nil {
		m.warn(n, p.whole)
		return
	}
	pictured := 0
	for _, r := range rows {
		for _, c := range r {
			if len(c.shows) > 0 {
				pictured++
				break
			}
		}
	}
	if pictured*2 >= len(rows) && pictured > 0 && !m.own {
		for i, r := range rows {
			first := i == 0 && pictured == len(rows)-1 // that alone has no picture: headings, whatever they are called
			var said []words.Node
			var shows []shown
			for i, c := range r {
				shows = append(shows, c.shows...)
				// A first cell that only counts is not said: steps count by themselves.
				if text := (words.Node{Type: "doc", Content: c.blocks}).Reading(nil); i > 0 || strings.Trim(text, "0123456789.) ") != "" {
					said = append(said, c.blocks...)
				}
			}
			head := !slices.ContainsFunc(r, func(c cell) bool { return !c.head })
			if (head || first) && len(shows) == 0 || len(said) == 0 && len(shows) == 0 {
				continue // a row of headings
			}
			m.step(said, false)
			m.show(name, pictures, shows)
		}
		return
	}
	table := words.Node{Type: "table"}
	var shows []shown
	for _, r := range rows {
		out := words.Node{Type: "tableRow"}
		for _, c := range r {
			kind := "tableCell"
			if c.head {
				kind = "tableHeader"
			}
			if len(c.blocks) == 0 {
				c.blocks = []words.Node{{Type: "paragraph"}}
			}
			out.Content = append(out.Content, words.Node{Type: kind, Content: c.blocks})
			shows = append(shows, c.shows...)
		}
		if len(out.Content) > 0 {
			table.Content = append(table.Content, out)
		}
	}
	w := words.Node{Type: "doc", Content: []words.Node{table}}
	if err := w.Check(); err != nil {
		m.leave(fmt.Sprintf("A table of %d rows: %s. Its words are a passage.", len(rows), err))
		for _, r := range rows {
			for _, c := range r {
				m.prose(name, pictures, piece{blocks: c.blocks, shows: c.shows}, nil)
			}
		}
		return
	}
	if b, there := m.last(); !there || b.Type != document.Passage && (!m.own || b.Type != document.Step) || p.apart || !m.join(b, w) {
		m.unwarned()
		m.add(document.NewPassage(m.newID(), w))
	}
	m.show(name, pictures, shows)
}

// words is a text of blocks, or, where they are beyond the model, what can be read of them.
func (m *maker) words(blocks []words.Node) words.Node {
	w := words.Node{Type: "doc", Content: blocks}
	if len(blocks) == 0 {
		return words.Plain("")
	}
	if err := w.Check(); err == nil {
		return w
	}
	m.leave("Some words had a form that steps do not have; they are there without it.")
	return words.Plain(cut(strings.Join(strings.Fields(w.Reading(nil)), " "), 15_000))
}

func plain(inline []words.Node) string {
	s := words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: inline}}}.Reading(nil)
	return strings.Join(strings.Fields(s), " ")
}

func cut(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return string(r[:most])
	}
	return s
}

// inOrder puts names in natural order; those less deep come first.
func inOrder(names []string) {
	files := make([]capture.File, len(names))
	for i, n := range names {
		files[i] = capture.File{Name: n}
	}
	sorted := make([]string, len(names))
	for i, at := range capture.Order(files) {
		sorted[i] = names[at]
	}
	slices.SortStableFunc(sorted, func(a, b string) int {
		return cmp.Compare(min(1, strings.Count(a, "/")), min(1, strings.Count(b, "/")))
	})
	copy(names, sorted)
}

func readAll(r io.Reader, name string, most int64) ([]byte, error) {
	data, err := io.ReadAll(io.LimitReader(r, most+1))
	if err != nil {
		return nil, refuse("%s is damaged.", path.Base(name))
	}
	if int64(len(data)) > most {
		return nil, refuse("%s is larger than %d MB.", path.Base(name), most>>20)
	}
	return data, nil
}
