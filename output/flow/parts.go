package flow

// Part is a heading with what stands under it, up to the next heading. What stands before the first heading is a part
// whose heading says nothing.
type Part struct {
	Head  Block
	Under []Block // steps and passages
}

// Parts are the document by its headings.
func (d *Document) Parts() []Part {
	var all []Part
	for _, b := range d.Blocks {
		switch {
		case b.Heading():
			all = append(all, Part{Head: b})
			continue
		case len(all) == 0:
			all = append(all, Part{})
		}
		last := &all[len(all)-1]
		last.Under = append(last.Under, b)
	}
	return all
}
