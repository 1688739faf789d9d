package main

import (
	"fmt"
	"image"
	"io"
	"io/fs"
	"os"

	"raconte/core/capture"
	"raconte/core/sight"
	"raconte/core/text"
	"raconte/intake"

	"github.com/spf13/cobra"
)

type rectangle struct {
	X int `json:"x"`
	Y int `json:"y"`
	W int `json:"w"`
	H int `json:"h"`
}

func compareCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "compare A.png B.png",
		Short: "Tell whether two shots are the same, as JSON, with the rectangles that differ",
		Long:  "Tell whether two shots are the same, as JSON: result is same, same-but-pointer or changed, rectangles are in pixels.",
		Args:  cobra.ExactArgs(2),
		RunE: run(func(cmd *cobra.Command, args []string) error {
			var shots [2]*image.RGBA
			for i, path := range args {
				data, err := readBounded(path, intake.MostBytes)
				if err != nil {
					return err
				}
				if shots[i], err = intake.Decode(cmd.Context(), data); err != nil {
					return fmt.Errorf("%s: %w", path, err)
				}
			}
			c := sight.Compare(shots[0], shots[1])
			rects := []rectangle{}
			for _, r := range c.Rectangles {
				rects = append(rects, rectangle{r.Min.X, r.Min.Y, r.Dx(), r.Dy()})
			}
			return writeJSON(cmd.OutOrStdout(), struct {
				Result     sight.Verdict `json:"result"`
				Rectangles []rectangle   `json:"rectangles"`
			}{c.Verdict, rects})
		}),
	}
}

// readBounded reads a file of so many bytes at the most.
func readBounded(path string, most int64) ([]byte, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	data, err := io.ReadAll(io.LimitReader(f, most+1))
	if err == nil && int64(len(data)) > most {
		err = fmt.Errorf("%s is larger than %d MB", path, most>>20)
	}
	return data, err
}

func orderCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "order FILE...",
		Short: "Print files in natural order, one to a line",
		Long:  "Print files in natural order, one to a line: by the numbers in their names, then by the time they were last changed.\nFiles need not exist.",
		Args:  cobra.MinimumNArgs(1),
		RunE: run(func(cmd *cobra.Command, args []string) error {
			shown := func(name string) string { return name } // for other programs, as it is
			if info, err := os.Stdout.Stat(); err == nil && info.Mode()&os.ModeCharDevice != 0 {
				shown = text.Shown
			}
			for _, i := range capture.Order(filesOf(system{}, args)) {
				fmt.Fprintln(cmd.OutOrStdout(), shown(args[i]))
			}
			return nil
		}),
	}
}

// system are all files of the machine, by paths of any form.
type system struct{}

// Open opens one.
func (system) Open(name string) (fs.File, error) { return os.Open(name) }

// Stat tells of one.
func (system) Stat(name string) (fs.FileInfo, error) { return os.Stat(name) }

// filesOf are files as they are put in order: by their names and the times at which they were last changed.
func filesOf(in fs.FS, paths []string) []capture.File {
	files := make([]capture.File, len(paths))
	for i, p := range paths {
		files[i].Name = p
		if info, err := fs.Stat(in, p); err == nil {
			files[i].Taken = info.ModTime()
		}
	}
	return files
}
