package difftest

import (
	"fmt"
	"strings"
)

// part makes the question about one record type.
func (m *maker) part() (obj, *ground) {
	start := pick(m, []string{"deals", "deals", "deals", "activities", "customers", "customers", "people", "lines"})
	t := typeOf(start)
	p := obj{"start": start}
	g := &ground{typ: t, all: fields(t, "", 0, 4)}
	if m.chance(30) && len(t.backs) > 0 {
		p["bring"] = m.bring(g, t, "", 1)
	}
	if t.owner != "" && m.chance(25) {
		switch m.r.IntN(4) {
		case 0:
			p["whose"] = "mine"
		case 1:
			p["whose"] = "team"
		case 2:
			p["whose"] = "everyone"
		default:
			p["whose"] = obj{"people": []any{pick(m, m.w.ids["people"])}, "teams": []any{pick(m, m.w.ids["teams"])}}
		}
		m.count(fmt.Sprintf("whose: %T", p["whose"]))
	}
	if m.chance(40) {
		if own := m.own(g); own != nil {
			p["own"] = own
		}
	}
	if m.chance(35) {
		if f, ok := m.field(g, dated); ok && !strings.HasPrefix(f.path, "own.") {
			p["period"] = obj{"field": f.path, "within": m.period(false)}
			m.count("period")
		}
	}
	if m.chance(55) {
		p["filter"] = m.tree(g, 1)
		m.count("filter")
	}
	return p, g
}

func (m *maker) bring(g *ground, t *typ, prefix string, n int) obj {
	b := pick(m, t.backs)
	to := typeOf(b.typ)
	out := obj{"link": b.key}
	path := prefix + b.key
	g.brung = append(g.brung, path)
	g.all = append(g.all, fields(to, path+".", 0, 2)...)
	g.all = append(g.all, fields(to, path+".", 0, 1)...)
	m.count("bring")
	if m.chance(40) {
		out["where"] = m.tree(plain(to), 2)
		m.count("bring where")
	}
	if m.chance(50) {
		out["keepEmpty"] = m.chance(50)
		m.count(fmt.Sprintf("keepEmpty: %v", out["keepEmpty"]))
	}
	if n == 1 && m.chance(35) && len(to.backs) > 0 {
		out["bring"] = m.bring(g, to, path+".", 2)
		m.count("nested bring")
	}
	return out
}

// own makes own fields of every kind.
func (m *maker) own(g *ground) []any {
	var out []any
	add := func(key string, f fld, def obj) {
		def["key"] = key
		if m.chance(30) {
			def["label"] = "Own " + key
		}
		out = append(out, def)
		g.own = append(g.own, found{path: "own." + key, f: f})
	}
	for i := range 1 + m.r.IntN(2) {
		key := fmt.Sprintf("f%d", i)
		switch m.r.IntN(4) {
		case 0:
			add(key, fld{key: key, kind: "number"}, obj{"formula": written(m.formula(g, 2))})
			m.count("own formula")
		case 1:
			if links := m.links(g.typ); len(links) > 0 {
				def, f := m.linked(pick(m, links))
				f.key = key
				add(key, f, obj{"linked": def})
			}
		case 2:
			if f, ok := m.field(&ground{typ: g.typ, all: g.all}, numeric); ok {
				add(key, fld{key: key, kind: "choice"}, obj{"bands": obj{"of": f.path, "edges": []any{"-10", "5", "1000.25"}}})
				m.count("own bands")
			}
		default:
			if f, ok := m.field(&ground{typ: g.typ, all: g.all}, coded); ok {
				t := m.typeAt(g, f)
				one, two := m.value(t, f.f), m.value(t, f.f)
				sets := []any{obj{"label": "Nordic", "values": []any{one}}}
				if fold(one) != fold(two) {
					sets = append(sets, obj{"label": "Iberia", "values": []any{two}})
				}
				def := obj{"of": f.path, "sets": sets}
				if m.chance(50) {
					def["rest"] = "Elsewhere"
				}
				add(key, fld{key: key, kind: "choice"}, obj{"merge": def})
				m.count("own merge")
			}
		}
	}
	return out
}

func (m *maker) linked(l found) (obj, fld) {
	to := typeOf(l.f.to)
	fn := pick(m, []string{"count", "filled", "distinct", "sum", "average", "median", "min", "max", "newest", "oldest"})
	def := obj{"link": l.path, "fn": fn}
	f := fld{kind: "number"}
	in := plain(to)
	get := func(ok func(fld) bool) (found, bool) {
		return m.field(in, func(x fld) bool { return ok(x) })
	}
	if m.chance(40) {
		def["where"] = m.tree(in, 2)
	}
	switch fn {
	case "count":
	case "filled", "distinct":
		x, _ := get(any2)
		def["of"] = x.path
	case "newest", "oldest":
		by, ok := get(dated)
		x, _ := get(func(x fld) bool { return x.kind != "id" })
		if !ok {
			def["fn"] = "count"
			break
		}
		def["of"], def["by"] = x.path, by.path
		f = x.f
		f.worked = false
		f.ordered = false
		f.choices = nil
	default:
		x, ok := get(numeric)
		if !ok {
			def["fn"] = "count"
			break
		}
		def["of"] = x.path
		f.kind = x.f.kind
	}
	m.count("linked " + def["fn"].(string))
	f.key = ""
	if f.kind == "choice" || f.kind == "text" {
		f.kind = "text"
	}
	if def["fn"] == "average" || def["fn"] == "median" {
		f.kind = "average" // not grouped or compared by: floats cannot tell such values apart
	}
	return def, f
}

// formula is a random one whose outcome is a number that floats hold exactly, so that it can be compared and grouped by.
func (m *maker) formula(g *ground, depth int) *fx {
	leaf := func() *fx {
		if f, ok := m.field(&ground{typ: g.typ, all: g.all}, func(f fld) bool { return f.kind == "number" || f.kind == "money" }); ok && m.chance(70) && !f.f.worked {
			return ref(f.path)
		}
		return num(pick(m, []string{"0", "1", "2.5", "10"}))
	}
	if depth == 0 {
		return leaf()
	}
	m.count("formula part")
	switch m.r.IntN(9) {
	case 0:
		return call(pick(m, []string{"+", "-"}), m.formula(g, depth-1), leaf())
	case 1:
		return call("*", leaf(), num("2"))
	case 2:
		return call("neg", leaf())
	case 3:
		return call(pick(m, []string{"min", "max"}), leaf(), m.formula(g, depth-1))
	case 4:
		return call("abs", leaf())
	case 5:
		return call("first_filled", leaf(), num("3"))
	case 6:
		return call("if", m.truth(g), m.formula(g, depth-1), leaf())
	case 7:
		if f, ok := m.field(&ground{typ: g.typ, all: g.all}, dated); ok {
			return call("days", ref(f.path), call("today"))
		}
	}
	return leaf()
}

func (m *maker) truth(g *ground) *fx {
	in := &ground{typ: g.typ, all: g.all}
	switch m.r.IntN(4) {
	case 0:
		if f, ok := m.field(in, func(f fld) bool { return f.kind == "yesno" }); ok {
			return call("or", ref(f.path), call("not", ref(f.path)))
		}
	case 1:
		if f, ok := m.field(in, func(f fld) bool { return f.kind == "choice" }); ok {
			return call(pick(m, []string{"==", "!="}), ref(f.path), &fx{op: "text", name: strings.ToUpper(pick(m, f.f.choices))})
		}
	}
	return call("and", call(pick(m, []string{">", "<=", "==", "!=", "<", ">="}), m.formula(g, 0), num("5")), call("not", call("<", m.formula(g, 0), num("-20"))))
}
