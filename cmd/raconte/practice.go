package main

import (
	"fmt"
	"os"
	"path/filepath"

	"raconte/core/capture"
	"raconte/engines/raster"
	"raconte/practice/workstation"

	"github.com/spf13/cobra"
)

func practiceCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "practice SCRIPT -o DIR",
		Short: "Replay a scripted session on the practice workstation and write its shots",
		Long: "Replay a scripted session on the practice workstation. DIR gets one PNG for each shot and session.json, which tells\n" +
			"what is known of each. The same script gives the same files. docs/practice.md lists the commands of scripts.",
		Args: cobra.ExactArgs(1),
	}
	out := outputFlag(cmd, "the folder to write to; it is made where it is missing")
	pattern := cmd.Flags().String("names", "{n} {window}", "the naming pattern: {date}, {time}, {window}, {n}")
	cmd.RunE = run(func(cmd *cobra.Command, args []string) error {
		if wrong := capture.CheckPattern(*pattern); wrong != "" {
			return exit{exitUsage, wrong}
		}
		script, err := os.Open(args[0])
		if err != nil {
			return err
		}
		defer script.Close()
		p := workstation.NewPlayer()
		if err := p.Play(script); err != nil {
			return fmt.Errorf("%s: %w", args[0], err)
		}
		if err := os.MkdirAll(*out, 0o755); err != nil {
			return err
		}
		type entry struct {
			File  string        `json:"file"`
			About capture.About `json:"about"`
		}
		entries, taken := []entry{}, map[string]bool{}
		for i, shot := range p.Shots {
			n := capture.Naming{Pattern: *pattern, Taken: shot.About.Taken, N: i + 1}
			if shot.About.Window != nil {
				n.Window = shot.About.Window.Title
			}
			name := capture.Unique(n.Name(), func(s string) bool { return taken[s] })
			taken[name] = true
			entries = append(entries, entry{name + ".png", shot.About})
			err := writeFile(filepath.Join(*out, name+".png"), func(w *os.File) error { return raster.EncodePNG(w, shot.Image, raster.Small) })
			if err != nil {
				return err
			}
		}
		return writeFile(filepath.Join(*out, "session.json"), func(w *os.File) error { return writeJSON(w, entries) })
	})
	return cmd
}
