package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Every kind of chart over easy and hard groups, as it is drawn: no text lies on another or leaves the picture.
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
	for _, kind := range []string{"column", "bar", "line", "area", "pie", "ring", "funnel", "column_line", "heat", "scatter", "bubble", "figure"} {
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
			if len(wrong) > 0 {
				p.shot("drawing " + kind + " " + name)
			}
		}
	}
}

// readable lists the texts of the picture that lie on one another or leave it.
const readable = `(() => {
  const svg = document.querySelector("figure svg"); if (!svg) return [];
  const room = document.querySelector("section[aria-label=Chart]").getBoundingClientRect();
  const texts = [...svg.querySelectorAll("text")].filter((e) => e.textContent.trim() && !e.closest("[clip-path]")).map((e) => ({t: e.textContent, r: e.getBoundingClientRect()})).filter((x) => x.r.width > 0);
  const out = [];
  for (const x of texts) if (x.r.left < room.left - 1 || x.r.right > room.right + 1 || x.r.top < room.top - 1 || x.r.bottom > room.bottom + 1) out.push("outside: " + x.t);
  for (let i = 0; i < texts.length; i++) for (let k = 0; k < i; k++) {
    const a = texts[i].r, b = texts[k].r;
    const w = Math.min(a.right, b.right) - Math.max(a.left, b.left), h = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
    if (w > 2 && h > 4) out.push("overlap: " + texts[k].t + " and " + texts[i].t);
  }
  return out.slice(0, 6);
})()`
