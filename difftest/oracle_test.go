package difftest

import (
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// oracle answers one brief over a world by SQL.
type oracle struct {
	t       *testing.T
	w       *world
	b       obj
	reader  string
	aliases int
	parts   []*opart
	groups  []*ogroup
	rows    int // how many of groups are rows
	sums    []*osum
	members []map[string]*omember // by group, by key
}

type opart struct {
	def   obj
	scope *scope
	table [2]string // rows of the current and the earlier period
}

type ogroup struct {
	def  obj
	vals []*val // by part
	by   string
}

type osum struct {
	def  obj
	part int // −1 for outer formulas
	val  *val
}

func (s *osum) key() string { return s.def["key"].(string) }

// omember is one group of a field.
type omember struct {
	key, label string
	num        float64 // what it sorts by in its own order …
	text       string  // … or this
	last       int
	row        int // the order of its id
}

func (o *oracle) setUp() {
	defs := []obj{o.b}
	if parts := list(o.b["parts"]); parts != nil {
		defs = nil
		for _, p := range parts {
			defs = append(defs, p.(obj))
		}
	}
	for i, d := range defs {
		start := d["start"].(string)
		p := &opart{def: d, scope: &scope{levels: []level{{typ: start, id: "s.id"}}, own: map[string]*val{}}}
		o.parts = append(o.parts, p)
		typ := start
		for b, n := d["bring"], 1; b != nil; b, n = b.(obj)["bring"], n+1 {
			key := b.(obj)["link"].(string)
			for _, k := range typeOf(typ).backs {
				if k.key == key {
					typ = k.typ
					break
				}
			}
			p.scope.levels = append(p.scope.levels, level{key, typ, fmt.Sprintf("b%d.id", n)})
		}
		for _, f := range list(d["own"]) {
			p.scope.own[f.(obj)["key"].(string)] = o.ownField(p.scope, f.(obj))
		}
		sums := list(d["summaries"])
		if sums == nil {
			sums = []any{obj{"key": "count", "fn": "count"}}
		}
		for _, s := range sums {
			o.sum(s.(obj), i)
		}
	}
	if o.b["parts"] != nil {
		for _, s := range list(o.b["summaries"]) {
			o.sum(s.(obj), -1)
		}
	}
	for _, axis := range []string{"groups", "across"} {
		for _, g := range list(o.b[axis]) {
			og := &ogroup{def: g.(obj)}
			og.by, _ = og.def["by"].(string)
			for _, p := range o.parts {
				path, _ := og.def["field"].(string)
				if paths, ok := og.def["paths"].(obj); ok {
					path = paths[p.def["key"].(string)].(string)
				}
				og.vals = append(og.vals, p.scope.path(path))
			}
			o.groups = append(o.groups, og)
			o.members = append(o.members, map[string]*omember{blank: {key: blank, label: "(blank)", last: 2}, other: {key: other, label: "Other", last: 1}})
		}
		if axis == "groups" {
			o.rows = len(o.groups)
		}
	}
}

func (o *oracle) sum(def obj, part int) {
	s := &osum{def: def, part: part}
	if of, ok := def["of"].(string); ok {
		s.val = o.parts[part].scope.path(of)
	}
	o.sums = append(o.sums, s)
}

const (
	blank = "~blank"
	other = "~other"
)

// from is the rows of a part: its records with what they bring, over a span.
func (o *oracle) from(p *opart, s *span) string {
	q := p.scope.levels[0].typ + " s"
	typ, id := p.scope.levels[0].typ, "s.id"
	n := 1
	for b := p.def["bring"]; b != nil; b, n = b.(obj)["bring"], n+1 {
		join := "LEFT JOIN"
		if b.(obj)["keepEmpty"] == false {
			join = "JOIN"
		}
		for _, k := range typeOf(typ).backs {
			if k.key == b.(obj)["link"] {
				alias := fmt.Sprintf("b%d", n)
				q += fmt.Sprintf(" %s %s %s ON %s.%s = %s AND %s", join, k.typ, alias, alias, k.via, id, o.tree(inner(k.typ, alias), b.(obj)["where"]))
				typ, id = k.typ, alias+".id"
				break
			}
		}
	}
	q += " WHERE " + o.whose(p)
	if per, ok := p.def["period"].(obj); ok {
		q += " AND COALESCE(" + inSpan(p.scope.path(per["field"].(string)).day, *s) + ", 0)"
	}
	return q + " AND " + o.tree(p.scope, p.def["filter"])
}

func (o *oracle) whose(p *opart) string {
	team := func(id string) string { return "(SELECT team FROM people WHERE id = " + id + ")" }
	owner := col(p.scope.levels[0].typ, "s.id", "owner")
	switch w := p.def["whose"].(type) {
	case string:
		switch w {
		case "mine":
			return "COALESCE(" + owner + " = " + quote(o.reader) + ", 0)"
		case "team":
			return "COALESCE(" + team(owner) + " = " + team(quote(o.reader)) + ", 0)"
		}
	case obj:
		parts := []string{"0"}
		for _, id := range strs(w["people"]) {
			parts = append(parts, owner+" = "+quote(id))
		}
		for _, id := range strs(w["teams"]) {
			parts = append(parts, team(owner)+" = "+quote(id))
		}
		return "COALESCE(" + strings.Join(parts, " OR ") + ", 0)"
	}
	return "1"
}

func (o *oracle) query(q string, each func(cells []any)) {
	rows, err := o.w.db.Query(q)
	require.NoError(o.t, err, q)
	defer func() { require.NoError(o.t, rows.Close()) }()
	cols, err := rows.Columns()
	require.NoError(o.t, err)
	cells, into := make([]any, len(cols)), make([]any, len(cols))
	for i := range cells {
		into[i] = &cells[i]
	}
	for rows.Next() {
		require.NoError(o.t, rows.Scan(into...))
		each(cells)
	}
	require.NoError(o.t, rows.Err())
}

func (o *oracle) exec(q string, args ...any) {
	_, err := o.w.db.Exec(q, args...)
	require.NoError(o.t, err, q)
}

func str(v any) string {
	if b, ok := v.([]byte); ok {
		return string(b)
	}
	if f, ok := v.(float64); ok {
		return strconv.FormatFloat(f, 'f', -1, 64)
	}
	return fmt.Sprint(v)
}

// spans are the periods of a part, now and earlier.
func (o *oracle) spans(p *opart) (now, before *span) {
	per, ok := p.def["period"].(obj)
	if !ok {
		return nil, nil
	}
	n := resolve(per["within"], today)
	now = &n
	if how, ok := o.b["compare"].(string); ok {
		b := earlier(per["within"], today, how)
		before = &b
	}
	return now, before
}

// collect puts the rows of every part and side into tables: k0 … their groups, then o, v and w of each summary.
func (o *oracle) collect() {
	for i, p := range o.parts {
		now, before := o.spans(p)
		for side, sp := range []*span{now, before} {
			if side == 1 && before == nil {
				continue
			}
			p.table[side] = fmt.Sprintf("r%d%d", i, side)
			o.exec("DROP TABLE IF EXISTS " + p.table[side])
			sel, cols := []string{}, []string{}
			for d, g := range o.groups {
				v := g.vals[i]
				e := v.sql
				if v.day != "" {
					e = v.day
				}
				sel = append(sel, e, or(v.hour, "NULL"))
				cols = append(cols, fmt.Sprintf("k%d", d))
			}
			for n, s := range o.sums {
				if s.part != i || s.def["formula"] != nil {
					continue
				}
				owner, v := "s.id", "1"
				if s.val != nil {
					owner, v = s.val.owner, or(s.val.sql, "1")
				}
				sel = append(sel, owner, v, o.tree(p.scope, s.def["where"]))
				cols = append(cols, fmt.Sprintf("o%d", n), fmt.Sprintf("v%d", n), fmt.Sprintf("w%d", n))
			}
			o.exec("CREATE TEMP TABLE " + p.table[side] + " (" + strings.Join(append(cols, "x"), ", ") + ")")
			var lines [][]any
			o.query("SELECT "+strings.Join(append(sel, "1"), ", ")+" FROM "+o.from(p, sp), func(c []any) {
				var line []any
				for d, g := range o.groups {
					line = append(line, o.member(d, g, i, c[2*d], c[2*d+1], side, now, before))
				}
				lines = append(lines, append(line, c[2*len(o.groups):]...))
			})
			for _, l := range lines {
				o.exec("INSERT INTO "+p.table[side]+" VALUES (?"+strings.Repeat(", ?", len(l)-1)+")", l...)
			}
		}
	}
}

// member gives the key of a group from its value, and remembers what it is called.
func (o *oracle) member(d int, g *ogroup, part int, v, hour any, side int, now, before *span) string {
	if v == nil {
		return blank
	}
	gv := g.vals[part]
	m := &omember{text: str(v), label: str(v)}
	switch {
	case gv.day != "":
		h, _ := hour.(int64)
		day := str(v)
		if side == 1 && o.ownPeriod(g, part) && g.by != "hour" && g.by != "weekday" && g.by != "month_of_year" {
			places := unitsBetween(g.by, startOf(g.by, date(before.from)), startOf(g.by, date(day)))
			day = text(step(g.by, startOf(g.by, date(now.from)), places))
		}
		m.label, m.text = unitLabel(g.by, day, int(h))
	case gv.kind == "link":
		m.label = o.name(gv.to, str(v))
		m.row = place(o.w.ids[gv.to], str(v))
	case gv.kind == "id":
		m.row = place(o.w.ids[gv.to], str(v))
	case gv.kind == "yesno":
		m.num = float64(v.(int64))
		m.label = map[string]string{"0": "false", "1": "true"}[str(v)]
	case gv.kind == "money" || gv.kind == "number" || gv.kind == "percent":
		m.num = float(v)
		m.label = format(gv.kind, opt{m.num, true})
		m.text = m.label
	}
	m.key = "=" + m.text
	if gv.kind == "link" {
		m.key = "=" + str(v)
	}
	if natural(gv) && gv.day == "" && gv.labels == nil && gv.field != nil && gv.field.ordered {
		m.num = float64(place(gv.field.choices, m.label))
		if m.num < 0 {
			m.num = 1e9
		}
	}
	if gv.bands {
		m.num = float64(place(gv.labels, m.label))
	}
	o.members[d][m.key] = m
	return m.key
}

func place(list []string, s string) int {
	for i, x := range list {
		if x == s {
			return i
		}
	}
	return -1
}

func float(v any) float64 {
	switch v := v.(type) {
	case int64:
		return float64(v)
	case float64:
		return v
	}
	return 0
}

func (o *oracle) name(typ, id string) string {
	for _, f := range []string{"name", "subject"} {
		if typeOf(typ).field(f) != nil {
			if n := o.w.vals[typ][id][f]; n != "" {
				return n
			}
			break
		}
	}
	return id
}

func (o *oracle) ownPeriod(g *ogroup, part int) bool {
	per, ok := o.parts[part].def["period"].(obj)
	if !ok {
		return false
	}
	path, _ := g.def["field"].(string)
	if paths, is := g.def["paths"].(obj); is {
		path = paths[o.parts[part].def["key"].(string)].(string)
	}
	return path == per["field"]
}

func natural(v *val) bool {
	return v.day != "" || v.bands || v.kind == "money" || v.kind == "number" || v.kind == "percent" || v.kind == "yesno" || (v.field != nil && v.field.ordered && v.labels == nil)
}
