package e2e

import (
	"context"
	"encoding/json"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"net/url"
	"regexp"
	"sort"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"github.com/tdewolff/canvas"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/internal/picture"
)

// shape is what a picture is drawn with: what it is filled with, and where it is.
type shape struct {
	Fill  string
	Place []float64
}

type seen struct {
	Texts  []string
	Shapes []shape
	W, H   float64
}

var numbers = regexp.MustCompile(`-?\d+(?:\.\d+)?(?:e-?\d+)?`)

// placeOf is the box around a shape: however its outline is written, there it is seen.
func placeOf(t *testing.T, at map[string]string) []float64 {
	outline := at["d"]
	if outline == "" {
		outline = "M" + at["points"] + "Z"
	}
	path, err := canvas.ParseSVGPath(outline)
	require.NoError(t, err)
	m, n := canvas.Identity, []float64{}
	for _, text := range numbers.FindAllString(at["transform"], -1) {
		f, err := strconv.ParseFloat(text, 64)
		require.NoError(t, err)
		n = append(n, f)
	}
	switch {
	case strings.HasPrefix(at["transform"], "matrix") && len(n) == 6:
		m = canvas.Matrix{{n[0], n[2], n[4]}, {n[1], n[3], n[5]}}
	case strings.HasPrefix(at["transform"], "translate"):
		m = m.Translate(n[0], n[1])
		if strings.Contains(at["transform"], "scale") {
			m = m.Scale(n[2], n[3])
		}
	default:
		require.Empty(t, n, at["transform"])
	}
	box := path.Transform(m).Bounds()
	return []float64{box.X0, box.Y0, box.X1, box.Y1}
}

// paintedIn reads what an SVG says and is drawn with.
func paintedIn(t *testing.T, svg string) (out seen) {
	t.Helper()
	d := xml.NewDecoder(strings.NewReader(svg))
	in := ""
	for {
		tok, err := d.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		require.NoError(t, err)
		switch tok := tok.(type) {
		case xml.StartElement:
			in = tok.Name.Local
			at := map[string]string{}
			for _, a := range tok.Attr {
				at[a.Name.Local] = a.Value
			}
			if fill := at["fill"]; (in == "path" || in == "polygon") && strings.HasPrefix(fill, "#") {
				out.Shapes = append(out.Shapes, shape{fill, placeOf(t, at)})
			}
		case xml.CharData:
			if in == "text" {
				out.Texts = append(out.Texts, strings.TrimSpace(string(tok)))
			}
		case xml.EndElement:
			in = ""
		}
	}
	sort.Strings(out.Texts)
	return out
}

// What is painted without a browser is what the browser draws: the same texts, the same marks in the same colours in the
// same places, for every kind of chart.
func TestPaintedAsOnTheScreen(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	var ps picture.Painters
	for _, kind := range brief.ChartKinds {
		if kind == "table" || kind == "figure" || kind == "progress" {
			continue // no chart, but letters
		}
		groups, summaries := `[{"field":"stage"}]`, `[{"key":"t","fn":"sum","of":"value"},{"key":"n","fn":"count"},{"key":"a","fn":"average","of":"value"}]`
		switch kind {
		case "heat":
			groups = `[{"field":"stage"},{"field":"kind"}]`
		case "scatter", "bubble":
			groups = `[{"field":"owner"}]`
		case "line", "area", "column_line":
			groups = `[{"field":"created","by":"quarter"}]`
		}
		text := fmt.Sprintf(`{"version":1,"start":"deals","filter":{"all":[{"field":"pipeline","is":"any_of","values":["Projects"]}]},"groups":%s,"summaries":%s,"chart":{"kind":%q}}`, groups, summaries, kind)
		p.visit("/reports/new/deals?brief=" + url.QueryEscape(text))
		p.await(fmt.Sprintf(`document.querySelector("main [data-kind=%s][data-finished]") ? "drawn" : ""`, kind))
		var screen struct {
			SVG  string
			W, H float64
			Body string
		}
		got := eval[string](p, fmt.Sprintf(`fetch("/api/answer", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify({brief: %s})}).then((r) => r.text()).then((body) => {
			const box = document.querySelector("main [data-kind]");
			return JSON.stringify({SVG: new XMLSerializer().serializeToString(box.querySelector("svg")), W: box.clientWidth, H: box.clientHeight, Body: body});
		})`, text))
		require.NoError(t, json.Unmarshal([]byte(got), &screen))
		var body struct{ Drawing *chart.Drawing }
		require.NoError(t, json.Unmarshal([]byte(screen.Body), &body))
		svg, err := ps.Drawn(context.Background(), body.Drawing, false, "paper", screen.W, screen.H)
		require.NoError(t, err, kind)
		want, have := paintedIn(t, screen.SVG), paintedIn(t, svg)
		require.NotEmpty(t, want.Texts, kind)
		require.Equal(t, want.Texts, have.Texts, kind)
		require.NotEmpty(t, want.Shapes, kind)
		require.Len(t, have.Shapes, len(want.Shapes), kind)
		for i, w := range want.Shapes {
			h := have.Shapes[i]
			require.Equal(t, strings.ToLower(w.Fill), strings.ToLower(h.Fill), "%s, mark %d", kind, i)
			for k := range w.Place {
				require.LessOrEqual(t, math.Abs(w.Place[k]-h.Place[k]), 2.5, "%s, mark %d: %v, on the screen %v", kind, i, h.Place, w.Place)
			}
		}
	}
}
