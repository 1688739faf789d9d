// Attack tries what docs/security.md promises, on a running server: "hostile" sends what nobody should send, "kills"
// kills the server and its database under writers. scripts/attack gives it a server of its own.
package main

import (
	"fmt"
	"os"

	"github.com/spf13/cobra"
)

func main() {
	root := &cobra.Command{Use: "attack", Short: "Try what Raconte promises", SilenceErrors: true, SilenceUsage: true}
	root.AddCommand(hostileCommand(), killsCommand())
	if err := root.Execute(); err != nil {
		fmt.Fprintln(os.Stderr, "attack:", err)
		os.Exit(1)
	}
}
