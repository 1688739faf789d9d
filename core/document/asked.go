package document

import (
	"maps"
	"slices"

	"raconte/core/words"
)

// Question is what a passage of a report or a request answers.
type Question string

// The questions of a bug report, then those of a support request.
const (
	Happened Question = "happened"
	Expected Question = "expected"
	Often    Question = "often"
	Bad      Question = "bad"
	Where    Question = "where"

	Wanted Question = "wanted"
	Wrong  Question = "wrong"
	Tried  Question = "tried"
	Urgent Question = "urgent"
	Reach  Question = "reach"
	Reply  Question = "reply" // written by whoever helps
)

// questions are how each is put to people; core/style has what is printed, in its languages.
var questions = map[Question]string{
	Happened: "What happened", Expected: "What was expected", Often: "How often", Bad: "How bad it is", Where: "Where",
	Wanted: "What I want to do", Wrong: "What goes wrong", Tried: "What I tried", Urgent: "How urgent it is", Reach: "How to reach me", Reply: "Answer",
}

// choices are what most answers to a question are.
var choices = map[Question][]string{
	Often:  {"Every time", "Often", "Now and then", "Once"},
	Bad:    {"Nobody can work", "A task can’t be done", "There is a way around it", "It only looks wrong"},
	Urgent: {"I can’t work", "Today", "This week", "When there is time"},
}

// Choices are what most answers to the question are; none of one that is answered in one's own words.
func (q Question) Choices() []string { return choices[q] }

// Questions are all of them.
func Questions() []Question { return slices.Sorted(maps.Keys(questions)) }

// Said is the question as people are asked it; "" of one that is not known.
func (q Question) Said() string { return questions[q] }

// Repeat is the heading over the steps of a report.
const Repeat = "Steps to make it happen again"

// Asks are the questions of a kind of documents, in their order. One that none are asked of is written freely.
func (k Kind) Asks() []Question { return kinds[k].asks }

// Asked are blocks in which every question of the kind has its passage: those that are missing are added, empty, and
// all answers come first, in the order of the questions. What else there is follows as it was.
func Asked(kind Kind, blocks []Block, newID func() string) []Block {
	var out []Block
	for _, q := range kind.Asks() {
		at := slices.IndexFunc(blocks, func(b Block) bool { return b.Asks == q })
		if at >= 0 {
			out = append(out, blocks[at])
			continue
		}
		b := NewPassage(newID(), words.Plain(""))
		b.Asks = q
		out = append(out, b)
	}
	for _, b := range blocks {
		if b.Asks == "" {
			out = append(out, b)
		}
	}
	return out
}

// Answer is what answers a question.
func (d Document) Answer(q Question) (Block, bool) {
	for _, b := range d.Blocks {
		if b.Asks == q {
			return b, true
		}
	}
	return Block{}, false
}

// Unanswered tells whether nothing is said and shown in a block.
func (b Block) Unanswered() bool { return b.Words.Empty() && len(b.Figures) == 0 }

// Unfilled are the places that are still to be filled in of what answers a request, each once: what has one is not
// sent.
func (d Document) Unfilled() []string {
	all := words.Node{}
	for _, b := range d.Blocks {
		if b.Asks == Reply || b.Asks == "" {
			all.Content = append(all.Content, b.Words)
		}
	}
	return all.Places()
}
