package web_test

import (
	"fmt"
	"os"
	"testing"

	"raconte/core/document"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatABrowserKeepsIsOfTodaysFormat(t *testing.T) {
	page, err := os.ReadFile("src/base/api/format.ts")
	require.NoError(t, err)
	assert.Contains(t, string(page), fmt.Sprintf("export const format = %d;\n", document.Format))
}
