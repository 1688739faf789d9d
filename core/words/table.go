package words

import "fmt"

// Limits of a table.
const (
	mostRows    = 60
	mostColumns = 8
)

// Cell is where a paragraph stands in a table; all count from 0.
type Cell struct {
	Table       int // of the text
	Row, Column int
	Columns     int  // that the table has
	Head        bool // the cell is a heading
}

// TableAt are the paragraphs of the table that some paragraphs begin with.
func TableAt(all []Paragraph) []Paragraph {
	for i, p := range all {
		if p.Cell == nil || p.Cell.Table != all[0].Cell.Table {
			return all[:i]
		}
	}
	return all
}

// table checks a table: rows of cells, which hold what a text holds but tables.
func (c *checker) table(n Node) error {
	if err := c.count(n); err != nil {
		return err
	}
	if len(n.Content) == 0 || len(n.Content) > mostRows {
		return fmt.Errorf("a table has no row or more than %d", mostRows)
	}
	for _, row := range n.Content {
		if row.Type != "tableRow" || len(row.Content) == 0 || len(row.Content) > mostColumns {
			return fmt.Errorf("a row of a table has no cell or more than %d", mostColumns)
		}
		for _, cell := range row.Content {
			if cell.Type != "tableCell" && cell.Type != "tableHeader" {
				return fmt.Errorf("a row of a table holds a %.20q", cell.Type)
			}
			for _, b := range cell.Content {
				if b.Type == "table" {
					return fmt.Errorf("a table stands in a table")
				}
			}
			if err := c.blocks(cell.Content, 1); err != nil {
				return err
			}
		}
	}
	return nil
}

// flattenTable flattens a table cell by cell; a cell without words is an empty paragraph.
func flattenTable(out []Paragraph, table Node, depth int) []Paragraph {
	number := 0
	for _, p := range out {
		if p.Cell != nil {
			number = max(number, p.Cell.Table+1)
		}
	}
	columns := 0
	for _, row := range table.Content {
		columns = max(columns, len(row.Content))
	}
	for r, row := range table.Content {
		for i, cell := range row.Content {
			from := len(out)
			if out = flatten(out, cell.Content, 0, ""); len(out) == from {
				out = append(out, Paragraph{})
			}
			for j := from; j < len(out); j++ {
				out[j].Cell = &Cell{number, r, i, columns, cell.Type == "tableHeader"}
			}
		}
	}
	return out
}
