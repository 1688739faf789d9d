// Raconte turns runs of annotated screenshots into procedures. The one binary serves the web
// application and works on files from the command line.
package main

import (
	"errors"
	"fmt"
	"os"
	"runtime/debug"

	"raconte/core/text"

	"github.com/spf13/cobra"
)

// Exit codes.
const (
	exitFindings = 1 // check: something must be fixed
	exitUsage    = 2 // the call itself was wrong
	exitFailed   = 3 // the work could not be done
)

// exit is an error that chooses the exit code; message may be empty.
type exit struct {
	code    int
	message string
}

func (e exit) Error() string { return e.message }

// mostMemory is from how much on the collector of garbage works harder, in bytes: what is really in use is bounded
// where it is made.
const mostMemory = 1 << 30

func main() {
	debug.SetMemoryLimit(mostMemory)
	root := &cobra.Command{
		Use:           "raconte",
		Short:         "Annotated screenshots into step-by-step procedures",
		Long:          "Annotated screenshots into step-by-step procedures.\n\nExit codes: 0 done, 1 findings that must be fixed (check), 2 wrong call, 3 failed.",
		SilenceErrors: true,
		SilenceUsage:  true,
	}
	root.CompletionOptions.DisableDefaultCmd = true
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return exit{exitUsage, err.Error()} })
	root.AddCommand(renderCommand(), filmCommand(), flattenCommand(), checkCommand(), compareCommand(), orderCommand(), bundleCommand(), practiceCommand(), recorderCommand(), tryFaceCommand())
	root.AddCommand(serverCommands()...)
	err := root.Execute()
	if err == nil {
		return
	}
	var e exit
	if !errors.As(err, &e) {
		e = exit{exitUsage, err.Error()}
	}
	if e.message != "" {
		fmt.Fprintln(os.Stderr, "raconte:", text.Shown(e.message)) // names of files may hold codes that steer a terminal
	}
	os.Exit(e.code)
}

// run makes a failure of the work, as opposed to a wrong call, exit with its own code.
func run(work func(cmd *cobra.Command, args []string) error) func(*cobra.Command, []string) error {
	return func(cmd *cobra.Command, args []string) error {
		err := work(cmd, args)
		var e exit
		if err == nil || errors.As(err, &e) {
			return err
		}
		return exit{exitFailed, err.Error()}
	}
}
