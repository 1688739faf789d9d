package story

import "strings"

// Said are the words of a block as they are spoken: what markers show is seen, and not said.
func (b Block) Said() string {
	var all []string
	for _, p := range b.Words.Paragraphs() {
		line := ""
		for _, s := range p.Spans {
			if s.Marker == "" {
				line += s.Text
			}
		}
		line = strings.Join(strings.Fields(line), " ")
		line = strings.NewReplacer(" ,", ",", " .", ".", " ;", ";", "()", "").Replace(line)
		if line == "" {
			continue
		}
		if !strings.ContainsAny(line[len(line)-1:], ".!?:;,") {
			line += "."
		}
		all = append(all, line)
	}
	return strings.Join(all, " ")
}

// Naming tells after how many of a block's letters its words name each mark, by its id, and how many letters there are.
func (b Block) Naming() (letters int, marks map[string]int) {
	marks = map[string]int{}
	for _, p := range b.Words.Paragraphs() {
		for _, s := range p.Spans {
			if s.Marker != "" {
				if _, named := marks[s.Marker]; !named {
					marks[s.Marker] = letters
				}
				continue
			}
			letters += len([]rune(s.Text))
		}
	}
	return letters, marks
}
