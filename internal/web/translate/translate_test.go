package translate_test

import (
	"html/template"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/web/translate"
)

// german is a small catalogue; what it lacks stays English.
func german(text string) string {
	known := map[string]string{
		"Nothing is planned yet.": "Noch ist nichts geplant.", "{1} of {2}": "von {2} sind es {1}",
		"Remove {1}": "{1} entfernen", "ready": "fertig",
		"Photograph of {1}": "Foto von {1}", "Plan it": "Planen", ", for": ", für",
	}
	if said, ok := known[text]; ok {
		return said
	}
	return text
}

// print executes a translated template; values are looked up as the pages do it.
func print(t *testing.T, source string, data any) string {
	t.Helper()
	said := func(v any) any {
		if s, ok := v.(string); ok {
			return german(s)
		}
		return v
	}
	page, err := template.New("").Funcs(template.FuncMap{"said": said, "told": func(v any) any { return v },
		"icon": func(string) template.HTML { return "<svg></svg>" }}).Parse(translate.Source(source, german))
	require.NoError(t, err, source)
	var b strings.Builder
	require.NoError(t, page.Execute(&b, data))
	return b.String()
}

func TestTextsAreExchanged(t *testing.T) {
	data := map[string]any{"Done": 3, "All": 8, "Name": "Ebb tide", "State": "ready", "Is": true,
		"Mark": template.HTML("<b>x</b>")}
	for source, want := range map[string]string{
		`<p>Nothing is planned
  yet.</p>`: `<p>Noch ist nichts geplant.</p>`,
		`<b>{{.Done}} of {{.All}}</b>`:                                       `<b>von 8 sind es 3</b>`,
		`<button aria-label="Remove {{.Name}}">x</button>`:                   `<button aria-label="Ebb tide entfernen">x</button>`,
		`<img alt="Photograph of {{.Name}}" src="/a?name=Plan it">`:          `<img alt="Foto von Ebb tide" src="/a?name=Plan it">`,
		`<a class="ready" href="/ready">Plan it</a>`:                         `<a class="ready" href="/ready">Planen</a>`,
		`<i>{{.State}}</i><input value="{{.State}}">`:                        `<i>fertig</i><input value="ready">`,
		`{{if .Is}}Plan it{{else}}ready{{end}}`:                              `Planen`,
		`<a>{{icon "plus"}}<span> Plan it </span></a>`:                       `<a><svg></svg><span> Planen </span></a>`,
		`<p>{{.Mark}}, for</p>`:                                              `<p><b>x</b>, for</p>`,
		`<p>{{- .State -}} </p>`:                                             `<p>fertig</p>`,
		`<script>let ready = 'ready';</script>`:                              `<script>let ready = 'ready';</script>`,
		`<pre>{"state": "{{.State}}"}</pre>`:                                 `<pre>{"state": "ready"}</pre>`,
		`<textarea>{{.State}}</textarea>`:                                    `<textarea>ready</textarea>`,
		`<p>{{/* Plan it */}}ready</p>`:                                      `<p>fertig</p>`,
		`<p title="{{if eq .State "ready"}}ready{{end}}">1 < 2</p>`:          `<p title="fertig">1 &lt; 2</p>`,
		`{{define "x"}}{{with .State}}{{.}}{{end}}{{end}}{{template "x" .}}`: `fertig`,
		`<p>{{$s := .State}}{{$s}}</p>`:                                      `<p>fertig</p>`,
		`<p>A sentence nobody knows, {{.Name}}.</p>`:                         `<p>A sentence nobody knows, Ebb tide.</p>`,
	} {
		assert.Equal(t, want, print(t, source, data), source)
	}
}

func TestMessagesAreFound(t *testing.T) {
	got := translate.Messages(
		`<p title="On the board">{{.N}} boards{{if .X}}, pinned{{end}} <em>{{.Name}}</em></p><style>p { color: red }</style>{{template "weight" "open"}}`)
	assert.Equal(t, []string{"On the board", "{1} boards", ", pinned"}, got)
}

// Any source stays a whole: nothing is lost when there is no translation.
func FuzzSource(f *testing.F) {
	f.Add(`<p title="{{.A}}">{{if .B}}x{{end}} y {{.C}}</p>`)
	f.Add(`<a b='c>"{{`)
	f.Fuzz(func(t *testing.T, source string) {
		if strings.Contains(source, "{{") {
			return
		}
		if got := translate.Source(source, func(s string) string { return s }); got != source {
			t.Fatalf("%q became %q", source, got)
		}
	})
}
