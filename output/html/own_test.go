package html_test

import (
	"bytes"
	"context"
	"strings"
	"testing"

	"raconte/output"
	"raconte/output/html"
	"raconte/output/outputtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestATemplateMadeFromOneThatShipsIsAFormat(t *testing.T) {
	source, there := html.Source("steps")
	require.True(t, there)
	outputtest.Options.Own = &output.Own{Data: []byte(source)}
	defer func() { outputtest.Options.Own = nil }()
	outputtest.Run(t, html.Format{}, func(t *testing.T, data []byte) string {
		text, asks := read(t, bytes.NewReader(data))
		for _, a := range asks {
			assert.True(t, strings.HasPrefix(a, "data:image/"), "nothing is asked of anyone: %.60s", a)
		}
		return text
	})
}

func TestWhatIsWrongWithATemplateIsSaidByItsLine(t *testing.T) {
	turns := strings.Repeat("{{range $.Blocks}}", 12) + strings.Repeat("{{end}}", 12)
	double := "{{$x := .Title}}" + strings.Repeat("{{$x = printf \"%s%s\" $x $x}}", 40)
	for source, want := range map[string]string{
		"<p>\n{{.Titel}}":                          ".Titel is nothing",
		"<p>\n{{range .Blocks}}":                   "Unexpected EOF",
		"<p>\n{{.Story}}":                          ".Story is nothing",
		"<p>\n{{range .Blocks}}{{.Source}}{{end}}": ".Source is nothing",
		"<p>\n{{range .Blocks}}{{range .Pictures}}{{.File}}{{end}}{{end}}": ".File is nothing",
		"<p>\n{{call .Title}}":                                                        "can't call call",
		"<p>\n{{js .Title}}":                                                          "can't call js",
		"<p>\n{{index .Words}}{{template \"none\"}}":                                  "none",
		"<p>\n<script>alert(1)</script>":                                              "can't run script",
		"<p>\n<ScRiPt src=x></script>":                                                "can't run script",
		"<p>\n<img src=\"data:image/png,\" OnError=alert(1)>":                         "can't run script",
		"<p>\n<a href=\" javascript:alert(1)\">x</a>":                                 "leads where none may lead",
		"<p>\n<img src=\"http://192.0.2.1/x.png\">":                                   "can't fetch",
		"<p>\n<img src=\"//192.0.2.1/x.png\">":                                        "can't fetch",
		"<p>\n<img srcset=\"https://192.0.2.1/x.png 2x\">":                            "can't fetch",
		"<p>\n<link rel=stylesheet href=\"https://a.example/\">":                      "can't fetch",
		"<p>\n<iframe src=x></iframe>":                                                "can't have <iframe>",
		"<p>\n<meta http-equiv=refresh content=0>":                                    "can't have <meta",
		"<p>\n<style>@import 'x';</style>":                                            "Styles can't fetch",
		"<p>\n<style>p{background:u\\72l(http://a.example/)}</style>":                 "Styles can't fetch",
		"<p>\n<svg><style><img src=x onerror=alert(1)></style></svg>":                 "can't have <style> in SVG",
		"<p>\n<math><mtext></math><svg></math><script>alert(1)</script>":              "can't",
		"<p>\n<img src=\"data:image/png,\" srcset=\"a.png, https://192.0.2.1/x 2x\">": "can't fetch",
		"<p>\n<link rel=preload as=image imagesrcset=\"a.png, //192.0.2.1/x 2x\">":    "can't",
		"<p>\n<svg><rect fill=\"url(https://192.0.2.1/x)\"/></svg>":                   "Styles can't fetch",
		"<p>\n<svg><rect mask=\"u\\72l(//192.0.2.1/x)\"/></svg>":                      "Styles can't fetch",
		"<p>\n<svg><path marker-end=\"url(//192.0.2.1/x#a)\"/></svg>":                 "Styles can't fetch",
		"<p>\n<svg><use href=\"//192.0.2.1/x#a\"/></svg>":                             "can't fetch",
		"<p>\n<p style=\"behavior:none\">":                                            "can't set behavior",
		"<p>\n<style>p{-moz-binding:none}</style>":                                    "can't set -moz-binding",
		"<p>\n<p style=\"background:im/**/age-set('//192.0.2.1/x' 1x)\">":             "Styles can't fetch",
		"<p>\n<input formaction=x>":                                                   "can't have the attribute",
		"<p>\n<template><script>alert(1)</script></template>":                         "can't",
		"<p>\n{{print" + strings.Repeat(" .Title", 2000) + "}}":                       "At most 50 values",
		"<p>\n{{printf \"%999999d\" 1}}":                                              "A width",
		"<p>\n{{print .Blocks}}":                                                      "Words and numbers",
		"<p>\n" + turns:                                                               "times",
		"<p>\n" + double:                                                              "has more than",
		"<p>\n{{define \"a\"}}{{template \"a\" .}}{{end}}{{template \"a\" .}}":        "",
	} {
		notes, err := html.Format{}.Check(t.Context(), output.Own{Data: []byte(source)})
		require.NoError(t, err, source)
		require.NotEmpty(t, notes, source)
		assert.True(t, notes[0].Fatal)
		assert.Contains(t, notes[0].Text, want, source)
		if want != "" && !strings.Contains(source, turns) {
			assert.Equal(t, 2, notes[0].Line, source)
		}
	}
	for name, data := range map[string][]byte{"empty": nil, "no text": {0xff, 0xfe, 0}, "2 MB": make([]byte, 2<<20)} {
		notes, err := html.Format{}.Check(t.Context(), output.Own{Data: data})
		assert.NoError(t, err)
		assert.Len(t, notes, 1, name)
	}
}

func TestScriptRunsWhereTheAdministratorAllowsIt(t *testing.T) {
	own := output.Own{Data: []byte(`<html><head></head><body onload="go()"><script>function go() { document.title = {{.Title}} }</script></body></html>`), Script: true}
	notes, err := html.Format{}.Check(t.Context(), own)
	require.NoError(t, err)
	assert.Empty(t, notes)
	var buf bytes.Buffer
	require.NoError(t, html.Format{}.Write(t.Context(), &buf, outputtest.Input(outputtest.Document(1, "x")), output.Options{Own: &own}))
	assert.Contains(t, buf.String(), "script-src &#39;unsafe-inline&#39;")
	own.Script = false
	assert.ErrorContains(t, html.Format{}.Write(t.Context(), &buf, outputtest.Input(outputtest.Document(1, "x")), output.Options{Own: &own}), "script")
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	_, err = html.Format{}.Check(gone, output.Own{Data: []byte("{{range .Blocks}}x{{end}}")})
	assert.ErrorIs(t, err, context.Canceled)
}
