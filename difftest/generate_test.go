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

// groupable leaves out what floats cannot tell apart, and averages.
func groupable(f fld) bool { return f.kind != "average" && f.key != "weighted" }

func (m *maker) group(g *ground, sums []string, topAllowed bool) obj {
	f, ok := m.field(g, func(f fld) bool { return groupable(f) && (f.kind != "text" || true) })
	if !ok {
		return nil
	}
	out := obj{"field": f.path}
	m.dress(out, f, sums, topAllowed)
	return out
}

var units = []string{"day", "week", "month", "quarter", "year", "fiscal_quarter", "fiscal_year", "weekday", "month_of_year"}

func (m *maker) dress(out obj, f found, sums []string, topAllowed bool) {
	if dated(f.f) {
		out["by"] = pick(m, units)
		if f.f.kind == "time" && m.chance(15) {
			out["by"] = "hour"
		}
		m.count("by: " + out["by"].(string))
	}
	listed := dated(f.f) || f.f.kind == "yesno" || (f.f.kind == "choice" && (strings.HasPrefix(f.path, "own.") || len(f.f.choices) > 0)) || (f.f.kind == "link" && (f.f.to == "people" || f.f.to == "teams"))
	if listed && m.chance(20) && out["by"] != "day" {
		out["every"] = true
		m.count("every")
	} else if topAllowed && m.chance(25) {
		top := obj{"n": 1 + m.r.IntN(4), "by": pick(m, sums)}
		if m.chance(40) {
			top["from"] = pick(m, []string{"largest", "smallest"})
		}
		if m.chance(40) {
			top["rest"] = pick(m, []string{"other", "drop"})
		}
		out["top"] = top
		m.count("top")
	}
	if m.chance(25) {
		by := "label"
		if m.chance(50) {
			by = pick(m, sums)
		}
		out["order"] = obj{"by": by, "desc": m.chance(50)}
		m.count("order of group")
	}
}

func (m *maker) summaries(g *ground, prefix string) ([]any, []string) {
	var out []any
	var keys []string
	for i := range 1 + m.r.IntN(3) {
		key := fmt.Sprintf("%s%d", prefix, i)
		s := obj{"key": key}
		fn := pick(m, []string{"count", "count", "filled", "distinct", "sum", "sum", "average", "median", "min", "max"})
		f, ok := found{}, true
		switch fn {
		case "count":
			if len(g.brung) > 0 && m.chance(50) {
				s["of"] = pick(m, g.brung)
			}
		case "filled", "distinct":
			f, ok = m.field(g, groupable)
		case "min", "max":
			f, ok = m.field(g, func(f fld) bool { return numeric(f) || dated(f) })
		default:
			f, ok = m.field(g, numeric)
		}
		if !ok {
			fn = "count"
		}
		if f.path != "" {
			s["of"] = f.path
			if strings.HasPrefix(f.path, "own.") && s["fn"] != "count" {
				m.count("own in summary")
			}
		}
		s["fn"] = fn
		m.count("fn: " + fn)
		if m.chance(30) {
			s["where"] = m.summaryWhere(g)
			if len(g.own) > 0 {
				m.count("pair: own with where")
			}
		}
		if m.chance(25) && fn != "min" && fn != "max" {
			show := pick(m, []string{"value", "percent_of_total", "percent_of_parent", "percent_of_row", "percent_of_column", "change", "running_total"})
			if show != "running_total" || fn == "count" || fn == "sum" || fn == "filled" || fn == "distinct" {
				s["show"] = show
				m.count("show: " + show)
			}
		}
		out, keys = append(out, s), append(keys, key)
	}
	return out, keys
}

// ratio is a formula over summaries that are numbers.
func (m *maker) ratio(sums []any) *fx {
	var keys []string
	for _, s := range sums {
		switch fn := s.(obj)["fn"]; fn {
		case "min", "max", nil:
		default:
			keys = append(keys, s.(obj)["key"].(string))
		}
	}
	if len(keys) == 0 {
		return nil
	}
	m.count("summary formula")
	a, b := ref(pick(m, keys)), ref(pick(m, keys))
	switch m.r.IntN(4) {
	case 0:
		return call("if", call(">", a, num("2")), call("-", a, b), num("0"))
	case 1:
		return call("first_filled", call("/", a, b), num("1"))
	}
	return call("/", a, call("+", a, b))
}

// brief makes one brief, and says which view it is for.
func (m *maker) brief() (obj, string) {
	if m.chance(18) {
		return m.parts(), pick(m, []string{"summary", "totals"})
	}
	p, g := m.part()
	p["version"] = 1
	if m.chance(25) {
		m.list(p, g)
		return p, "records"
	}
	sums, keys := m.summaries(g, "s")
	if x := m.ratio(sums); x != nil && m.chance(30) {
		sums = append(sums, obj{"key": "ratio", "formula": written(x)})
		keys = append(keys, "ratio")
	}
	p["summaries"] = sums
	topped := false
	for axis, most := range map[string]int{"groups": 4, "across": 2} {
		n := m.r.IntN(most + 1)
		if m.chance(50) {
			n = min(n, 1)
		}
		var list []any
		for range n {
			if x := m.group(g, keys, true); x != nil {
				topped = topped || x["top"] != nil
				list = append(list, x)
			}
		}
		if list != nil {
			p[axis] = list
			m.count(fmt.Sprintf("%s: %d", axis, len(list)))
		}
	}
	if m.chance(15) {
		p["blank"] = m.chance(30)
		m.count(fmt.Sprintf("blank: %v", p["blank"]))
	}
	if m.chance(35) {
		if f, ok := m.field(g, dated); ok && !strings.HasPrefix(f.path, "own.") {
			p["period"] = obj{"field": f.path, "within": m.period(true)}
			p["compare"] = pick(m, []string{"previous_period", "year_before"})
			m.count("compare: " + p["compare"].(string))
			if topped {
				m.count("pair: top with compare")
			}
			if m.chance(40) { // grouped by the period's own field, matched by place
				own := obj{"field": f.path, "by": pick(m, units[:7])}
				if m.chance(30) {
					own["every"] = true
				}
				p["groups"] = []any{own}
				m.count("compare by place")
			}
		}
	}
	if fn := sums[0].(obj)["fn"]; fn != "min" && fn != "max" && m.chance(10) {
		p["target"] = "5000"
		m.count("target")
	}
	if m.chance(10) {
		p["totalsOnly"] = true
		m.count("totalsOnly")
	}
	view := "summary"
	if m.chance(20) {
		view = "totals"
	}
	m.count("view: " + view)
	return p, view
}

func (m *maker) list(p obj, g *ground) {
	m.count("view: records")
	if m.chance(80) {
		var cols []any
		for range 1 + m.r.IntN(4) {
			f, _ := m.field(g, func(f fld) bool { return f.kind != "average" })
			c := obj{"field": f.path}
			if m.chance(20) {
				c["label"] = "A, label"
			}
			cols = append(cols, c)
		}
		p["columns"] = cols
		m.count("columns")
	}
	var order []any
	for range m.r.IntN(3) {
		f, _ := m.field(g, func(f fld) bool { return f.kind != "average" })
		order = append(order, obj{"field": f.path, "desc": m.chance(50)})
		m.count("order")
	}
	if order != nil {
		p["order"] = order
	}
	if m.chance(40) {
		p["limit"] = 1 + m.r.IntN(20)
		m.count("limit")
	}
}

// parts makes a brief of several record types side by side, grouped by what they have in common.
func (m *maker) parts() obj {
	m.count("parts")
	var parts, all []any
	var grounds []*ground
	for i := range 2 + m.r.IntN(2) {
		p, g := m.part()
		for typeOf(p["start"].(string)).owner == "" {
			p, g = m.part()
		}
		delete(p, "whose")
		p["key"] = fmt.Sprintf("p%d", i)
		sums, _ := m.summaries(g, fmt.Sprintf("p%ds", i))
		p["summaries"] = sums
		all = append(all, sums...)
		parts, grounds = append(parts, p), append(grounds, g)
	}
	b := obj{"version": 1, "parts": parts}
	if x := m.ratio(all); x != nil && m.chance(60) {
		b["summaries"] = []any{obj{"key": "outer", "formula": written(x)}}
	}
	keys := []string{all[0].(obj)["key"].(string)}
	var groups []any
	if m.chance(80) {
		paths := obj{}
		f := found{f: fld{kind: "link", to: "people"}}
		for i := range grounds {
			paths[fmt.Sprintf("p%d", i)] = "owner"
		}
		if m.chance(40) {
			f = found{f: fld{kind: "time"}}
			for i, g := range grounds {
				at := map[string]string{"deals": "created", "customers": "created", "activities": "happens"}[g.typ.key]
				paths[fmt.Sprintf("p%d", i)] = at
			}
		} else if m.chance(40) {
			f = found{f: fld{kind: "text"}}
			for i := range grounds {
				paths[fmt.Sprintf("p%d", i)] = "owner.team.name"
			}
		}
		group := obj{"paths": paths}
		if m.chance(50) {
			group["label"] = "Side by side"
		}
		m.dress(group, f, keys, true)
		if group["every"] == true {
			m.count("pair: parts with every")
		}
		groups = append(groups, group)
	}
	if groups != nil {
		b[pick(m, []string{"groups", "groups", "across"})] = groups
	}
	if m.chance(15) {
		b["blank"] = false
	}
	return b
}
