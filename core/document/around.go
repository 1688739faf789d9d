package document

// Other is what is known of a document that another leads to.
type Other struct {
	ID       string `json:"id"`
	Kind     Kind   `json:"kind"`
	Title    string `json:"title"`
	Number   string `json:"number,omitempty"`
	Revision int    `json:"revision"`          // the valid one; 0 where there is none
	Seconds  int    `json:"seconds,omitempty"` // that it takes, with what it hands over to
	Retired  bool   `json:"retired,omitempty"` // it is not valid any more
	Closed   bool   `json:"closed,omitempty"`  // whoever asks may not open it: nothing but whom to ask is told
	Ask      string `json:"ask,omitempty"`     // whom to ask for it
	Address  string `json:"address,omitempty"` // where it is read
}

// Said is the other document in one line.
func (o Other) Said() string {
	switch {
	case o.Closed:
		return "A closed document"
	case o.Number != "":
		return o.Number + " " + o.Title
	}
	return o.Title
}

// Around are the documents that another leads to, by their ids. Those that are gone are not among them.
type Around map[string]Other

// Titles are what references to them read as.
func (a Around) Titles() map[string]string {
	titles := make(map[string]string, len(a))
	for id, o := range a {
		titles[id] = o.Said()
	}
	return titles
}

// Timed is the document with the time of each step that hands over, and of which nobody has said how long it takes, as
// long as what it hands over to.
func (d Document) Timed(around Around) Document {
	blocks := make([]Block, len(d.Blocks))
	for i, b := range d.Blocks {
		if b.Type == Step && b.Document != "" && b.Seconds == 0 {
			b.Seconds = min(around[b.Document].Seconds, LongestStep)
		}
		blocks[i] = b
	}
	d.Blocks = blocks
	return d
}
