package approval_test

import (
	"testing"

	"raconte/core/access"
	"raconte/core/approval"

	"github.com/stretchr/testify/assert"
)

// Where a document was moved, the rules of both folders hold until it is released.
func TestOfSeveralRulesNoneIsWeakenedByAnother(t *testing.T) {
	none := approval.Rules{{}, {}}
	assert.Zero(t, none.Needed())
	assert.Equal(t, approval.Rule{}.Said(), none.Said())
	assert.Equal(t, approval.Rule{}, none.Strictest())

	here := approval.Rule{Needed: 1, People: []string{"ines"}, Only: true}
	there := approval.Rule{Needed: 2, NotAuthor: true, Ordered: true, People: []string{"adaeze", "ines"}}
	both := approval.Rules{{}, here, there}
	assert.Equal(t, 2, both.Needed())
	strict := both.Strictest()
	assert.Equal(t, approval.Rule{Needed: 2, NotAuthor: true, Ordered: true, People: []string{"ines", "adaeze"}}, strict)
	assert.Equal(t, []string{"ines"}, here.People, "the rules stay as they are")

	ines := access.Viewer{Account: "ines", Role: access.Author}
	assert.NoError(t, both.May(ines, "", []string{"tomasz"}))
	assert.Error(t, both.May(ines, "", []string{"ines"}), "what one rule forbids a writer, another does not allow")
	assert.NoError(t, approval.Rules{here}.May(ines, "", []string{"ines"}))
	assert.Error(t, both.May(access.Viewer{Account: "tomasz", Role: access.Author}, "", nil), "whom none of them names")
	assert.NoError(t, none.May(access.Viewer{Account: "adaeze", Role: access.Approver}, "", nil))

	all := func(approval.Rule, string) bool { return true }
	sign := func(who string) approval.Signature { return approval.Signature{Account: who, Digest: "x"} }
	assert.False(t, both.Enough([]approval.Signature{sign("ines")}, "x", all), "one is enough here, and not there")
	assert.True(t, both.Enough([]approval.Signature{sign("ines"), sign("adaeze")}, "x", all))
	named := func(r approval.Rule, who string) bool { return !r.Only || who == "ines" }
	assert.False(t, both.Enough([]approval.Signature{sign("adaeze"), sign("maud")}, "x", named), "nobody signed who may here")
	assert.False(t, none.Enough(nil, "x", all))
	assert.True(t, none.Enough([]approval.Signature{sign("ines")}, "x", all))

	name := func(id string) string { return id }
	assert.Error(t, both.Turn("b", []string{"a", "b"}, nil, name))
	assert.NoError(t, approval.Rules{here}.Turn("b", []string{"a", "b"}, nil, name), "no rule has an order")
	assert.Equal(t, here.Said(), approval.Rules{{}, here, here}.Said(), "what two rules say is said once")
}
