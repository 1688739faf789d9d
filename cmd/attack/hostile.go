package main

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"raconte/practice/demo"
	"raconte/proof/hostile"

	"github.com/spf13/cobra"
)

// What is promised.
const (
	longest    = 10 * time.Second
	mostMemory = 1536 << 10 // kilobytes more than at rest
	beside     = 2 * time.Second
	command    = 20 * time.Second // pages, then a picture
)

func hostileCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "hostile ADDRESS PID", Short: "Send hostile pictures, bundles, changes and values to a server and to the command line", Args: cobra.ExactArgs(2),
	}
	seed := cmd.Flags().Uint64("seed", 1, "of the corpus")
	bin := cmd.Flags().String("bin", "bin/raconte", "the command line")
	cmd.RunE = func(cmd *cobra.Command, args []string) error {
		pid, err := strconv.Atoi(args[1])
		if err != nil {
			return fmt.Errorf("%s is no process", args[1])
		}
		failed := attackServer(cmd.Context(), args[0], pid, *seed)
		failed += attackCommands(*bin, *seed)
		if failed > 0 {
			return fmt.Errorf("%d promises were broken", failed)
		}
		fmt.Println("All promises were kept.")
		return nil
	}
	return cmd
}

func attackServer(ctx context.Context, address string, pid int, seed uint64) (failed int) {
	author, err := hostile.SignIn(address, "tomasz", demo.Password)
	if err != nil {
		fmt.Println(err)
		return 1
	}
	reader, err := hostile.SignIn(address, "ruben", demo.Password)
	if err != nil {
		fmt.Println(err)
		return 1
	}
	good, err := hostile.SignIn(address, "ines", demo.Password)
	if err != nil {
		fmt.Println(err)
		return 1
	}
	var mu sync.Mutex
	broken := func(format string, args ...any) {
		mu.Lock()
		defer mu.Unlock()
		failed++
		fmt.Printf("BROKEN: "+format+"\n", args...)
	}
	watching, stop := context.WithCancel(ctx)
	var watchers sync.WaitGroup
	rest := memory(pid)
	peak := rest
	watchers.Go(func() {
		for watching.Err() == nil {
			peak = max(peak, memory(pid))
			time.Sleep(50 * time.Millisecond)
		}
	})
	var waits []time.Duration
	watchers.Go(func() {
		hostile.Work(watching, good, func(r hostile.Result) {
			waits = append(waits, r.Took)
			if r.Took > beside || r.Code != 200 {
				broken("%s: %d after %.1f s", r.Name, r.Code, r.Took.Seconds())
			}
		})
	})
	codes, slowest, sent := map[int]int{}, hostile.Result{}, 0
	began := time.Now()
	err = hostile.Attack(ctx, author, reader, seed, 1, func(r hostile.Result) {
		if r.Broken() || r.Took > longest {
			broken("%s: %d after %.1f s: %.200s", r.Name, r.Code, r.Took.Seconds(), r.Said)
		}
		mu.Lock()
		defer mu.Unlock()
		codes[r.Code]++
		sent++
		if r.Took > slowest.Took {
			slowest = r
		}
	})
	stop()
	watchers.Wait()
	if err != nil {
		broken("%v", err)
	}
	if peak-rest > mostMemory {
		broken("the server took %d MB more than at rest", (peak-rest)>>10)
	}
	sort.Slice(waits, func(i, j int) bool { return waits[i] < waits[j] })
	fmt.Printf("%d requests in %.0f s: %v. The slowest took %.1f s (%s).\n", sent, time.Since(began).Seconds(), codes, slowest.Took.Seconds(), slowest.Name)
	fmt.Printf("Memory at rest %d MB, at most %d MB more.\n", rest>>10, (peak-rest)>>10)
	if len(waits) > 0 {
		fmt.Printf("The author beside it: %d uploads, median %.2f s, slowest %.2f s.\n", len(waits), waits[len(waits)/2].Seconds(), waits[len(waits)-1].Seconds())
	}
	return failed
}

// memory is what a process has in memory, in kilobytes.
func memory(pid int) int {
	raw, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil {
		return 0
	}
	for _, line := range strings.Split(string(raw), "\n") {
		if f := strings.Fields(line); len(f) > 1 && f[0] == "VmRSS:" {
			n, _ := strconv.Atoi(f[1])
			return n
		}
	}
	return 0
}

func attackCommands(bin string, seed uint64) (failed int) {
	dir, err := os.MkdirTemp("", "raconte-hostile-")
	if err != nil {
		fmt.Println(err)
		return 1
	}
	defer os.RemoveAll(dir)
	ran, slowest, largest, name := 0, time.Duration(0), int64(0), ""
	run := func(what string, args ...string) {
		cmd := exec.Command(bin, args...)
		began := time.Now()
		out, err := cmd.CombinedOutput()
		took := time.Since(began)
		ran++
		usage, _ := cmd.ProcessState.SysUsage().(*syscall.Rusage)
		if usage != nil && usage.Maxrss > largest {
			largest = usage.Maxrss
		}
		if took > slowest {
			slowest, name = took, what
		}
		code := cmd.ProcessState.ExitCode()
		if code < 0 || code > 3 || took > command || strings.Contains(string(out), "goroutine ") || strings.Contains(string(out), "\x1b") || (usage != nil && usage.Maxrss > mostMemory) {
			failed++
			fmt.Printf("BROKEN: %s %s: exit %d after %.1f s: %v %.200s\n", what, args[0], code, took.Seconds(), err, out)
		}
	}
	path := filepath.Join(dir, "in\x1b[31m")
	for _, f := range hostile.Bundles(seed) {
		if err := os.WriteFile(path, f.Data, 0o600); err != nil {
			fmt.Println(err)
			return failed + 1
		}
		run(f.Name, "check", path)
		run(f.Name, "render", path, "-o", filepath.Join(dir, "out.pdf"))
		run(f.Name, "flatten", path, "--figure", "f1", "-o", filepath.Join(dir, "out.png"))
	}
	for _, f := range hostile.Pictures(seed) {
		if err := os.WriteFile(path, f.Data, 0o600); err != nil {
			fmt.Println(err)
			return failed + 1
		}
		run(f.Name, "compare", path, path)
	}
	fmt.Printf("%d commands: the slowest took %.1f s (%s), the largest %d MB.\n", ran, slowest.Seconds(), name, largest>>10)
	return failed
}
