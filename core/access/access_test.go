package access_test

import (
	"testing"

	. "raconte/core/access"

	"github.com/stretchr/testify/assert"
)

func TestWhoMayDoWhat(t *testing.T) {
	mine, theirs, draft := Thing{Owner: "me"}, Thing{Owner: "them"}, Thing{Owner: "me", Draft: true}
	for _, c := range []struct {
		role Role
		act  Act
		on   Thing
		may  bool
	}{
		{Reader, Read, Thing{}, true}, {Reader, Edit, Thing{}, false}, {Reader, Release, Thing{}, false}, {Reader, Review, Thing{}, false},
		{Reader, Own, mine, true}, {Reader, Own, theirs, false}, {Reader, Own, draft, false}, {Reader, Approve, Thing{}, false},
		{Author, Own, draft, true}, {Author, Edit, Thing{}, true}, {Author, Release, Thing{}, true}, {Author, Review, Thing{}, true},
		{Author, Approve, Thing{}, false}, {Author, Administer, Thing{}, false},
		{Approver, Read, Thing{Draft: true}, true}, {Approver, Review, Thing{}, true}, {Approver, Approve, Thing{}, true},
		{Approver, Edit, Thing{}, false}, {Approver, Release, Thing{}, false}, {Approver, Administer, Thing{}, false},
		{Administrator, Administer, Thing{}, true}, {Administrator, Edit, Thing{}, true}, {Administrator, Own, theirs, false},
		{"guest", Read, Thing{}, false}, {"", Read, Thing{}, false}, {Author, "burn", Thing{}, false},
		{Author, Read, Thing{Folder: "shut"}, false}, {Author, Edit, Thing{Folder: "shut"}, false}, {Author, Edit, Thing{Folder: "other"}, true},
	} {
		assert.Equal(t, c.may, May(Viewer{Account: "me", Role: c.role, Closed: []string{"shut"}}, c.act, c.on), "%s %s %+v", c.role, c.act, c.on)
	}
	assert.False(t, May(Viewer{Role: Author}, Read, Thing{}), "nobody may do anything")
}
