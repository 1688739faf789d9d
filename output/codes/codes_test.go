package codes_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"raconte/output/codes"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// read has what a scanner reads from a file, by zbar; a PDF is drawn by poppler first.
func read(t *testing.T, name string, data []byte) string {
	for _, tool := range []string{"zbarimg", "pdftoppm"} {
		if _, err := exec.LookPath(tool); err != nil {
			t.Skip(tool + " is not here")
		}
	}
	file := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(file, data, 0o600))
	if strings.HasSuffix(name, ".pdf") {
		require.NoError(t, exec.Command("pdftoppm", "-r", "100", "-png", file, file).Run())
		pages, err := filepath.Glob(file + "*.png")
		require.NoError(t, err)
		all := ""
		for _, page := range pages {
			out, err := exec.Command("zbarimg", "-q", "--raw", page).Output()
			require.NoError(t, err)
			all += string(out)
		}
		return all
	}
	out, err := exec.Command("zbarimg", "-q", "--raw", file).Output()
	require.NoError(t, err)
	return strings.TrimSpace(string(out))
}

func TestCodesAreReadByAScanner(t *testing.T) {
	const address = "https://raconte.house.example/s/9fYwq3r2Zt_kk1LmNoPqRsTuVwXyZ0123456789abcd"
	png, err := codes.PNG(address)
	require.NoError(t, err)
	assert.Equal(t, address, read(t, "code.png", png))
	svg, err := codes.SVG(address)
	require.NoError(t, err)
	assert.Contains(t, string(svg), "<svg xmlns=")
	one, err := codes.PDF(t.Context(), codes.Named{Name: "Kühlraum 7", Address: address})
	require.NoError(t, err)
	assert.Equal(t, address, strings.TrimSpace(read(t, "one.pdf", one)))

	var all []codes.Named
	for i := range 14 {
		all = append(all, codes.Named{Name: fmt.Sprintf("Door %d: what to do when it does not close any more after the last lot", i), Address: fmt.Sprintf("%s/%d", address, i)})
	}
	sheet, err := codes.Sheet(t.Context(), all)
	require.NoError(t, err)
	found := read(t, "sheet.pdf", sheet)
	for _, n := range all {
		assert.Contains(t, found, n.Address+"\n")
	}
	_, err = codes.Sheet(t.Context(), nil)
	assert.Error(t, err)
	_, err = codes.SVG(strings.Repeat("x", 3000))
	assert.Error(t, err)
}
