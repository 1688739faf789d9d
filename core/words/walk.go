package words

import "fmt"

// Visitor is told what a text holds, in the order in which it is read.
type Visitor interface {
	Paragraph(p Paragraph)
	Open(l List)
	Close(l List)
	Table(t Table)
}

// Flat is for a visitor to which lists are nothing but paragraphs with bullets.
type Flat struct{}

func (Flat) Open(List)  {}
func (Flat) Close(List) {}

// List is a list that opens or closes, or an item of one.
type List struct{ Ordered, Item bool }

// Table is a table of a text, by its rows: one at least.
type Table struct {
	Columns int // of its widest row
	Rows    [][]Cell
}

// Cell is a cell of a table; it holds what a text holds but tables.
type Cell struct {
	Head    bool
	content []Node
	resolve func(Span) Span
}

// Head tells whether a row is one of headings.
func Head(row []Cell) bool {
	for _, c := range row {
		if !c.Head {
			return false
		}
	}
	return len(row) > 0
}

// Walk tells a visitor what the text holds. Each span is told as it is resolved, or as it is where resolve is nil.
func (n Node) Walk(v Visitor, resolve func(Span) Span) { walk(n.Content, v, resolve, 0, "") }

// Walk tells a visitor what the cell holds.
func (c Cell) Walk(v Visitor) { walk(c.content, v, c.resolve, 0, "") }

// Paragraphs are those of the cell, one without words where it has none.
func (c Cell) Paragraphs() []Paragraph {
	var all collected
	if c.Walk(&all); len(all.paragraphs) == 0 {
		return []Paragraph{{}}
	}
	return all.paragraphs
}

// walk tells what some blocks hold; the first paragraph bears the bullet.
func walk(blocks []Node, v Visitor, resolve func(Span) Span, depth int, bullet string) {
	for _, b := range blocks {
		switch b.Type {
		case "paragraph":
			p := Paragraph{Depth: depth, Bullet: bullet, Spans: spans(b.Content)}
			if bullet = ""; resolve != nil {
				for i, s := range p.Spans {
					p.Spans[i] = resolve(s)
				}
			}
			v.Paragraph(p)
		case "bulletList", "orderedList":
			list := List{Ordered: b.Type == "orderedList"}
			item := List{Ordered: list.Ordered, Item: true}
			v.Open(list)
			for i, of := range b.Content {
				mark := "•"
				if list.Ordered {
					mark = fmt.Sprintf("%d.", i+1)
				}
				v.Open(item)
				walk(of.Content, v, resolve, depth+1, mark)
				v.Close(item)
			}
			v.Close(list)
		case "table":
			if len(b.Content) > 0 {
				v.Table(tableOf(b, resolve))
			}
		}
	}
}

func tableOf(n Node, resolve func(Span) Span) Table {
	t := Table{Rows: make([][]Cell, len(n.Content))}
	for r, row := range n.Content {
		t.Columns = max(t.Columns, len(row.Content))
		for _, c := range row.Content {
			t.Rows[r] = append(t.Rows[r], Cell{c.Type == "tableHeader", c.Content, resolve})
		}
	}
	return t
}

// Paragraphs are all paragraphs of the text, those in lists and tables too.
func (n Node) Paragraphs() []Paragraph {
	var all collected
	n.Walk(&all, nil)
	return all.paragraphs
}

// collected are paragraphs as they are told.
type collected struct {
	Flat
	paragraphs []Paragraph
}

func (all *collected) Paragraph(p Paragraph) { all.paragraphs = append(all.paragraphs, p) }

func (all *collected) Table(t Table) {
	for _, row := range t.Rows {
		for _, c := range row {
			all.paragraphs = append(all.paragraphs, c.Paragraphs()...)
		}
	}
}
