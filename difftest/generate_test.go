package difftest

import (
	"fmt"
	"math/rand/v2"
	"strings"
)

// maker makes random valid briefs, and counts what occurs in them.
type maker struct {
	r    *rand.Rand
	w    *world
	seen map[string]int
}

func (m *maker) count(what string) { m.seen[what]++ }

func (m *maker) chance(percent int) bool { return m.r.IntN(100) < percent }

func pick[T any](m *maker, list []T) T { return list[m.r.IntN(len(list))] }

// found is a field that a path leads to.
type found struct {
	path string
	f    fld
	hops int
}

// fields lists what can be reached from a type over so many links to one.
func fields(ty *typ, prefix string, hops, deep int) []found {
	var out []found
	for _, f := range ty.fields {
		out = append(out, found{prefix + f.key, f, hops})
		if f.to != "" && hops < deep {
			out = append(out, fields(typeOf(f.to), prefix+f.key+".", hops+1, deep)...)
		}
	}
	return out
}

// place is where paths start in a part: a type with what it brings and its own fields.
type ground struct {
	typ   *typ
	all   []found
	own   []found
	brung []string // brought paths
}

func (m *maker) field(g *ground, ok func(f fld) bool) (found, bool) {
	var fit []found
	for _, f := range append(append([]found{}, g.all...), g.own...) {
		if ok(f.f) {
			fit = append(fit, f)
		}
	}
	if len(fit) == 0 {
		return found{}, false
	}
	// Nearer fields more often.
	for range 3 {
		f := pick(m, fit)
		if f.hops <= m.r.IntN(5) {
			return m.use(f), true
		}
	}
	return m.use(pick(m, fit)), true
}

func (m *maker) use(f found) found {
	m.count(fmt.Sprintf("links deep: %d", f.hops))
	return f
}

func numeric(f fld) bool { return f.kind == "money" || f.kind == "number" || f.kind == "percent" }
func dated(f fld) bool   { return f.kind == "date" || f.kind == "time" }
func coded(f fld) bool   { return f.kind == "text" || f.kind == "choice" }
func any2(fld) bool      { return true }

var words = []string{"today", "yesterday", "tomorrow", "past", "future"}

func init() {
	for _, u := range []string{"week", "month", "quarter", "year", "fiscal_quarter", "fiscal_year"} {
		words = append(words, "this_"+u, "last_"+u, "next_"+u, u+"_to_date")
	}
}

func (m *maker) period(closed bool) any {
	switch m.r.IntN(4) {
	case 0, 1:
		w := pick(m, words)
		if closed && (w == "past" || w == "future") {
			return m.period(closed)
		}
		m.count("period: " + w)
		return w
	case 2:
		p := obj{"unit": pick(m, []string{"day", "week", "month", "quarter", "year"})}
		p[pick(m, []string{"last", "next"})] = 1 + m.r.IntN(14)
		if m.chance(40) {
			p["current"] = m.chance(50)
			m.count("period: current")
		}
		m.count("period: rolling")
		return p
	}
	from := base().AddDate(0, 0, -m.r.IntN(600))
	p := obj{"from": from.Format("2006-01-02"), "to": from.AddDate(0, 0, m.r.IntN(300)).Format("2006-01-02")}
	if !closed && m.chance(40) {
		delete(p, pick(m, []string{"from", "to"}))
		m.count("period: open")
	}
	m.count("period: dates")
	return p
}

// value is a value that a condition may name, most often one that is there.
func (m *maker) value(g *typ, f fld) string {
	switch f.kind {
	case "id", "link":
		to := f.to
		if f.kind == "id" {
			to = g.key
		}
		return pick(m, m.w.ids[to])
	case "number", "percent":
		return m.w.random(m.r, f)
	case "choice":
		if f.choices == nil {
			return "Nordic"
		}
		v := pick(m, f.choices)
		if m.chance(30) {
			v = strings.ToUpper(v)
		}
		return v
	case "time":
		if m.chance(40) {
			return base().AddDate(0, 0, -m.r.IntN(400)).Format("2006-01-02")
		}
	}
	return m.w.random(m.r, f)
}

// tree is a random filter.
func (m *maker) tree(g *ground, depth int) obj {
	if depth < 4 && m.chance(35-8*depth) {
		switch m.r.IntN(4) {
		case 0:
			m.count("not")
			return obj{"not": m.tree(g, depth+1)}
		default:
			word := pick(m, []string{"all", "any"})
			m.count(word)
			kids := []any{}
			for range m.r.IntN(4) {
				kids = append(kids, m.tree(g, depth+1))
			}
			return obj{word: kids}
		}
	}
	if m.chance(22) && len(m.links(g.typ)) > 0 {
		return m.onLink(g, depth)
	}
	return m.onField(g)
}

// links lists the links to many of a type, also behind a link to one.
func (m *maker) links(t *typ) []found {
	var out []found
	for _, b := range t.backs {
		out = append(out, found{path: b.key, f: fld{to: b.typ}})
	}
	for _, f := range t.fields {
		if f.to != "" {
			for _, b := range typeOf(f.to).backs {
				out = append(out, found{path: f.key + "." + b.key, f: fld{to: b.typ}, hops: 1})
			}
		}
	}
	return out
}

func plain(t *typ) *ground { return &ground{typ: t, all: fields(t, "", 0, 2)} }

func (m *maker) onLink(g *ground, depth int) obj {
	l := pick(m, m.links(g.typ))
	c := obj{"link": l.path, "is": pick(m, []string{"some", "none"})}
	m.count("condition on link: " + c["is"].(string))
	if c["is"] == "some" && m.chance(30) {
		c["at_least"] = 1 + m.r.IntN(3)
		m.count("at_least on link")
	}
	if m.chance(75) {
		c["where"] = m.tree(plain(typeOf(l.f.to)), depth+1)
	}
	return c
}

func (m *maker) onField(g *ground) obj {
	f, _ := m.field(g, func(f fld) bool { return f.kind != "average" })
	ops := []string{"any_of", "none_of", "empty", "filled"}
	switch {
	case coded(f.f):
		ops = append(ops, "contains", "not_contains", "starts_with")
	case numeric(f.f):
		ops = append(ops, "under", "at_most", "over", "at_least", "between")
	case dated(f.f):
		ops = append(ops, "under", "at_most", "over", "at_least", "between", "within", "within", "within")
	}
	is := pick(m, ops)
	c := obj{"field": f.path, "is": is}
	m.count("is: " + is)
	if m.chance(8) {
		c["ask"] = true
		m.count("ask")
	}
	if m.chance(8) {
		c["fixed"] = true
		m.count("fixed")
	}
	switch is {
	case "empty", "filled":
		return c
	case "within":
		c["period"] = m.period(false)
		return c
	}
	if m.chance(12) && is != "contains" && is != "not_contains" && is != "starts_with" && is != "between" {
		if o, ok := m.field(g, func(o fld) bool { return alike(f.f, o) }); ok && !strings.HasPrefix(f.path, "own.") && !strings.HasPrefix(o.path, "own.") && same(g, f, o) {
			c["other"] = o.path
			m.count("other")
			return c
		}
	}
	n := 1
	switch is {
	case "between":
		n = 2
	case "any_of", "none_of", "contains", "not_contains", "starts_with":
		n = 1 + m.r.IntN(2)
	}
	vals := []any{}
	for range n {
		v := m.value(m.typeAt(g, f), f.f)
		if is == "contains" || is == "not_contains" || is == "starts_with" {
			if r := []rune(v); len(r) > 3 {
				v = string(r[:1+m.r.IntN(3)])
			}
		}
		vals = append(vals, v)
	}
	c["values"] = vals
	return c
}

// typeAt is the type that holds a field.
func (m *maker) typeAt(g *ground, f found) *typ {
	if strings.HasPrefix(f.path, "own.") {
		return g.typ
	}
	t := g.typ
	segs := strings.Split(f.path, ".")
	for _, s := range segs[:len(segs)-1] {
		if x := t.field(s); x != nil {
			t = typeOf(x.to)
			continue
		}
		for _, b := range t.backs {
			if b.key == s {
				t = typeOf(b.typ)
				break
			}
		}
	}
	return t
}

func alike(a, b fld) bool {
	switch {
	case a.kind == "percent" || b.kind == "percent":
		return a.kind == b.kind
	case numeric(a):
		return numeric(b)
	case dated(a):
		return dated(b)
	case coded(a):
		return coded(b)
	}
	return a.kind == b.kind && a.to == b.to && a.kind != "id"
}

func same(_ *ground, a, b found) bool {
	// Order makes no sense between texts, links and yes/no.
	return a.path != b.path && (numeric(a.f) || dated(a.f))
}

func (m *maker) summaryWhere(g *ground) obj {
	m.count("where on summary")
	return m.tree(g, 2)
}
