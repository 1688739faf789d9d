package approval_test

import (
	"testing"

	"raconte/core/access"
	"raconte/core/approval"

	"github.com/stretchr/testify/assert"
)

func TestWhoMaySignAndWhenItIsEnough(t *testing.T) {
	adaeze := access.Viewer{Account: "adaeze", Role: access.Approver}
	ines := access.Viewer{Account: "ines", Role: access.Author}
	ruben := access.Viewer{Account: "ruben", Role: access.Reader}
	two := approval.Rule{Needed: 2, Ordered: true, NotAuthor: true, People: []string{"ines", "ruben"}}
	assert.NoError(t, two.May(adaeze, "", []string{"tomasz"}))
	assert.NoError(t, two.May(ines, "", []string{"tomasz"}), "an author whom the folder names")
	assert.Error(t, two.May(ines, "", []string{"ines"}), "but not of what she has written")
	assert.Error(t, two.May(ruben, "", nil), "a reader sees no drafts, whoever names them")
	assert.Error(t, approval.Rule{Needed: 1}.May(ines, "", nil), "an author whom nobody names")
	adaeze.Closed = []string{"shut"}
	assert.Error(t, two.May(adaeze, "shut", nil))
	two.Only = true
	assert.Error(t, two.May(access.Viewer{Account: "maud", Role: access.Administrator}, "", nil))

	sign := func(who, what string) approval.Signature { return approval.Signature{Account: who, Digest: what} }
	assert.False(t, two.Enough([]approval.Signature{sign("a", "x"), sign("a", "x"), sign("b", "y")}, "x"), "each signs once, and the same thing")
	assert.True(t, two.Enough([]approval.Signature{sign("a", "x"), sign("b", "x")}, "x"))
	assert.False(t, approval.Rule{}.Enough(nil, "x"))

	name := func(id string) string { return id }
	assert.ErrorContains(t, two.Turn("b", []string{"a", "b"}, nil, name), "a signs before you")
	assert.NoError(t, two.Turn("b", []string{"a", "b"}, []string{"a"}, name))
	assert.Error(t, two.Turn("a", []string{"a", "b"}, []string{"a"}, name))
	assert.Error(t, two.Turn("c", []string{"a", "b"}, nil, name))
	assert.Error(t, approval.Rule{Needed: 2, Only: true, People: []string{"a"}}.Check())
	assert.Error(t, approval.Rule{Needed: 6}.Check())
	assert.Equal(t, "2 people approve, one after the other, not those who have written it", two.Said())
}
