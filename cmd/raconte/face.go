package main

import (
	"os"

	"raconte/core/text"
	"raconte/intake/face"

	"github.com/spf13/cobra"
)

// tryFaceCommand sets words in a face that came from outside, in this process of its own: it may end it.
func tryFaceCommand() *cobra.Command {
	return &cobra.Command{
		Use: face.Own + " FILE", Hidden: true, Args: cobra.ExactArgs(1),
		RunE: run(func(_ *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			return text.Trial(data)
		}),
	}
}
