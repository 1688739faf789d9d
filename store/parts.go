package store

// Store is the database, in the parts in which it is changed: what one transaction keeps whole belongs to one part. A
// part knows those that its fields name, and nothing of the rest: arrows go one way.
type Store struct {
	*base
	Trail     *Trail
	Jobs      *Jobs
	Identity  *Identity
	Setup     *Setup
	Captures  *Captures
	Documents *Documents
	Releases  *Releases
	Reviews   *Reviews
	Exchange  *Exchange
	Search    *Search
}

// Trail is what was done, and who is told of it.
type Trail struct{ *base }

// Jobs is work that is done in the background.
type Jobs struct {
	*base
	trail *Trail
}

// Identity is people, their groups, and how they come in.
type Identity struct {
	*base
	trail *Trail
}

// Setup is what the house has chosen: folders, styles, templates, numbers, rules and words.
type Setup struct {
	*base
	trail *Trail
}

// Captures is sessions and their shots.
type Captures struct{ *base }

// Documents is documents as they are written, with their blocks and what hangs on them.
type Documents struct {
	*base
	trail    *Trail
	jobs     *Jobs
	setup    *Setup
	captures *Captures
}

// Releases is revisions, which readers see.
type Releases struct {
	*base
	trail     *Trail
	jobs      *Jobs
	documents *Documents
}

// Reviews is what colleagues say of a document: before it is released, and after.
type Reviews struct {
	*base
	trail     *Trail
	identity  *Identity
	setup     *Setup
	documents *Documents
	releases  *Releases
}

// Exchange is what comes in and goes out: doors, receivers, links for guests, standing deliveries.
type Exchange struct {
	*base
	trail     *Trail
	jobs      *Jobs
	setup     *Setup
	documents *Documents
}

// Search is what is found, and what is at hand.
type Search struct {
	*base
	words     vocabulary
	setup     *Setup
	documents *Documents
}

// divided is a store in its parts.
func divided(b *base) *Store {
	s := &Store{base: b, Trail: &Trail{b}, Captures: &Captures{b}}
	s.Jobs = &Jobs{b, s.Trail}
	s.Identity = &Identity{b, s.Trail}
	s.Setup = &Setup{b, s.Trail}
	s.Documents = &Documents{b, s.Trail, s.Jobs, s.Setup, s.Captures}
	s.Releases = &Releases{b, s.Trail, s.Jobs, s.Documents}
	s.Reviews = &Reviews{b, s.Trail, s.Identity, s.Setup, s.Documents, s.Releases}
	s.Exchange = &Exchange{b, s.Trail, s.Jobs, s.Setup, s.Documents}
	s.Search = &Search{base: b, setup: s.Setup, documents: s.Documents}
	return s
}
