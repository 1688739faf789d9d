// Package access says who may do what. Everything that decides on it asks here: the server for every request and
// every list, and the interface through the acts that the server names with an account.
package access

import "slices"

// Role says what an account may do.
type Role string

// The roles.
const (
	Reader        Role = "reader"        // follows what was released
	Author        Role = "author"        // writes
	Approver      Role = "approver"      // sees what is written, comments, approves; edits nothing
	Administrator Role = "administrator" // all, and the accounts
)

// Act is what someone wants to do with a thing.
type Act string

// The acts.
const (
	Read       Act = "read"       // what was handed out: the last ready revision, finished pictures
	Review     Act = "review"     // drafts: to see them, and to comment
	Edit       Act = "edit"       // drafts, shots, sessions: to change them
	Release    Act = "release"    // to make a revision for readers
	Approve    Act = "approve"    // to sign a revision, where the rule of its folder names nobody
	Administer Act = "administer" // accounts, folders, what holds for the house
	Own        Act = "own"        // one's own deliveries, recorders, sessions: to see and to end them
)

// Acts are all acts, for telling an interface which of them a viewer may do at all.
var Acts = []Act{Read, Review, Edit, Release, Approve, Administer, Own}

// grants are what each role may do.
var grants = map[Role][]Act{
	Reader:        {Read, Own},
	Author:        {Read, Own, Review, Edit, Release},
	Approver:      {Read, Own, Review, Approve},
	Administrator: Acts,
}

// Known tells whether there is such a role.
func (r Role) Known() bool { return grants[r] != nil }

// Known tells whether there is such an act.
func (a Act) Known() bool { return slices.Contains(Acts, a) }

// Viewer is who asks.
type Viewer struct {
	Account string // "" is nobody
	Role    Role
	Closed  []string // the folders that are not open to them
}

// House asks for the house itself, where nobody in particular does: it may know of everything.
var House = Viewer{Account: "house", Role: Administrator}

// Thing is what an act is done with. The zero Thing is anything of the house.
type Thing struct {
	Owner  string // the account it belongs to; "" where it belongs to the house
	Draft  bool   // it holds what only those who review may see
	Folder string // that it lies in; "" for none
}

// May tells whether a viewer may do an act with a thing. What is someone's own is nobody else's, whatever their role.
func May(v Viewer, act Act, on Thing) bool {
	granted := grants[v.Role]
	if v.Account == "" || !slices.Contains(granted, act) || (on.Folder != "" && slices.Contains(v.Closed, on.Folder)) {
		return false
	}
	if on.Draft && !slices.Contains(granted, Review) {
		return false
	}
	return act != Own || on.Owner == "" || on.Owner == v.Account
}
