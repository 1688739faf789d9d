package document

import (
	"raconte/core/access"
	"raconte/core/refusal"
)

// State says how far a document has come.
type State string

// The states of a document.
const (
	Draft   State = "draft"
	Ready   State = "ready"
	Retired State = "retired" // not valid any more; nobody follows it
)

// Act is what someone does to a document's state.
type Act string

// The acts. Edit is every change of what the document says.
const (
	Edit    Act = "edit"
	Release Act = "release" // to mark it ready, which makes a revision
	Reopen  Act = "reopen"  // to make it a draft again
	Retire  Act = "retire"  // to say that it is not valid any more
)

// acts are what leads from a state to another, and what one must be allowed to do.
var acts = map[Act]struct {
	from map[State]State
	may  access.Act
	deny string
}{
	Edit:    {map[State]State{Draft: Draft, Ready: Draft}, access.Edit, "Your account may not change documents."},
	Release: {map[State]State{Draft: Ready, Ready: Ready}, access.Release, "Your account may not make revisions."},
	Reopen:  {map[State]State{Draft: Draft, Ready: Draft, Retired: Draft}, access.Release, "Your account may not make a revision a draft again."},
	Retire:  {map[State]State{Draft: Retired, Ready: Retired}, access.Release, "Your account may not retire documents."},
}

// Next is the state that an act of someone's leads to, or a refusal that says why not.
func Next(from State, act Act, who access.Viewer) (State, error) {
	a, known := acts[act]
	to, leads := a.from[from]
	if !known || !leads {
		if from == Retired {
			return from, refusal.New("The document is retired. Make it a draft again first.")
		}
		return from, refusal.New("A document in the state %q can't be changed in this way.", from)
	}
	if !access.May(who, a.may, access.Thing{}) {
		return from, refusal.New("%s", a.deny)
	}
	return to, nil
}
