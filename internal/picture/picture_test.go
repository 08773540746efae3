package picture_test

import (
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"fmt"
	"image/png"
	"io"
	"strings"
	"testing"

	"github.com/ledongthuc/pdf"
	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/picture"
)

var briefs = map[string]string{
	"column":      `"groups":[{"field":"stage"}],"across":[{"field":"kind"}],"summaries":[{"key":"t","fn":"sum","of":"value"}]`,
	"bar":         `"groups":[{"field":"owner","top":{"n":8,"by":"t"}}],"summaries":[{"key":"t","fn":"sum","of":"value"}]`,
	"line":        `"groups":[{"field":"created","by":"month"}],"across":[{"field":"kind"}],"summaries":[{"key":"n","fn":"count"}]`,
	"area":        `"groups":[{"field":"created","by":"quarter"}],"summaries":[{"key":"n","fn":"count"}]`,
	"pie":         `"groups":[{"field":"kind"}],"summaries":[{"key":"n","fn":"count"}]`,
	"ring":        `"groups":[{"field":"source"}],"summaries":[{"key":"n","fn":"count"}]`,
	"funnel":      `"filter":{"field":"pipeline","is":"any_of","values":["Projects"]},"groups":[{"field":"stage"}],"summaries":[{"key":"t","fn":"sum","of":"value"}]`,
	"bridge":      `"period":{"field":"created","within":"last_quarter"},"compare":"previous_period","groups":[{"field":"kind"}],"summaries":[{"key":"t","fn":"sum","of":"value"}]`,
	"column_line": `"groups":[{"field":"created","by":"quarter"}],"summaries":[{"key":"t","fn":"sum","of":"value"},{"key":"n","fn":"count"}]`,
	"heat":        `"groups":[{"field":"stage"},{"field":"kind"}],"summaries":[{"key":"n","fn":"count"}]`,
	"scatter":     `"groups":[{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"}]`,
	"bubble":      `"groups":[{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"},{"key":"a","fn":"average","of":"value"}]`,
	"figure":      `"period":{"field":"created","within":"this_quarter"},"compare":"previous_period","groups":[{"field":"created","by":"week"}],"summaries":[{"key":"t","fn":"sum","of":"value"}]`,
	"progress":    `"target":"9000000","summaries":[{"key":"t","fn":"sum","of":"value"}]`,
}

func answer(t *testing.T, v *answers.View, kind string) *answers.Answer {
	t.Helper()
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals",` + briefs[kind] + `,"chart":{"kind":"` + kind + `"}}`))
	require.NoError(t, err)
	a, err := v.Ask(context.Background(), b)
	require.NoError(t, err)
	require.Equal(t, kind, a.Drawing.Kind)
	return a
}

// words are all texts of an SVG.
func words(t *testing.T, svg []byte) string {
	t.Helper()
	var out strings.Builder
	d := xml.NewDecoder(bytes.NewReader(svg))
	in := ""
	for {
		tok, err := d.Token()
		if errors.Is(err, io.EOF) {
			return out.String()
		}
		require.NoError(t, err, "it is no XML")
		switch tok := tok.(type) {
		case xml.StartElement:
			in = tok.Name.Local
		case xml.CharData:
			if in == "text" || in == "tspan" {
				out.Write(tok)
				out.WriteByte('\n')
			}
		}
	}
}

// Every kind of chart is painted, on both grounds, with what it says on the screen: its title, its sentence, its marks.
func TestEveryKind(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 2)
	var ps picture.Painters
	ctx := context.Background()
	for _, kind := range brief.ChartKinds {
		if kind == "table" {
			continue
		}
		require.NotEmpty(t, briefs[kind], "a kind without a test: %s", kind)
		ans := answer(t, v, kind)
		p := picture.Panel{Title: ans.Drawing.Title, Text: ans.Sentence.String(), Drawing: ans.Drawing, Note: "as of 14 May"}
		for _, on := range []string{"paper", "ink"} {
			data, err := ps.PNG(ctx, p, on, 600, 360, 1)
			require.NoError(t, err, kind)
			img, err := png.Decode(bytes.NewReader(data))
			require.NoError(t, err)
			colours := map[[3]uint32]int{}
			for x := range img.Bounds().Dx() {
				for y := 110; y < 330; y++ {
					r, g, b, alpha := img.At(x, y).RGBA()
					require.Equal(t, uint32(0xffff), alpha)
					colours[[3]uint32{r, g, b}]++
				}
			}
			require.Greater(t, len(colours), 8, "%s on %s is blank", kind, on)
		}
		svg, err := ps.SVG(ctx, p, "paper", 600, 360)
		require.NoError(t, err, kind)
		said := words(t, svg)
		require.Contains(t, said, "as of 14 May", kind)
		if kind == "figure" || kind == "progress" {
			require.Contains(t, said, ans.Drawing.Total, kind)
			continue
		}
		require.Contains(t, said, strings.Fields(ans.Drawing.Title)[0], kind)
		some := 0
		for _, c := range ans.Drawing.Categories {
			if strings.Contains(said, c.Label) {
				some++
			}
		}
		require.Positive(t, some, "%s names none of its categories: %s", kind, said)
	}
}

// What is on pages can be searched, each page has its number, the heads of a table stand on each, and letters that our
// fonts do not have are there all the same.
func TestPages(t *testing.T) {
	a, _ := demotest.App(t)
	ans := answer(t, demotest.View(t, a, 2), "column")
	var ps picture.Painters
	long := &picture.Table{Heads: []picture.Head{{Label: "Customer"}, {Label: "Value", Right: true}}, More: 7}
	for range 150 {
		long.Rows = append(long.Rows, picture.Row{Cells: []string{"Łódź Ωmega Жук pontoon", "€1,234.00"}})
	}
	data, err := ps.PDF(context.Background(), picture.Document{
		Title: "Monday", Lines: []string{"Deals of everyone."},
		Panels: []picture.Placed{{Panel: picture.Panel{Drawing: ans.Drawing, Table: long}}},
	})
	require.NoError(t, err)
	r, err := pdf.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	require.Greater(t, r.NumPage(), 2)
	rows := 0
	for i := 1; i <= r.NumPage(); i++ {
		text, err := r.Page(i).GetPlainText(nil)
		require.NoError(t, err)
		text = strings.ReplaceAll(text, "\n", "")
		require.Contains(t, text, "page "+string(rune('0'+i))+" of "+string(rune('0'+r.NumPage())))
		require.Contains(t, text, "Customer", "the heads on page %d", i)
		rows += strings.Count(text, "1,234.00")
		if i == r.NumPage() {
			require.Contains(t, text, "and 7 more rows that are not here")
		}
	}
	require.Equal(t, 150, rows, "each row once")
}

// A table that has no room for all of its rows says how many there are besides.
func TestTablesSayWhatIsBesides(t *testing.T) {
	var ps picture.Painters
	table := &picture.Table{Heads: []picture.Head{{Label: "Customer"}}, More: 5}
	for range 40 {
		table.Rows = append(table.Rows, picture.Row{Cells: []string{"Quay"}})
	}
	svg, err := ps.SVG(context.Background(), picture.Panel{Title: "List", Table: table}, "paper", 300, 200)
	require.NoError(t, err)
	said := words(t, svg)
	shown := strings.Count(said, "Quay")
	require.Positive(t, shown)
	require.Contains(t, said, fmt.Sprintf("and %d more", 45-shown))
}

// A picture that takes too long, or whose reader is gone, is given up, and the painter paints the next one.
func TestGivenUp(t *testing.T) {
	a, _ := demotest.App(t)
	ans := answer(t, demotest.View(t, a, 2), "line")
	var ps picture.Painters
	ctx, stop := context.WithCancel(context.Background())
	stop()
	_, err := ps.PNG(ctx, picture.Panel{Drawing: ans.Drawing}, "paper", 600, 360, 1)
	require.ErrorIs(t, err, context.Canceled)
	_, err = ps.PNG(context.Background(), picture.Panel{Drawing: ans.Drawing}, "paper", 600, 360, 1)
	require.NoError(t, err)
}
