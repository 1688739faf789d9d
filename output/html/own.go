package html

import (
	"context"
	"errors"
	"fmt"
	"html/template"
	"io"
	"reflect"
	"regexp"
	"strconv"
	"strings"
	texttemplate "text/template"
	"text/template/parse"
	"unicode/utf8"

	"raconte/core/refusal"
	"raconte/output"
	"raconte/output/flow"
)

// The bounds of a template of the house: its letters, and what it may do while it writes.
const (
	mostSource = 1 << 20
	mostTurns  = 2_000_000 // of loops and parts, together
	mostSaid   = 1 << 20   // bytes of a value that is put together
)

// own is a template that the house has made.
type own struct {
	template *template.Template
	source   string
	script   bool
}

const ownName = "template"

// Check says what is to be said of a template of the house, by its lines.
func (Format) Check(ctx context.Context, o output.Own) ([]output.Note, error) {
	t, notes := parseOwn(&o)
	if len(notes) > 0 {
		return notes, nil
	}
	in := flow.Sample()
	err := t.execute(ctx, io.Discard, flow.Read(ctx, in, output.Options{}))
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	var wrong blame
	if errors.As(err, &wrong) {
		return []output.Note{wrong.note}, nil
	}
	if err != nil {
		return []output.Note{noteOf(err, t.source)}, nil
	}
	return nil, nil
}

// parseOwn reads a template, and looks at all that it asks for.
func parseOwn(o *output.Own) (own, []output.Note) {
	source := string(o.Data)
	switch {
	case len(source) > mostSource:
		return own{}, fatal(1, "The template has more than %d KB.", mostSource>>10)
	case !utf8.ValidString(source) || strings.ContainsRune(source, 0):
		return own{}, fatal(1, "The template is no text in UTF-8.")
	case strings.TrimSpace(source) == "":
		return own{}, fatal(1, "The template is empty.")
	}
	// html/template looks at each loop twice, and at one within it four times: how deep they go is bounded before it does.
	if notes := shallow(source); len(notes) > 0 {
		return own{}, notes
	}
	t, err := template.New(ownName).Funcs(functions(func() error { return nil })).Parse(source)
	if err != nil {
		return own{}, []output.Note{noteOf(err, source)}
	}
	var notes []output.Note
	for _, one := range t.Templates() {
		if one.Tree == nil {
			continue
		}
		l := looker{tree: one.Tree, source: source}
		l.look(one.Tree.Root)
		notes = append(notes, l.notes...)
		count(one.Tree.Root)
	}
	return own{t, source, o.Script}, notes
}

func fatal(line int, format string, a ...any) []output.Note {
	return []output.Note{{Line: line, Text: fmt.Sprintf(format, a...), Fatal: true}}
}

// execute writes a document, as long as someone waits for it and no more than a template may.
func (t own) execute(ctx context.Context, w io.Writer, d *flow.Document) error {
	turns := 0
	turn := func() error {
		if turns++; turns > mostTurns {
			return refusal.New("It goes around its loops more than %d times.", mostTurns)
		}
		if turns%64 == 0 {
			return ctx.Err()
		}
		return nil
	}
	ready, err := t.template.Clone()
	if err != nil {
		return fmt.Errorf("preparing a template: %w", err)
	}
	err = guarded(ctx, w, t.script, func(w io.Writer) error {
		return ready.Funcs(functions(turn)).ExecuteTemplate(w, ownName, d)
	})
	var wrong texttemplate.ExecError
	var found forbidden
	if errors.As(err, &found) || errors.As(err, &wrong) && !errors.Is(err, flow.ErrPicture) && ctx.Err() == nil {
		note := noteOf(err, t.source)
		return blame{note, refusal.New("The template can't be used with this document. Line %d: %s", note.Line, note.Text)}
	}
	return err
}

// blame is an error of a template, for its writer and for whoever uses it.
type blame struct {
	note output.Note
	error
}

func (b blame) Unwrap() error { return b.error }

const turnName = "countedTurn"

// functions are those that a template has, in the place of the usual ones that could make too much.
func functions(turn func() error) template.FuncMap {
	// How long what is put together will be is known before it is.
	said := func(format string, all []any, put func() string) (string, error) {
		if err := turn(); err != nil {
			return "", err
		}
		if len(all) > mostPut {
			return "", refusal.New("At most %d values are put together at a time.", mostPut)
		}
		length := len(format)
		for _, one := range all {
			switch v := reflect.ValueOf(one); v.Kind() {
			case reflect.String:
				length += v.Len() * (1 + strings.Count(format, "%"))
			case reflect.Bool, reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64, reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64, reflect.Float32, reflect.Float64:
				length += 64
			default:
				return "", refusal.New("Words and numbers are put together, and nothing else.")
			}
		}
		if wide.MatchString(format) {
			return "", refusal.New("A width in a format has at most two digits.")
		}
		if length += 100 * strings.Count(format, "%"); length > mostSaid {
			return "", refusal.New("A value that is put together has more than %d KB.", mostSaid>>10)
		}
		return put(), nil
	}
	return template.FuncMap{
		turnName: func() (string, error) { return "", turn() },
		"printf": func(format string, a ...any) (string, error) {
			return said(format, a, func() string { return fmt.Sprintf(format, a...) })
		},
		"print":   func(a ...any) (string, error) { return said("", a, func() string { return fmt.Sprint(a...) }) },
		"println": func(a ...any) (string, error) { return said("", a, func() string { return fmt.Sprintln(a...) }) },
	}
}

// mostPut is how many values are put together at a time, and deepestLoop how deep loops go within each other.
const (
	mostPut     = 50
	deepestLoop = 8
)

// wide is a width or precision of more than two digits, or one that a value gives.
var wide = regexp.MustCompile(`%[^a-zA-Z%]*(\d{3}|\*)`)

// shallow says where loops, conditions or parts go too deep within each other. What can't be read is said by whoever
// reads it next.
func shallow(source string) []output.Note {
	tree := parse.New(ownName)
	tree.Mode = parse.SkipFuncCheck
	trees := map[string]*parse.Tree{}
	if _, err := tree.Parse(source, "", "", trees); err != nil {
		return nil
	}
	for _, one := range trees {
		if n := tooDeep(one.Root, 0, 0); n != nil {
			at := min(int(n.Position()), len(source))
			return fatal(1+strings.Count(source[:at], "\n"), "Loops stand more than %d times within each other.", deepestLoop)
		}
	}
	return nil
}

// tooDeep is the first piece that lies deeper than it may: in loops, or in conditions, which are many more.
func tooDeep(list *parse.ListNode, loops, all int) parse.Node {
	if list == nil {
		return nil
	}
	for _, n := range list.Nodes {
		var b *parse.BranchNode
		in := loops
		switch n := n.(type) {
		case *parse.IfNode:
			b = &n.BranchNode
		case *parse.WithNode:
			b = &n.BranchNode
		case *parse.RangeNode:
			b, in = &n.BranchNode, loops+1
		default:
			continue
		}
		if in > deepestLoop || all > 8*deepestLoop {
			return n
		}
		for _, l := range []*parse.ListNode{b.List, b.ElseList} {
			if found := tooDeep(l, in, all+1); found != nil {
				return found
			}
		}
	}
	return nil
}

// allowed are the functions that a template may call.
var allowed = names("and or not len index slice eq ne lt le gt ge printf print println")

// fields are all that a template may ask for; docs/templates.md tells of each.
var fields = names(`Title Kind Language Meta Address Draft Fields Notice Signal Contents Blocks Colors Words Manual Bare
	ID Number Depth Heads Word Lines Type HTML Text Critical Time Links Pictures Under Before After Step Heading
	Said Inside Alt Caption Src Moves Movie Soft Line Accent Shade`)

// mapped are the fields whose names are not ours to know.
var mapped = names("Fields Words")

func names(s string) map[string]bool {
	all := map[string]bool{}
	for _, n := range strings.Fields(s) {
		all[n] = true
	}
	return all
}

// looker looks at what a template asks for.
type looker struct {
	tree   *parse.Tree
	source string
	notes  []output.Note
}

func (l *looker) say(n parse.Node, format string, a ...any) {
	at := min(int(n.Position()), len(l.source))
	l.notes = append(l.notes, fatal(1+strings.Count(l.source[:at], "\n"), format, a...)...)
}

func (l *looker) idents(n parse.Node, all []string) {
	for i, name := range all {
		if i > 0 && mapped[all[i-1]] {
			continue
		}
		if !fields[name] {
			l.say(n, ".%s is nothing that a document has.", name)
		}
	}
}

// look goes through a piece of a template.
func (l *looker) look(n parse.Node) {
	switch n := n.(type) {
	case *parse.ListNode:
		if n != nil {
			for _, c := range n.Nodes {
				l.look(c)
			}
		}
	case *parse.ActionNode:
		l.look(n.Pipe)
	case *parse.IfNode:
		l.branch(&n.BranchNode)
	case *parse.RangeNode:
		l.branch(&n.BranchNode)
	case *parse.WithNode:
		l.branch(&n.BranchNode)
	case *parse.TemplateNode:
		l.look(n.Pipe)
	case *parse.PipeNode:
		if n != nil {
			for _, c := range n.Cmds {
				l.look(c)
			}
		}
	case *parse.CommandNode:
		for _, c := range n.Args {
			l.look(c)
		}
	case *parse.ChainNode:
		l.look(n.Node)
		l.idents(n, n.Field)
	case *parse.FieldNode:
		l.idents(n, n.Ident)
	case *parse.VariableNode:
		l.idents(n, n.Ident[1:])
	case *parse.IdentifierNode:
		if !allowed[n.Ident] {
			l.say(n, "A template can't call %s.", n.Ident)
		}
	}
}

func (l *looker) branch(b *parse.BranchNode) {
	l.look(b.Pipe)
	l.look(b.List)
	l.look(b.ElseList)
}

// counting is what is put at the beginning of each loop and part, so that its turns are counted.
var counting = func() parse.Node {
	trees, err := parse.Parse("x", "{{$_ := "+turnName+"}}", "", "", map[string]any{turnName: true})
	if err != nil {
		panic(err)
	}
	return trees["x"].Root.Nodes[0]
}()

// count has the turns of a piece counted, and of all loops in it.
func count(list *parse.ListNode) {
	if list == nil {
		return
	}
	for _, n := range list.Nodes {
		switch n := n.(type) {
		case *parse.IfNode:
			within(n.List, n.ElseList)
		case *parse.WithNode:
			within(n.List, n.ElseList)
		case *parse.RangeNode:
			count(n.List)
			within(n.ElseList)
		}
	}
	list.Nodes = append([]parse.Node{counting.Copy()}, list.Nodes...)
}

// within has the loops in pieces counted that are no loops themselves.
func within(lists ...*parse.ListNode) {
	for _, l := range lists {
		if l != nil {
			count(l)
		}
	}
}

var atLine = regexp.MustCompile(`template:` + ownName + `:(\d+)(?::\d+)?:? ?|template: ` + ownName + `:(\d+)(?::\d+)?:? ?`)

// noteOf is an error of a template by its line, in words that say what is wrong with it and not where in Go.
func noteOf(err error, source string) output.Note {
	note := output.Note{Line: 1, Fatal: true}
	said := err.Error()
	if m := atLine.FindStringSubmatch(said); m != nil {
		note.Line, _ = strconv.Atoi(m[1] + m[2])
		said = said[strings.Index(said, m[0])+len(m[0]):]
	}
	var found forbidden
	if errors.As(err, &found) {
		note.Line = lineOf(source, found.near, strings.TrimSpace(found.in))
		said = found.Error()
	} else if reason, refused := refusal.Reason(err); refused {
		said = reason
	}
	said = regexp.MustCompile(`executing "[^"]*" at `).ReplaceAllString(said, "")
	if r := []rune(said); len(r) > 0 {
		note.Text = strings.ToUpper(string(r[0])) + string(r[1:])
	}
	if !strings.HasSuffix(note.Text, ".") {
		note.Text += "."
	}
	return note
}

// lineOf is the line of a template where one of the texts stands first, whatever its case; 1 where it is put together
// from pieces.
func lineOf(source string, texts ...string) int {
	source = strings.ToLower(source)
	for _, text := range texts {
		if at := strings.Index(source, strings.ToLower(text)); at >= 0 && text != "" {
			return 1 + strings.Count(source[:at], "\n")
		}
	}
	return 1
}
