package words

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestPlacesAreFilledInOnce(t *testing.T) {
	n := Plain("Dear {name}, lot {lot} of {name}. {} {1} { x } {")
	assert.Equal(t, []string{"name", "lot"}, n.Places())
	filled := n.Filled(map[string]string{"name": "{lot}", "lot": ""})
	assert.Equal(t, "Dear {lot}, lot {lot} of {lot}. {} {1} { x } {", filled.Reading(nil), "what is filled in is not looked at again")
	assert.Equal(t, "Dear {name}, lot {lot} of {name}. {} {1} { x } {", n.Reading(nil), "and the text stays as it was")
	assert.NoError(t, filled.Check())
}
