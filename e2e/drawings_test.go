package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Every kind of chart over easy and hard groups, as it is drawn: no text lies on another or leaves the picture, and on
// paper and on ink every text stands out from what it stands on.
func TestDrawingsAreReadable(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	groups := map[string]string{
		"stages":    `"groups":[{"field":"stage"}]`,
		"people":    `"groups":[{"field":"owner"}]`,
		"months":    `"groups":[{"field":"created","by":"month"}]`,
		"hundreds":  `"groups":[{"field":"customer"}]`,
		"one value": `"filter":{"all":[{"field":"stage","is":"any_of","values":["Design"]}]},"groups":[{"field":"stage"}]`,
		"two":       `"groups":[{"field":"owner"}],"across":[{"field":"stage"}]`,
	}
	for _, kind := range []string{"column", "bar", "line", "area", "pie", "ring", "funnel", "bridge", "column_line", "heat", "scatter", "bubble", "figure"} {
		for name, g := range groups {
			if (kind == "heat") != (name == "two") && kind == "heat" || (kind == "funnel" && !strings.Contains(name, "stages")) {
				continue
			}
			b := fmt.Sprintf(`{"version":1,"start":"deals",%s,"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"},{"key":"a","fn":"average","of":"value"}],"totalsOnly":true,"chart":{"kind":%q%s}}`,
				g, kind, map[bool]string{true: `,"stacked":true`, false: `,"values":["v"]`}[name == "two"])
			if kind == "column_line" || kind == "scatter" || kind == "bubble" {
				b = strings.Replace(strings.Replace(b, `,"values":["v"]`, "", 1), `,"stacked":true`, "", 1)
			}
			p.visit("/reports/new/deals?brief=" + inAddress(b))
			p.find("figure", "")
			if kind != "figure" {
				p.await(`document.querySelector("figure [data-finished]") ? "drawn" : ""`)
			}
			wrong := eval[[]string](p, readable)
			assert.Empty(t, wrong, "%s of %s", kind, name)
			for _, ground := range []string{"ink", "paper"} {
				eval[any](p, fmt.Sprintf(`void (document.documentElement.dataset.theme = %q, window.dispatchEvent(new Event("themechange")))`, ground))
				p.await(`document.querySelector("figure [data-kind]") && !document.querySelector("figure [data-finished]") ? "" : "drawn"`)
				faint := eval[[]string](p, contrast)
				assert.Empty(t, faint, "%s of %s on %s", kind, name, ground)
				wrong = append(wrong, faint...)
			}
			if len(wrong) > 0 {
				p.shot("drawing " + kind + " " + name)
			}
		}
	}
}

// What was before and what is aimed at stand beside a value without hiding a text, and every bar starts at zero.
func TestBarsStartAtZero(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	for kind, side := range map[string]string{"column": "bottom", "bar": "left", "line": "", "area": ""} {
		p.visit("/reports/new/deals?brief=" + inAddress(fmt.Sprintf(`{"version":1,"start":"deals","period":{"field":"closed","within":{"last":6,"unit":"month"}},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},"groups":[{"field":"closed","by":"month","every":true}],
		  "summaries":[{"key":"v","fn":"sum","of":"value"}],"compare":"year_before","targetOf":"won_value","totalsOnly":true,"chart":{"kind":%q,"valueTitle":"Euros","groupTitle":"Month"}}`, kind)))
		p.find("figure", "")
		p.await(`document.querySelector("figure [data-finished]") ? "drawn" : ""`)
		assert.Empty(t, eval[[]string](p, readable), kind)
		texts := eval[string](p, `document.querySelector("figure svg").textContent`)
		for _, want := range []string{"the year before", "the target", "Euros", "Month"} {
			assert.Contains(t, texts, want, kind)
		}
		if side == "" {
			continue
		}
		// Read at one moment, as what stands above a picture may still come in.
		at := eval[struct {
			Starts []float64
			Zero   float64
		}](p, fmt.Sprintf(bars, side))
		assert.GreaterOrEqual(t, len(at.Starts), 5, kind)
		for _, start := range at.Starts {
			assert.InDelta(t, at.Starts[0], start, 1, "%s: a bar does not start where the others do", kind)
		}
		assert.InDelta(t, at.Zero, at.Starts[0], 4, "%s: bars start at zero", kind)
	}
}

// bars says where each bar of a picture starts, and where its zero stands.
const bars = `(() => {
  const side = %q, box = (e) => e.getBoundingClientRect();
  const starts = [...document.querySelectorAll("figure svg path")].filter((e) => (e.getAttribute("fill") ?? "").toUpperCase() === "#007C7D").map(box)
    .filter((r) => r.width * r.height > 250).map((r) => r[side]);
  const zero = box([...document.querySelectorAll("figure svg text")].find((e) => e.textContent === "€0"));
  return {starts, zero: side === "bottom" ? (zero.top + zero.bottom) / 2 : (zero.left + zero.right) / 2};
})()`

// Shares that stand on a picture total 100 % within rounding, alone and stacked.
func TestSharesTotal(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	shares := func(groups, looks string) (int, float64) {
		p.visit("/reports/new/deals?brief=" + inAddress(`{"version":1,"start":"deals",`+groups+`,"summaries":[{"key":"v","fn":"sum","of":"value"}],"totalsOnly":true,"chart":{`+looks+`,"labels":"shares","legend":"none"}}`))
		p.find("figure", "")
		p.await(`document.querySelector("figure [data-finished]") ? "drawn" : ""`)
		got := eval[[]float64](p, `[...document.querySelectorAll("figure svg text")].map((e) => /^([\d.,]+) %$/.exec(e.textContent)).filter(Boolean).map((m) => Number(m[1].replace(",", "")))`)
		total := 0.0
		for _, x := range got {
			total += x
		}
		return len(got), total
	}
	n, total := shares(`"groups":[{"field":"owner"}]`, `"kind":"bar"`)
	assert.Equal(t, 12, n)
	assert.InDelta(t, 100, total, 0.05*float64(n))
	n, total = shares(`"groups":[{"field":"kind"}]`, `"kind":"pie"`)
	assert.GreaterOrEqual(t, n, 4)
	assert.InDelta(t, 100, total, 0.05*float64(n))
}

// contrast lists the texts of the picture that have a contrast under 3 with what is painted under their middle (WCAG 2.2,
// 1.4.3, for large texts; small ones that are the page's own are checked by the accessibility test). A text with a rim
// stands on its rim.
const contrast = `(() => {
  const svg = document.querySelector("figure svg"); if (!svg) return [];
  const rgb = (c) => { const m = /^rgba?\(([^)]+)\)/.exec(c); return m ? m[1].split(",").map(Number) : null; };
  const light = (c) => { const [r, g, b] = c.map((v) => v / 255).map((v) => v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4); return 0.2126 * r + 0.7152 * g + 0.0722 * b; };
  const paper = rgb(getComputedStyle(document.querySelector("section[aria-label=Chart]")).backgroundColor);
  const shapes = [...svg.querySelectorAll("path, polygon, rect, circle")].map((e) => ({e, s: getComputedStyle(e)})).filter(({s}) => s.fill !== "none" && rgb(s.fill));
  const out = [];
  for (const text of svg.querySelectorAll("text")) {
    if (!text.textContent.trim() || text.closest("[clip-path]")) continue;
    const style = getComputedStyle(text), r = text.getBoundingClientRect();
    if (!r.width || style.stroke !== "none") continue;
    const fill = rgb(style.fill); if (!fill) continue;
    let under = paper.slice(0, 3);
    const at = new DOMPoint(r.x + r.width / 2, r.y + r.height / 2);
    for (const {e, s} of shapes) {
      if (!e.isPointInFill || !e.isPointInFill(at.matrixTransform(e.getScreenCTM().inverse()))) continue;
      const c = rgb(s.fill), a = (c[3] ?? 1) * Number(s.fillOpacity) * Number(s.opacity);
      under = under.map((v, i) => v * (1 - a) + c[i] * a);
    }
    const [a, b] = [light(fill.slice(0, 3)) + 0.05, light(under) + 0.05];
    const ratio = Math.max(a, b) / Math.min(a, b);
    if (ratio < 3) out.push(text.textContent + ": " + ratio.toFixed(1));
  }
  return out.slice(0, 6);
})()`

// readable lists the texts of the picture that lie on one another or leave it. Slanted ones are taken as they lie: two
// lie on one another where no line parts them.
const readable = `(() => {
  const corners = (e) => { const b = e.getBBox(), m = e.getScreenCTM(); return [[b.x, b.y], [b.x + b.width, b.y], [b.x + b.width, b.y + b.height], [b.x, b.y + b.height]].map(([x, y]) => new DOMPoint(x, y).matrixTransform(m)); };
  const crossed = (a, b) => [a, b].every((p) => [[0, 1], [1, 2]].every(([i, k]) => {
    const long = Math.hypot(p[k].x - p[i].x, p[k].y - p[i].y) || 1, x = -(p[k].y - p[i].y) / long, y = (p[k].x - p[i].x) / long;
    const on = (q) => { const at = q.map((c) => c.x * x + c.y * y); return [Math.min(...at), Math.max(...at)]; };
    const [lowA, highA] = on(a), [lowB, highB] = on(b);
    return Math.min(highA, highB) - Math.max(lowA, lowB) > 3;
  }));
  const svg = document.querySelector("figure svg"); if (!svg) return [];
  const room = document.querySelector("section[aria-label=Chart]").getBoundingClientRect();
  const texts = [...svg.querySelectorAll("text")].filter((e) => e.textContent.trim() && !e.closest("[clip-path]")).map((e) => ({t: e.textContent, r: e.getBoundingClientRect(), c: corners(e)})).filter((x) => x.r.width > 0);
  const out = [];
  for (const x of texts) if (x.r.left < room.left - 1 || x.r.right > room.right + 1 || x.r.top < room.top - 1 || x.r.bottom > room.bottom + 1) out.push("outside: " + x.t);
  for (let i = 0; i < texts.length; i++) for (let k = 0; k < i; k++) {
    const a = texts[i].r, b = texts[k].r;
    const w = Math.min(a.right, b.right) - Math.max(a.left, b.left), h = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
    if (w > 2 && h > 4 && crossed(texts[i].c, texts[k].c)) out.push("overlap: " + texts[k].t + " and " + texts[i].t);
  }
  return out.slice(0, 6);
})()`
