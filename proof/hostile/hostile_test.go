package hostile_test

import (
	"bytes"
	"context"
	"os"
	"os/exec"
	"path/filepath"
	"sync"
	"testing"

	"raconte/core/access"
	"raconte/platform/passwords"
	"raconte/proof/hostile"
	"raconte/server/servertest"
	"raconte/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// every is the how many'th thing of the corpus is sent: fewer with -short, as under the race detector.
func every() int {
	if testing.Short() {
		return 61
	}
	return 17
}

// TestNothingHostileBreaksTheServer sends a part of what "make hostile" sends; run with -race.
func TestNothingHostileBreaksTheServer(t *testing.T) {
	ctx := context.Background()
	var log bytes.Buffer
	h := servertest.Start(t, &log)
	hash, err := passwords.Hash("password")
	require.NoError(t, err)
	for name, role := range map[string]access.Role{"author": access.Author, "reader": access.Reader} {
		_, err := h.Store.Identity.CreateAccount(ctx, store.Account{Name: name, DisplayName: name, Role: role, PasswordHash: hash})
		require.NoError(t, err)
	}
	h.Work(t)
	author, err := hostile.SignIn(h.Address, "author", "password")
	require.NoError(t, err)
	reader, err := hostile.SignIn(h.Address, "reader", "password")
	require.NoError(t, err)
	var mu sync.Mutex
	codes := map[int]int{}
	require.NoError(t, hostile.Attack(ctx, author, reader, 1, every(), func(r hostile.Result) {
		mu.Lock()
		defer mu.Unlock()
		codes[r.Code]++
		assert.False(t, r.Broken(), "%s: %d %s", r.Name, r.Code, r.Said)
	}))
	assert.Greater(t, codes[200]+codes[201], 3, "some of it is in order")
	assert.Greater(t, codes[400]+codes[422], 8, "most is refused")
	if t.Failed() {
		t.Log(log.String())
	}
}

// TestNothingHostileBreaksTheCommandLine gives a part of it to the commands that work on files.
func TestNothingHostileBreaksTheCommandLine(t *testing.T) {
	if testing.Short() {
		t.Skip("the commands are the same under the race detector")
	}
	bin := "../../bin/raconte"
	if _, err := os.Stat(bin); err != nil {
		t.Skip("bin/raconte is not built: run make test")
	}
	dir := t.TempDir()
	run := func(args ...string) {
		out, err := exec.Command(bin, args...).CombinedOutput()
		var exit *exec.ExitError
		if err != nil {
			require.ErrorAs(t, err, &exit)
			assert.Contains(t, []int{1, 2, 3}, exit.ExitCode(), "%v: %s", args, out)
		}
		assert.NotContains(t, string(out), "goroutine ", "%v", args)
		assert.NotContains(t, string(out), "\x1b", "%v", args)
	}
	for n, f := range hostile.Bundles(1) {
		if n%17 == 0 {
			path := filepath.Join(dir, "in.bundle")
			require.NoError(t, os.WriteFile(path, f.Data, 0o600))
			run("check", path)
			run("render", path, "-o", filepath.Join(dir, "out.pdf"))
			run("flatten", path, "--figure", "f1", "-o", filepath.Join(dir, "out.png"))
		}
	}
	for n, f := range hostile.Pictures(1) {
		if n%17 == 0 {
			path := filepath.Join(dir, "picture\x1b[31m.png")
			require.NoError(t, os.WriteFile(path, f.Data, 0o600))
			run("compare", path, path)
		}
	}
}
