package main

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"image"
	"io"
	"os"
	"path/filepath"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/sight"
	"raconte/core/text"
	"raconte/core/words"
	"raconte/intake"
	"raconte/output"
	"raconte/output/bundle"

	"github.com/google/uuid"
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
				data, err := readBounded(path)
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

// readBounded reads a file that may be a picture: one byte more than allowed tells that it is too large.
func readBounded(path string) ([]byte, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return io.ReadAll(io.LimitReader(f, intake.MostBytes+1))
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
			for _, i := range capture.Order(filesOf(args)) {
				fmt.Fprintln(cmd.OutOrStdout(), shown(args[i]))
			}
			return nil
		}),
	}
}

func filesOf(paths []string) []capture.File {
	files := make([]capture.File, len(paths))
	for i, p := range paths {
		files[i].Name = p
		if info, err := os.Stat(p); err == nil {
			files[i].Taken = info.ModTime()
		}
	}
	return files
}

func bundleCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "bundle DIR -o OUT.bundle",
		Short: "Make a procedure from a folder of pictures",
		Long:  "Make a procedure from a folder of pictures: one step each, in natural order, titled like the folder.\nFiles that are no pictures are named on standard error and left out.",
		Args:  cobra.ExactArgs(1),
	}
	out := outputFlag(cmd, "the bundle to write")
	cmd.RunE = run(func(cmd *cobra.Command, args []string) error {
		entries, err := os.ReadDir(args[0])
		if err != nil {
			return err
		}
		var names []string
		for _, e := range entries {
			if e.Type().IsRegular() && e.Name()[0] != '.' {
				names = append(names, e.Name())
			}
		}
		title, err := filepath.Abs(args[0])
		if err != nil {
			return err
		}
		d := document.Document{ID: uuid.NewString(), Kind: document.Procedure, Facts: document.Facts{Title: filepath.Base(title)}}
		shots := map[string]intake.Shot{}
		named := map[string]string{}
		for _, i := range capture.Order(filesOf(names)) {
			data, err := readBounded(filepath.Join(args[0], names[i]))
			if err != nil {
				return err
			}
			shot, err := intake.Read(cmd.Context(), data)
			if err != nil {
				fmt.Fprintln(cmd.ErrOrStderr(), text.Shown(fmt.Sprintf("left out %s: %v", names[i], err)))
				continue
			}
			sum := sha256.Sum256(shot.Data)
			sha := hex.EncodeToString(sum[:])
			shots[sha], named[sha] = shot, names[i]
			d.Blocks = append(d.Blocks, document.Block{ID: uuid.NewString(), Content: document.Content{
				Type: document.Step, Words: words.Plain(""), Figures: []figure.Figure{{ID: uuid.NewString(), Shot: sha, Marks: []figure.Mark{}}},
			}})
		}
		if len(d.Blocks) == 0 {
			return fmt.Errorf("%s holds no picture", args[0])
		}
		if err := d.Check(); err != nil {
			return err
		}
		return writeFile(*out, func(w io.Writer) error {
			return bundle.Format{}.Write(cmd.Context(), w, output.Input{
				Document: d, Progress: func(int, int) {},
				Shot: func(_ context.Context, sha string) (output.Shot, error) {
					return output.Shot{Data: io.NopCloser(bytes.NewReader(shots[sha].Data)), Type: shots[sha].Type, Name: named[sha]}, nil
				},
			}, output.Options{})
		})
	})
	return cmd
}
