package main

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"raconte/core/page"
	"raconte/core/readiness"
	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/engines/fonts"
	"raconte/output"
	"raconte/output/assemble"
	"raconte/output/formats"
	"raconte/output/office"

	"github.com/spf13/cobra"
)

// longestLayout is how long the pages of a document may take.
const longestLayout = 7 * time.Second

func renderCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "render IN.bundle -o OUT.pdf",
		Short: "Make a file of a bundle, in the form that its ending names",
		Args:  cobra.ExactArgs(1),
	}
	out := outputFlag(cmd, "the file to write: its ending names the form")
	format := cmd.Flags().String("format", "", "the form, where the ending does not say it: "+strings.Join(formNames(), ", "))
	styled := cmd.Flags().String("style", "", "a house style: a file, or one of "+strings.Join(style.BuiltIns(), ", "))
	layout := cmd.Flags().String("layout", "", "how steps are set on a page: one, two, four, six, running or bands; else as the style has it")
	steps := cmd.Flags().String("steps", "", "the steps to take, such as 1-3,7; else all")
	dpi := cmd.Flags().Int("quality", style.Usual, "dots to an inch of pictures in print, 72 to 600")
	template := cmd.Flags().String("template", "", "a template of the form: a file of the house (.html, .docx, .dotx, .pptx, .potx), or the name of one that ships")
	var pdf output.PDF
	cmd.Flags().BoolVar(&pdf.Booklet, "booklet", false, "of a PDF: two pages on each side of a sheet, in the order in which they are folded")
	cmd.Flags().StringVar(&pdf.Seal.Password, "password", "", "of a PDF: what opens it")
	cmd.Flags().BoolVar(&pdf.Seal.NoPrint, "no-print", false, "of a PDF: it may not be printed")
	cmd.Flags().BoolVar(&pdf.Seal.NoCopy, "no-copy", false, "of a PDF: it may not be copied from, nor changed")
	cmd.RunE = run(func(cmd *cobra.Command, args []string) error {
		f, err := formFor(*out, *format)
		if err != nil {
			return err
		}
		st, err := styleFor(*styled)
		if err != nil {
			return err
		}
		set, err := style.Called(*layout)
		if err != nil {
			return exit{exitUsage, err.Error()}
		}
		if string(set) != *layout {
			fmt.Fprintf(cmd.ErrOrStderr(), "The layout %q is called %q now.\n", *layout, set)
		}
		o := output.Options{Layout: set, Quality: style.Quality{DPI: *dpi}, PDF: pdf}
		if pdf != (output.PDF{}) && f.About().Name != "pdf" {
			return exit{exitUsage, "only a PDF can be a booklet, or closed"}
		}
		if *dpi < 72 || *dpi > 600 {
			return exit{exitUsage, "--quality is 72 to 600 dots to an inch"}
		}
		if err := templated(cmd, f, *template, &o); err != nil {
			return err
		}
		b, file, err := openBundle(cmd.Context(), args[0])
		if err != nil {
			return err
		}
		defer file.Close()
		fonts.Register()
		from, r, err := assembled(b, st, f, *steps)
		if err != nil {
			return err
		}
		r.Quality = o.Quality
		if r.Edition.Draft = readiness.Blocks(readiness.Check(b.Document, from.Sizes, nil)); r.Edition.Draft {
			r.Edition.State = ""
		}
		in, err := assemble.Input(cmd.Context(), from, r)
		if err != nil {
			return err
		}
		in.Film.Speak = spoken("", nil)
		lay := in.Pages
		in.Pages = func(ctx context.Context, layout style.Layout) (page.Pages, error) {
			ctx, cancel := context.WithTimeout(ctx, longestLayout)
			defer cancel()
			pages, err := lay(ctx, layout)
			if errors.Is(err, context.DeadlineExceeded) {
				return pages, refusal.New("the document has more words than can be laid out; make several documents of it")
			}
			for _, note := range pages.Notes {
				fmt.Fprintln(cmd.ErrOrStderr(), note.Text)
			}
			return pages, err
		}
		if f.About().Main != "" && filepath.Ext(*out) != ".zip" {
			o.Beside = strings.TrimSuffix(filepath.Base(*out), filepath.Ext(*out)) + "-files"
			return writeFolder(*out, f.About().Main, func(w io.Writer) error { return f.Write(cmd.Context(), w, in, o) })
		}
		return writeFile(*out, func(w *os.File) error { return f.Write(cmd.Context(), w, in, o) })
	})
	return cmd
}

// endings are those of files that are templates of a kind.
var endings = map[string][]string{"html": {".html", ".htm"}, "docx": {".docx", ".dotx"}, "pptx": {".pptx", ".potx"}}

// templated takes the template that is named: one that ships, or a file of the house, of which is told what there is to
// say.
func templated(cmd *cobra.Command, f output.Format, name string, o *output.Options) error {
	about := f.About()
	if name == "" || slices.ContainsFunc(about.Templates, func(t output.Template) bool { return t.Name == name }) {
		o.Template = name
		return nil
	}
	own, takes := f.(output.Templated)
	if !takes || !slices.Contains(endings[about.Own], strings.ToLower(filepath.Ext(name))) {
		return exit{exitUsage, fmt.Sprintf("%s is no template for %s", name, about.Title)}
	}
	info, err := os.Stat(name)
	if err != nil {
		return exit{exitUsage, fmt.Sprintf("there is no template %s", name)}
	}
	if info.Size() > office.MostBytes {
		return exit{exitUsage, fmt.Sprintf("%s has %d MB; a template has at most %d MB", name, info.Size()>>20, office.MostBytes>>20)}
	}
	data, err := os.ReadFile(name)
	if err != nil {
		return fmt.Errorf("reading the template: %w", err)
	}
	o.Own = &output.Own{Data: data}
	notes, err := own.Check(cmd.Context(), *o.Own)
	if err != nil {
		return err
	}
	for _, n := range notes {
		at := n.Where
		if n.Line > 0 {
			at = fmt.Sprint("line ", n.Line)
		}
		said := strings.TrimPrefix(fmt.Sprintf("%s: %s", at, n.Text), ": ")
		if n.Fatal {
			return exit{exitUsage, name + ", " + said}
		}
		fmt.Fprintln(cmd.ErrOrStderr(), said)
	}
	return nil
}

// writeFolder writes what comes as a zip file as files: its document at path, and the others beside that.
func writeFolder(path, document string, write func(io.Writer) error) error {
	packed, err := os.CreateTemp("", "raconte-*.zip")
	if err != nil {
		return fmt.Errorf("writing %s: %w", path, err)
	}
	defer os.Remove(packed.Name())
	defer packed.Close()
	if err := write(packed); err != nil {
		return err
	}
	size, err := packed.Seek(0, io.SeekEnd)
	if err != nil {
		return fmt.Errorf("writing %s: %w", path, err)
	}
	z, err := zip.NewReader(packed, size)
	if err != nil {
		return fmt.Errorf("writing %s: %w", path, err)
	}
	for _, f := range z.File {
		to := filepath.Join(filepath.Dir(path), filepath.FromSlash(f.Name))
		if f.Name == document {
			to = path
		}
		if err := os.MkdirAll(filepath.Dir(to), 0o755); err != nil {
			return fmt.Errorf("writing %s: %w", path, err)
		}
		r, err := f.Open()
		if err != nil {
			return fmt.Errorf("writing %s: %w", to, err)
		}
		err = writeFile(to, func(w *os.File) error { _, err := io.Copy(w, r); return err })
		if err := errors.Join(err, r.Close()); err != nil {
			return err
		}
	}
	return nil
}

// formNames are the names of the forms that can be made.
func formNames() []string {
	var names []string
	for _, f := range formats.All {
		if !f.About().Whole {
			names = append(names, f.About().Name)
		}
	}
	return names
}

// formFor is the form that is asked for by name, or by the ending of a file.
func formFor(path, name string) (output.Format, error) {
	if name != "" {
		if f, known := formats.Named(name); known && !f.About().Whole {
			return f, nil
		}
		return nil, exit{exitUsage, fmt.Sprintf("there is no form %q: %s", name, strings.Join(formNames(), ", "))}
	}
	ending := strings.TrimPrefix(strings.ToLower(filepath.Ext(path)), ".")
	i := slices.IndexFunc(formats.All, func(f output.Format) bool { return !f.About().Whole && f.About().Extension == ending })
	if i < 0 || ending == "zip" { // several forms come as a zip
		return nil, exit{exitUsage, fmt.Sprintf("the ending %q names no form; name one by --format: %s", filepath.Ext(path), strings.Join(formNames(), ", "))}
	}
	return formats.All[i], nil
}

// styleFor is the style that is named: one that ships, or a file.
func styleFor(name string) (style.Style, error) {
	if name == "" {
		return style.Default(), nil
	}
	if st, there := style.BuiltIn(name); there {
		return st, nil
	}
	raw, err := os.ReadFile(name)
	if err != nil {
		return style.Style{}, exit{exitUsage, fmt.Sprintf("there is no style %s: it is a file, or one of %s", name, strings.Join(style.BuiltIns(), ", "))}
	}
	st, err := style.Read(raw)
	if err != nil {
		return st, exit{exitUsage, fmt.Sprintf("%s: %v", name, err)}
	}
	return st, nil
}
