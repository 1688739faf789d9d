package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"raconte/intake"
	"raconte/practice/demo"
	"raconte/proof/hostile"

	"github.com/google/uuid"
	"github.com/spf13/cobra"
)

const writers = 6

func killsCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "kills ADDRESS", Short: "Kill the server and its database again and again under writers, and look whether anything acknowledged is lost", Args: cobra.ExactArgs(1),
	}
	times := cmd.Flags().Int("times", 100, "how often; every fifth time the database")
	cmd.RunE = func(cmd *cobra.Command, args []string) error { return kills(cmd.Context(), args[0], *times) }
	return cmd
}

// acknowledged is what the server has confirmed.
type acknowledged struct {
	mu    sync.Mutex
	shots map[string][]byte   // what is to be had, by id
	steps map[string][]string // ids of steps by document
}

func kills(ctx context.Context, address string, times int) error {
	ack := &acknowledged{shots: map[string][]byte{}, steps: map[string][]string{}}
	server, err := startServer(address)
	if err != nil {
		return err
	}
	defer func() { // however it ends, none is left running
		_ = server.Process.Signal(syscall.SIGTERM)
		_ = server.Wait()
	}()
	working, stop := context.WithCancel(ctx)
	defer stop()
	var group sync.WaitGroup
	for n := range writers {
		group.Go(func() { write(working, address, n, ack) })
	}
	random := rand.New(rand.NewPCG(1, 5))
	for n := 1; n <= times; n++ {
		time.Sleep(time.Duration(200+random.IntN(900)) * time.Millisecond)
		if n%5 == 0 {
			if err := killDatabase(); err != nil {
				return err
			}
		}
		_ = server.Process.Signal(syscall.SIGKILL)
		_ = server.Wait() // it was killed
		next, err := startServer(address)
		if err != nil {
			return err
		}
		server = next
		if n%10 == 0 {
			ack.mu.Lock()
			fmt.Printf("%d kills, %d shots acknowledged\n", n, len(ack.shots))
			ack.mu.Unlock()
		}
	}
	time.Sleep(time.Second)
	if err := stopDatabase(ctx, address); err != nil {
		return err
	}
	stop()
	group.Wait()
	return look(ctx, address, ack, times)
}

func startServer(address string) (*exec.Cmd, error) {
	cmd := exec.Command("bin/raconte", "serve")
	cmd.Stderr = os.Stderr
	if log, err := os.OpenFile(os.Getenv("RACONTE_DATA")+"/raconte.log", os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600); err == nil {
		defer log.Close()
		cmd.Stderr = log
	}
	if err := cmd.Start(); err != nil {
		return nil, fmt.Errorf("starting the server: %w", err)
	}
	for range 300 {
		res, err := http.Get(address + "/api/health")
		if err == nil {
			res.Body.Close()
			if res.StatusCode == http.StatusOK {
				return cmd, nil
			}
		}
		time.Sleep(50 * time.Millisecond)
	}
	_ = cmd.Process.Kill()
	_ = cmd.Wait()
	return nil, fmt.Errorf("the server did not come up")
}

// stopDatabase has the database stand still for a while: every request ends within ten seconds and says why, and
// afterwards all goes on by itself.
func stopDatabase(ctx context.Context, address string) error {
	pid, err := databasePID()
	if err != nil {
		return err
	}
	asking, err := hostile.SignIn(address, "ines", demo.Password)
	if err != nil {
		return fmt.Errorf("signing in: %w", err)
	}
	if err := syscall.Kill(pid, syscall.SIGSTOP); err != nil {
		return fmt.Errorf("stopping the database: %w", err)
	}
	until(func() bool { return !running(pid) })
	var group sync.WaitGroup
	var mu sync.Mutex
	var wrong []string
	longest := time.Duration(0)
	for i := range 60 {
		group.Go(func() {
			paths := []string{"/api/documents", "/api/search?text=lot", "/api/session", "/api/notices", "/api/health"}
			began := time.Now()
			r := asking.Send(ctx, "while the database stands still", "GET", paths[i%len(paths)], nil, "")
			took := time.Since(began)
			mu.Lock()
			defer mu.Unlock()
			longest = max(longest, took)
			if took > 10*time.Second || r.Code != http.StatusServiceUnavailable {
				wrong = append(wrong, fmt.Sprintf("%s: %d after %s: %.100s", paths[i%len(paths)], r.Code, took.Round(time.Millisecond), r.Said))
			}
		})
	}
	group.Wait()
	if err := syscall.Kill(pid, syscall.SIGCONT); err != nil {
		return fmt.Errorf("letting the database go on: %w", err)
	}
	if len(wrong) > 0 {
		return fmt.Errorf("with the database standing still, %d of 60 requests did not end as promised: %s", len(wrong), wrong[0])
	}
	for range 50 {
		if r := asking.Send(ctx, "afterwards", "GET", "/api/documents", nil, ""); r.Code == http.StatusOK {
			fmt.Printf("With the database standing still, 60 requests ended within %s and said why; all went on by itself.\n", longest.Round(time.Millisecond))
			return nil
		}
		time.Sleep(100 * time.Millisecond)
	}
	return errors.New("after the database stood still, nothing goes on within five seconds")
}

func databasePID() (int, error) {
	raw, err := os.ReadFile(os.Getenv("RACONTE_DATA") + "/database.pid")
	if err != nil {
		return 0, fmt.Errorf("finding the database: %w", err)
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(raw)))
	if err != nil {
		return 0, fmt.Errorf("finding the database: %w", err)
	}
	return pid, nil
}

// running tells whether any thread of a process is at work or could be: it is not stopped, not gone, and no zombie that
// nobody waits for.
func running(pid int) bool {
	threads, _ := filepath.Glob(fmt.Sprintf("/proc/%d/task/*/stat", pid))
	return slices.ContainsFunc(threads, func(thread string) bool {
		state, err := os.ReadFile(thread)
		return err == nil && !strings.Contains(string(state), ") T ") && !strings.Contains(string(state), ") Z ")
	})
}

func until(done func() bool) {
	for range 200 {
		if done() {
			return
		}
		time.Sleep(20 * time.Millisecond)
	}
}

func killDatabase() error {
	pid, err := databasePID()
	if err != nil {
		return err
	}
	_ = syscall.Kill(pid, syscall.SIGKILL)
	until(func() bool { return !running(pid) })
	if out, err := exec.Command("scripts/database").CombinedOutput(); err != nil {
		return fmt.Errorf("starting the database again: %w: %s", err, out)
	}
	return nil
}

// write brings pictures in and writes steps until ctx is done, each until it is acknowledged.
func write(ctx context.Context, address string, n int, ack *acknowledged) {
	var p *hostile.Person
	insist := func(name, method, path string, body []byte, kind string) (hostile.Result, bool) {
		for ctx.Err() == nil {
			if p == nil {
				p, _ = hostile.SignIn(address, []string{"ines", "tomasz"}[n%2], demo.Password)
			}
			if p != nil {
				r := p.Send(ctx, name, method, path, body, kind)
				switch {
				case r.Code >= 200 && r.Code < 300:
					return r, true
				case r.Code == http.StatusUnauthorized:
					p = nil
				case r.Code != 0 && r.Code < 500 && r.Code != http.StatusTooManyRequests:
					fmt.Printf("refused: %s: %d %s\n", name, r.Code, r.Said)
					return r, false
				}
			}
			time.Sleep(50 * time.Millisecond)
		}
		return hostile.Result{}, false
	}
	r, ok := insist("a document", "POST", "/api/documents", []byte(fmt.Sprintf(`{"title":"Writer %d"}`, n)), "application/json")
	var d struct {
		ID string `json:"id"`
	}
	if !ok || json.Unmarshal([]byte(r.Said), &d) != nil {
		return
	}
	for i := 0; ctx.Err() == nil; i++ {
		shot, data := uuid.NewString(), drawing(n, i)
		if _, ok := insist("a shot", "PUT", "/api/shots/"+shot, data, "application/octet-stream"); !ok {
			return
		}
		kept, err := intake.Read(context.Background(), data)
		if err != nil {
			return
		}
		ack.mu.Lock()
		ack.shots[shot] = kept.Data
		ack.mu.Unlock()
		step := fmt.Sprintf("step-%d-%d", n, i)
		change := fmt.Sprintf(`{"id":"c-%d-%d","blocks":[{"id":%q,"base":0,"order":"%06d","removed":false,"content":{"type":"step","words":{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":%q}]}]},"figures":[{"id":"f-%d-%d","shot":%q,"alt":"","marks":[]}]}}]}`,
			n, i, step, 100000+i, step, n, i, shot)
		if _, ok := insist("a change", "POST", "/api/documents/"+d.ID+"/changes", []byte(change), "application/json"); !ok {
			return
		}
		ack.mu.Lock()
		ack.steps[d.ID] = append(ack.steps[d.ID], step)
		ack.mu.Unlock()
	}
}

// drawing is a picture that no other is like.
func drawing(n, i int) []byte {
	img := image.NewRGBA(image.Rect(0, 0, 64, 48))
	random := rand.New(rand.NewPCG(uint64(n), uint64(i)))
	for k := range 64 * 48 {
		img.SetRGBA(k%64, k/64, color.RGBA{uint8(random.IntN(256)), uint8(n), uint8(i), 255})
	}
	var buf bytes.Buffer
	_ = png.Encode(&buf, img) // into memory
	return buf.Bytes()
}

// look asks for everything that was acknowledged.
func look(ctx context.Context, address string, ack *acknowledged, times int) error {
	p, err := hostile.SignIn(address, "ines", demo.Password)
	if err != nil {
		return err
	}
	q, err := hostile.SignIn(address, "tomasz", demo.Password)
	if err != nil {
		return err
	}
	lost, steps := 0, 0
	for id, want := range ack.shots {
		got, err := p.Get("/api/shots/" + id)
		if err != nil || !bytes.Equal(got, want) {
			if got, err = q.Get("/api/shots/" + id); err != nil || !bytes.Equal(got, want) {
				lost++
				fmt.Printf("LOST: shot %s: %v\n", id, err)
			}
		}
	}
	for document, want := range ack.steps {
		raw, err := p.Get("/api/documents/" + document)
		if err != nil {
			return fmt.Errorf("reading %s: %w", document, err)
		}
		var d struct {
			Blocks []struct {
				ID string `json:"id"`
			} `json:"blocks"`
		}
		if err := json.Unmarshal(raw, &d); err != nil {
			return fmt.Errorf("reading %s: %w", document, err)
		}
		there := map[string]int{}
		for _, s := range d.Blocks {
			there[s.ID]++
		}
		for _, id := range want {
			steps++
			if there[id] != 1 || !bytes.Contains(raw, []byte(`"text":"`+id+`"`)) {
				lost++
				fmt.Printf("LOST: %s of %s is there %d times\n", id, document, there[id])
			}
		}
	}
	fmt.Printf("%d kills, every fifth of the database too: %d shots and %d steps acknowledged, %d lost.\n", times, len(ack.shots), steps, lost)
	if lost > 0 {
		return fmt.Errorf("%d acknowledged things were lost", lost)
	}
	return nil
}
