// Package access says who may do what. Everything that decides on it asks here: the server for every request and
// every list, and the interface through the acts that the server names with an account.
package access

import "slices"

// Role says what an account may do; each role may do all that those before it may.
type Role string

// The roles, least first.
const (
	Reader        Role = "reader"
	Author        Role = "author"
	Approver      Role = "approver"
	Administrator Role = "administrator"
)

var rank = map[Role]int{Reader: 1, Author: 2, Approver: 3, Administrator: 4}

// AtLeast tells whether a role includes another; an unknown role includes none.
func (r Role) AtLeast(o Role) bool { return rank[r] > 0 && rank[o] > 0 && rank[r] >= rank[o] }

// Viewer is who asks.
type Viewer struct {
	Account string // "" is nobody
	Role    Role
	Closed  []string // the folders that are not open to them
}

// Act is what someone wants to do with a thing.
type Act string

// The acts.
const (
	Read    Act = "read"    // what was handed out: the last ready revision, finished pictures
	Edit    Act = "edit"    // drafts, shots, sessions: to see and to change them
	Release Act = "release" // to make a revision for readers
	Own     Act = "own"     // one's own deliveries, recorders, sessions: to see and to end them
)

// Acts are all acts, for telling an interface which of them a viewer may do at all.
var Acts = []Act{Read, Edit, Release, Own}

// Thing is what an act is done with. The zero Thing is anything of the house.
type Thing struct {
	Owner  string // the account it belongs to; "" where it belongs to the house
	Draft  bool   // it holds what only those who edit may see
	Folder string // that it lies in; "" for none
}

// May tells whether a viewer may do an act with a thing.
func May(v Viewer, act Act, on Thing) bool {
	if v.Account == "" || (on.Draft && !v.Role.AtLeast(Author)) || (on.Folder != "" && slices.Contains(v.Closed, on.Folder)) {
		return false
	}
	switch act {
	case Read:
		return v.Role.AtLeast(Reader)
	case Edit, Release:
		return v.Role.AtLeast(Author)
	case Own:
		return v.Role.AtLeast(Reader) && (on.Owner == "" || on.Owner == v.Account)
	}
	return false
}
