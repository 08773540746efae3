package difftest

import (
	"fmt"
	"math"
	"sort"
	"strconv"
	"strings"
	"time"
)

// node is a group in the tree over rows or across.
type node struct {
	m    *omember
	kids []*node
	path []string
}

func (o *oracle) tree2(first, end int, leaves [][]string) *node {
	root := &node{}
	for _, k := range leaves {
		at := root
		for d := first; d < end; d++ {
			at = at.child(o.members[d][k[d]])
		}
	}
	for d := first; d < end; d++ {
		if o.groups[d].def["every"] == true {
			o.every(root, d-first, d, leaves)
		}
	}
	return root
}

func (n *node) child(m *omember) *node {
	for _, k := range n.kids {
		if k.m == m {
			return k
		}
	}
	k := &node{m: m, path: append(append([]string{}, n.path...), m.key)}
	n.kids = append(n.kids, k)
	return k
}

func (o *oracle) every(n *node, depth, d int, leaves [][]string) {
	if depth > 0 {
		for _, k := range n.kids {
			o.every(k, depth-1, d, leaves)
		}
		return
	}
	for _, m := range o.all(d, leaves) {
		if o.stageFits(n, d, m) {
			n.child(m)
		}
	}
}

// stageFits says whether a stage is of the pipeline, or has the status, that a group above it is of.
func (o *oracle) stageFits(n *node, d int, m *omember) bool {
	v := o.groups[d].vals[0]
	if v.field == nil || v.field.key != "stage" {
		return true
	}
	for i, key := range n.path {
		at := i
		if d >= o.rows {
			at += o.rows
		}
		up := o.groups[at]
		if up.vals[0].field == nil || up.vals[0].owner != v.owner {
			continue
		}
		for _, s := range settings.Stages {
			if s.Name == m.label && ((up.vals[0].field.key == "pipeline" && key != "="+s.Pipeline) || (up.vals[0].field.key == "status" && key != "="+s.Status)) {
				return false
			}
		}
	}
	return true
}

func (o *oracle) all(d int, leaves [][]string) []*omember {
	g := o.groups[d]
	v := g.vals[0]
	var out []*omember
	add := func(key, label, text string, num float64, row int) {
		m := o.members[d][key]
		if m == nil {
			m = &omember{key: key, label: label, text: text, num: num, row: row}
			o.members[d][key] = m
		}
		out = append(out, m)
	}
	switch {
	case v.day != "":
		o.allUnits(d, g, leaves, add)
	case v.kind == "yesno":
		add("=0", "false", "0", 0, 0)
		add("=1", "true", "1", 1, 0)
	case v.labels != nil:
		for i, l := range v.labels {
			add("="+l, l, l, float64(i), 0)
		}
	case v.kind == "link":
		for i, id := range o.w.ids[v.to] {
			if v.to == "teams" || o.w.vals[v.to][id]["active"] == "true" {
				add("="+id, o.name(v.to, id), id, 0, i)
			}
		}
	default:
		for i, c := range v.field.choices {
			add("="+c, c, c, float64(i), 0)
		}
	}
	return out
}

func (o *oracle) allUnits(d int, g *ogroup, leaves [][]string, add func(key, label, text string, num float64, row int)) {
	one := func(day string, hour int) {
		label, text := unitLabel(g.by, day, hour)
		add("="+text, label, text, 0, 0)
	}
	switch g.by {
	case "hour":
		for h := range 24 {
			one(today, h)
		}
		return
	case "weekday":
		for i := range 7 {
			one(text(date("2026-05-11").AddDate(0, 0, i)), 0)
		}
		return
	case "month_of_year":
		for i := range 12 {
			one(text(date("2026-01-01").AddDate(0, i, 0)), 0)
		}
		return
	}
	var days []string
	for i, p := range o.parts {
		if s, _ := o.spans(p); s != nil && o.ownPeriod(g, i) && s.from != "" && s.to != "" {
			days = append(days, s.from, s.to)
		}
	}
	if days == nil {
		for _, l := range leaves {
			if m := o.members[d][l[d]]; m.last == 0 {
				days = append(days, m.text)
			}
		}
	}
	if days == nil {
		return
	}
	sort.Strings(days)
	for at, end := startOf(g.by, date(days[0])), startOf(g.by, date(days[len(days)-1])); !at.After(end); at = step(g.by, at, 1) {
		one(text(at), 0)
	}
}

// sorted puts the groups of a tree in their order. value gives a summary of a node over everything across.
func (o *oracle) sorted(n *node, first int, value func(path []string, sum int) opt) {
	if len(n.kids) == 0 {
		return
	}
	g := o.groups[first+len(n.path)]
	by, desc, label := 0, true, natural(g.vals[0])
	if label {
		desc = false
	}
	if ord, ok := g.def["order"].(obj); ok {
		desc = ord["desc"] == true
		label = ord["by"] == "label"
		for i, s := range o.sums {
			if s.key() == ord["by"] {
				by = i
			}
		}
	}
	own := natural(g.vals[0])
	sort.SliceStable(n.kids, func(i, j int) bool {
		a, b := n.kids[i], n.kids[j]
		if a.m.last != b.m.last {
			return a.m.last < b.m.last
		}
		if label {
			if desc {
				a, b = b, a
			}
			return o.before(g, own, a.m, b.m)
		}
		if c := byOpt(value(a.path, by), value(b.path, by), desc); c != 0 {
			return c < 0
		}
		return byName(a.m, b.m)
	})
	for _, k := range n.kids {
		o.sorted(k, first, value)
	}
}

func (o *oracle) before(g *ogroup, own bool, a, b *omember) bool {
	switch {
	case own && g.vals[0].day != "":
		return a.text < b.text
	case own && a.num != b.num:
		return a.num < b.num
	}
	if fa, fb := fold(a.label), fold(b.label); fa != fb {
		return fa < fb
	}
	return byName(a, b)
}

func (n *node) innermost(depth int) []*node {
	if len(n.path) == depth {
		return []*node{n}
	}
	var out []*node
	for _, k := range n.kids {
		out = append(out, k.innermost(depth)...)
	}
	return out
}

// summary gives the lines of the summary view and of the totals.
func (o *oracle) summary() (header []string, lines [][]string, totals []string) {
	o.setUp()
	o.collect()
	o.settle()
	compare := o.b["compare"] != nil
	levels := func(i, j int) []int {
		var p []int
		for d := range i {
			p = append(p, d)
		}
		for d := range j {
			p = append(p, o.rows+d)
		}
		return p
	}
	across := len(o.groups) - o.rows
	now, before := map[[2]int]cells{}, map[[2]int]cells{}
	for i := range o.rows + 1 {
		for j := range across + 1 {
			now[[2]int{i, j}] = o.values(levels(i, j), 0)
			if compare {
				before[[2]int{i, j}] = o.values(levels(i, j), 1)
			}
		}
	}
	nothing := o.nothing()
	find := func(m map[[2]int]cells, r, c []string) ([]opt, bool) {
		v, ok := m[[2]int{len(r), len(c)}][keyOf(append(append([]string{}, r...), c...))]
		if !ok {
			return nothing, false
		}
		return v, true
	}
	var leaves [][]string
	seen := map[string]bool{}
	for _, m := range []map[[2]int]cells{now, before} {
		for k := range m[[2]int{o.rows, across}] {
			if !seen[k] && len(o.groups) > 0 {
				seen[k] = true
				leaves = append(leaves, strings.Split(k, "\x00"))
			}
		}
	}
	rows, cols := o.tree2(0, o.rows, leaves), o.tree2(o.rows, len(o.groups), leaves)
	o.sorted(rows, 0, func(p []string, s int) opt { v, _ := find(now, p, nil); return v[s] })
	o.sorted(cols, o.rows, func(p []string, s int) opt { v, _ := find(now, nil, p); return v[s] })

	every := false
	for _, g := range o.groups {
		h, _ := g.def["field"].(string)
		if paths, ok := g.def["paths"].(obj); ok {
			h = paths[o.parts[0].def["key"].(string)].(string)
			if l, ok := g.def["label"].(string); ok {
				h = l
			}
		}
		if g.by != "" {
			h += " by " + g.by
		}
		header = append(header, h)
		every = every || g.def["every"] == true
	}
	for _, s := range o.sums {
		header = append(header, s.key())
		if compare {
			header = append(header, s.key()+" before", s.key()+" change", s.key()+" change_percent")
		}
	}
	cell := func(r, c *node, plain bool) []string {
		v, _ := find(now, r.path, c.path)
		was, _ := find(before, r.path, c.path)
		var out []string
		for n, s := range o.sums {
			shown, kind := v[n], s.kind()
			if how, ok := s.def["show"].(string); ok && !plain && how != "value" {
				shown = o.shown(how, rows, r, c, func(r, c []string) opt { v, _ := find(now, r, c); return v[n] })
				if strings.HasPrefix(how, "percent") {
					kind = "number"
				}
			}
			out = append(out, format(kind, shown))
			if compare {
				change, share := opt{}, opt{}
				if v[n].ok && was[n].ok && kind != "date" && kind != "time" {
					change = opt{v[n].n - was[n].n, true}
					if was[n].n != 0 {
						share = opt{change.n / math.Abs(was[n].n), true}
					}
				}
				out = append(out, format(s.kind(), was[n]), format(s.kind(), change), format("number", share))
			}
		}
		return out
	}
	for _, r := range rows.innermost(o.rows) {
		for _, c := range cols.innermost(across) {
			_, a := find(now, r.path, c.path)
			_, b := find(before, r.path, c.path)
			if len(o.groups) > 0 && !every && !a && !b {
				continue
			}
			var line []string
			for d, k := range append(append([]string{}, r.path...), c.path...) {
				line = append(line, o.members[d][k].label)
			}
			lines = append(lines, append(line, cell(r, c, false)...))
		}
	}
	return header, lines, cell(&node{}, &node{}, true)
}

func (o *oracle) shown(how string, rows, r, c *node, at func(r, c []string) opt) opt {
	v := at(r.path, c.path)
	ratio := func(of opt) opt {
		if !v.ok || !of.ok || of.n == 0 {
			return opt{}
		}
		return opt{v.n / of.n, true}
	}
	switch how {
	case "percent_of_total":
		return ratio(at(nil, nil))
	case "percent_of_parent":
		if len(r.path) == 0 {
			return ratio(v)
		}
		return ratio(at(r.path[:len(r.path)-1], c.path))
	case "percent_of_row":
		return ratio(at(r.path, nil))
	case "percent_of_column":
		return ratio(at(nil, c.path))
	}
	siblings := []*node{r}
	if len(r.path) > 0 {
		up := rows
		for _, k := range r.path[:len(r.path)-1] {
			for _, kid := range up.kids {
				if kid.m.key == k {
					up = kid
					break
				}
			}
		}
		siblings = up.kids
	}
	total, prev := opt{ok: true}, opt{}
	for _, s := range siblings {
		x := at(s.path, c.path)
		total.n += x.n
		if keyOf(s.path) == keyOf(r.path) {
			break
		}
		prev = x
	}
	if how == "running_total" {
		return total
	}
	if !prev.ok || !v.ok {
		return opt{}
	}
	return opt{v.n - prev.n, true}
}

// kind is what a summary's value is.
func (s *osum) kind() string {
	switch s.def["fn"] {
	case "sum", "average", "median", "min", "max":
		return s.val.kind
	}
	return "number"
}

func format(kind string, v opt) string {
	if !v.ok {
		return ""
	}
	switch kind {
	case "date":
		return text(date("1970-01-01").AddDate(0, 0, int(v.n)))
	case "time":
		return time.Unix(int64(v.n), 0).In(lisbon).Format("2006-01-02T15:04:05-07:00")
	}
	return strconv.FormatFloat(v.n, 'f', -1, 64)
}

// records gives the lines of the records view.
func (o *oracle) records() (header []string, lines [][]string) {
	o.setUp()
	p := o.parts[0]
	now, _ := o.spans(p)
	cols := list(o.b["columns"])
	if cols == nil {
		cols = []any{obj{"field": "id"}}
		for _, f := range []string{"name", "subject"} {
			if typeOf(p.scope.levels[0].typ).field(f) != nil {
				cols = append(cols, obj{"field": f})
				break
			}
		}
	}
	sel := []string{}
	vals := []*val{}
	for _, c := range cols {
		v := p.scope.path(c.(obj)["field"].(string))
		vals = append(vals, v)
		sel = append(sel, v.sql)
		label, ok := c.(obj)["label"].(string)
		if !ok {
			label = c.(obj)["field"].(string)
			if key, own := strings.CutPrefix(label, "own."); own {
				for _, f := range list(o.b["own"]) {
					if f.(obj)["key"] == key && f.(obj)["label"] != nil {
						label = f.(obj)["label"].(string)
					}
				}
			}
		}
		header = append(header, label)
	}
	type row struct {
		cells []string
		keys  []any
		ids   []int
	}
	orders := list(o.b["order"])
	keyVals := []*val{}
	for _, k := range orders {
		v := p.scope.path(k.(obj)["field"].(string))
		keyVals = append(keyVals, v)
		sel = append(sel, v.sql)
	}
	for _, l := range p.scope.levels {
		sel = append(sel, l.id)
	}
	var rows []row
	o.query("SELECT "+strings.Join(sel, ", ")+" FROM "+o.from(p, now), func(c []any) {
		var r row
		for i, v := range vals {
			r.cells = append(r.cells, cellText(v, c[i]))
		}
		for i, v := range keyVals {
			r.keys = append(r.keys, o.sortable(v, c[len(vals)+i]))
		}
		for i, l := range p.scope.levels {
			n := 1 << 30
			if id := c[len(vals)+len(keyVals)+i]; id != nil {
				n = place(o.w.ids[l.typ], str(id))
			}
			r.ids = append(r.ids, n)
		}
		rows = append(rows, r)
	})
	sort.SliceStable(rows, func(i, j int) bool {
		a, b := rows[i], rows[j]
		for k := range orders {
			x, y := a.keys[k], b.keys[k]
			if x == nil || y == nil {
				if (x == nil) != (y == nil) {
					return y == nil
				}
				continue
			}
			if c := compareAny(x, y); c != 0 {
				return (c < 0) != (orders[k].(obj)["desc"] == true)
			}
		}
		for k := range a.ids {
			if a.ids[k] != b.ids[k] {
				return a.ids[k] < b.ids[k]
			}
		}
		return false
	})
	if n, ok := o.b["limit"].(int); ok && n < len(rows) {
		rows = rows[:n]
	}
	for _, r := range rows {
		lines = append(lines, r.cells)
	}
	return header, lines
}

func cellText(v *val, c any) string {
	switch {
	case c == nil:
		return ""
	case v.kind == "time":
		return format("time", opt{float(c), true})
	case v.kind == "yesno":
		return map[string]string{"0": "false", "1": "true"}[str(c)]
	case v.kind == "money" || v.kind == "number" || v.kind == "percent":
		return format("number", opt{float(c), true})
	}
	return str(c)
}

// sortable is what a value sorts by: a number, or text.
func (o *oracle) sortable(v *val, c any) any {
	switch {
	case c == nil:
		return nil
	case v.bands:
		return float64(place(v.labels, str(c)))
	case v.field != nil && v.field.ordered && v.labels == nil:
		if n := place(v.field.choices, str(c)); n >= 0 {
			return fmt.Sprintf("\x00%04d", n)
		}
		return fold(str(c))
	case v.kind == "link" || v.kind == "id":
		return float64(place(o.w.ids[v.to], str(c)))
	case v.kind == "text" || v.kind == "choice":
		return fold(str(c))
	case v.kind == "date":
		return str(c)
	}
	return float(c)
}

func compareAny(x, y any) int {
	if s, ok := x.(string); ok {
		return strings.Compare(s, y.(string))
	}
	a, b := x.(float64), y.(float64)
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}
