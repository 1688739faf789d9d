package document

import "slices"

// Kind says what a document is.
type Kind string

// The kinds of documents.
const (
	Procedure Kind = "procedure"
	Manual    Kind = "manual"  // chapters are procedures
	Filed     Kind = "filed"   // a PDF from elsewhere
	Report    Kind = "report"  // of a fault
	Request   Kind = "request" // for support
	Answer    Kind = "answer"  // to what is asked again and again
)

// Type says what a block is.
type Type string

// The types of blocks.
const (
	Section Type = "section" // a heading
	Step    Type = "step"    // something to do, and pictures of it
	Passage Type = "passage" // words and pictures between steps
	Chapter Type = "chapter" // a procedure in a manual
)

// traits are what a kind of documents has. Adding a kind is adding a row to kinds.
type traits struct {
	name   string // as people read it
	blocks []Type // that it is made of
	needs  Type   // it can't be ready without one of these
	asks   []Question
	sent   bool // it is sent rather than released: never a draft
}

var kinds = map[Kind]traits{
	Procedure: {name: "Procedure", blocks: []Type{Section, Step, Passage}, needs: Step},
	Manual:    {name: "Manual", blocks: []Type{Section, Passage, Chapter}, needs: Chapter},
	Filed:     {name: "Filed PDF"},
	Report:    {name: "Bug report", blocks: []Type{Step, Passage}, asks: []Question{Happened, Expected, Often, Bad, Where}, sent: true},
	Answer:    {name: "Stock answer", blocks: []Type{Step, Passage}, sent: true},
	Request:   {name: "Support request", blocks: []Type{Step, Passage}, asks: []Question{Wanted, Wrong, Tried, Urgent, Reach, Reply}, sent: true},
}

// Known tells whether there is such a kind.
func (k Kind) Known() bool { return kinds[k].name != "" }

// Name is the kind as people read it.
func (k Kind) Name() string { return kinds[k].name }

// Sent tells whether documents of the kind are sent rather than released, and so are never drafts.
func (k Kind) Sent() bool { return kinds[k].sent }

// Has tells whether documents of the kind are made of such blocks.
func (k Kind) Has(t Type) bool { return slices.Contains(kinds[k].blocks, t) }

// Needs is the type of blocks that a document of the kind can't do without.
func (k Kind) Needs() Type { return kinds[k].needs }

func (t Type) known() bool { return t == Section || t == Step || t == Passage || t == Chapter }
