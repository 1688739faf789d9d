// Package confined runs programs on what came from outside: in processes of their own, whose time, memory and output
// are limited, and which end when whoever asked is gone.
package confined

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os/exec"
	"time"
)

// Limits of a process. Memory is in bytes of address space. Longest is by the clock, of Run; the processor may work
// four times as long, since of several threads each second counts.
type Limits struct {
	Memory  int64
	Longest time.Duration
	Output  int // bytes that it may write to one who runs it with Run; 0 is none
}

// ErrTooMuch says that a process wrote more than it may.
var ErrTooMuch = errors.New("it wrote more than is allowed")

// Command is a command within limits; the one who runs it also gives it a context that ends in time.
func Command(ctx context.Context, l Limits, name string, args ...string) *exec.Cmd {
	limits := []string{fmt.Sprintf("--as=%d", l.Memory), fmt.Sprintf("--cpu=%d", 4*int(l.Longest.Seconds())), "--core=0", name}
	cmd := exec.CommandContext(ctx, "prlimit", append(limits, args...)...)
	cmd.WaitDelay = time.Second
	return cmd
}

// Run runs a command to its end; said is the beginning of what it complained of.
func Run(ctx context.Context, l Limits, name string, args ...string) (out []byte, said string, err error) {
	ctx, cancel := context.WithTimeout(ctx, l.Longest)
	defer cancel()
	cmd := Command(ctx, l, name, args...)
	errs := &Limited{Left: 4096}
	kept := &Limited{Left: l.Output, full: cancel}
	cmd.Stdout, cmd.Stderr = kept, errs
	err = cmd.Run()
	if kept.over {
		return nil, "", ErrTooMuch
	}
	return kept.to.Bytes(), errs.to.String(), err
}

// Limited takes as many bytes as are left, and none after that.
type Limited struct {
	Left int
	to   bytes.Buffer
	over bool
	full func()
}

func (l *Limited) Write(p []byte) (int, error) {
	if len(p) > l.Left {
		l.over = true
		if l.full != nil {
			l.full()
		}
	} else {
		l.to.Write(p)
		l.Left -= len(p)
	}
	return len(p), nil
}

func (l *Limited) String() string { return l.to.String() }
