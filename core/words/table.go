package words

import "fmt"

// Limits of a table.
const (
	mostRows    = 60
	mostColumns = 8
)

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
