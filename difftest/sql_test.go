package difftest

import (
	"fmt"
	"strings"
)

// obj is a piece of a brief as JSON has it.
type obj = map[string]any

// val is a value of a row in SQL.
type val struct {
	sql    string // text as written, numbers in whole units, dates as text, times as seconds, links as ids
	folded string // of text
	day    string // of dates and times
	hour   string
	kind   string
	to     string
	owner  string // the id of the record it is counted by
	level  int
	field  *fld
	labels []string // of bands and merged values
	bands  bool
	sumOf  bool // a linked sum, which is 0 in a formula where it is empty
}

// scope is what paths start from.
type scope struct {
	levels []level
	own    map[string]*val
}

type level struct{ key, typ, id string }

func col(typ, id, f string) string {
	return fmt.Sprintf("(SELECT %s FROM %s WHERE id = %s)", f, typ, id)
}

func (s *scope) path(p string) *val {
	if key, ok := strings.CutPrefix(p, "own."); ok {
		return s.own[key]
	}
	segs := strings.Split(p, ".")
	at := 0
	for at+1 < len(s.levels) && at < len(segs) && segs[at] == s.levels[at+1].key {
		at++
	}
	l := s.levels[at]
	v := &val{level: at, owner: l.id}
	if at == len(segs) {
		return v
	}
	typ, id := l.typ, l.id
	for i, seg := range segs[at:] {
		f := typeOf(typ).field(seg)
		if i == len(segs)-at-1 {
			v.kind, v.to, v.field, v.owner = f.kind, f.to, f, id
			v.sql, v.folded = col(typ, id, seg), col(typ, id, seg+"_f")
			switch f.kind {
			case "id":
				v.sql, v.to = id, typ
			case "money":
				v.sql = "(" + v.sql + " / 100.0)"
			case "date":
				v.day = v.sql
			case "time":
				v.day, v.hour = col(typ, id, seg+"_day"), col(typ, id, seg+"_hour")
			}
			break
		}
		id = col(typ, id, seg)
		typ = f.to
	}
	if l.id == v.owner {
		v.owner = l.id
	}
	return v
}

// many is the FROM part of a link to many that starts at the scope's record, and the alias of the linked records.
func (s *scope) many(path string, n *int) (typ, alias, on string) {
	segs := strings.Split(path, ".")
	t, id := s.levels[0].typ, s.levels[0].id
	for _, seg := range segs[:len(segs)-1] {
		id = col(t, id, seg)
		t = typeOf(t).field(seg).to
	}
	for _, b := range typeOf(t).backs {
		if b.key == segs[len(segs)-1] {
			*n++
			alias = fmt.Sprintf("x%d", *n)
			return b.typ, alias, fmt.Sprintf("%s.%s = %s", alias, b.via, id)
		}
	}
	panic("no link " + path)
}

func inner(typ, alias string) *scope {
	return &scope{levels: []level{{typ: typ, id: alias + ".id"}}}
}

func quote(s string) string { return "'" + strings.ReplaceAll(s, "'", "''") + "'" }

func strs(v any) []string {
	var out []string
	for _, x := range list(v) {
		out = append(out, x.(string))
	}
	return out
}

func list(v any) []any {
	l, _ := v.([]any)
	return l
}

// tree is a filter as a SQL condition that is 1 or 0, never nothing.
func (o *oracle) tree(s *scope, v any) string {
	t, _ := v.(obj)
	if t == nil {
		return "1"
	}
	for name, word := range map[string]string{"all": " AND ", "any": " OR "} {
		kids, ok := t[name]
		if !ok {
			continue
		}
		var parts []string
		for _, k := range list(kids) {
			parts = append(parts, o.tree(s, k))
		}
		if len(parts) == 0 {
			return "1"
		}
		return "(" + strings.Join(parts, word) + ")"
	}
	if n, ok := t["not"]; ok {
		return "(NOT " + o.tree(s, n) + ")"
	}
	if link, ok := t["link"].(string); ok {
		typ, alias, on := s.many(link, &o.aliases)
		count := fmt.Sprintf("(SELECT COUNT(*) FROM %s %s WHERE %s AND %s)", typ, alias, on, o.tree(inner(typ, alias), t["where"]))
		if t["is"] == "none" {
			return "(" + count + " = 0)"
		}
		least := 1
		if n, ok := t["at_least"].(int); ok {
			least = n
		}
		return fmt.Sprintf("(%s >= %d)", count, least)
	}
	return "COALESCE(" + o.onField(s, t) + ", 0)"
}

var compareOps = map[string]string{"under": "<", "at_most": "<=", "over": ">", "at_least": ">=", "any_of": "=", "none_of": "<>"}

func (o *oracle) onField(s *scope, t obj) string {
	v := s.path(t["field"].(string))
	is := t["is"].(string)
	if other, ok := t["other"].(string); ok {
		w := s.path(other)
		a, b := v.sql, w.sql
		switch {
		case v.kind == "text" || v.kind == "choice":
			a, b = v.folded, w.folded
		case v.kind != w.kind && v.day != "":
			a, b = v.day, w.day
		}
		if is == "none_of" {
			return fmt.Sprintf("(%s IS NULL OR %s IS NULL OR %s <> %s)", a, b, a, b)
		}
		return fmt.Sprintf("(%s %s %s)", a, compareOps[is], b)
	}
	switch is {
	case "empty":
		return "(" + v.sql + " IS NULL)"
	case "filled":
		return "(" + v.sql + " IS NOT NULL)"
	case "within":
		return inSpan(v.day, resolve(t["period"], today))
	}
	subject := v.sql
	var vals []string
	for _, text := range strs(t["values"]) {
		vals = append(vals, literal(v.kind, text))
	}
	if v.kind == "text" || v.kind == "choice" {
		subject = v.folded
	}
	var any []string
	for _, l := range vals {
		switch is {
		case "any_of", "none_of":
			any = append(any, subject+" = "+l)
		case "contains", "not_contains":
			any = append(any, "instr("+subject+", "+l+") > 0")
		case "starts_with":
			any = append(any, "instr("+subject+", "+l+") = 1")
		}
	}
	switch is {
	case "any_of", "contains", "starts_with":
		return "(" + strings.Join(any, " OR ") + ")"
	case "none_of", "not_contains":
		return "(" + subject + " IS NULL OR NOT (" + strings.Join(any, " OR ") + "))"
	case "between":
		return fmt.Sprintf("(%s >= %s AND %s <= %s)", subject, vals[0], subject, vals[1])
	}
	return fmt.Sprintf("(%s %s %s)", subject, compareOps[is], vals[0])
}

func literal(kind, text string) string {
	switch kind {
	case "text", "choice":
		return quote(fold(text))
	case "money", "number", "percent":
		return text
	case "time":
		if len(text) == 10 {
			return fmt.Sprint(dayStart(text))
		}
		return fmt.Sprint(stored("time", text))
	case "yesno":
		return fmt.Sprint(stored("yesno", text))
	}
	return quote(text)
}

func inSpan(day string, s span) string {
	parts := []string{day + " IS NOT NULL"}
	if s.from != "" {
		parts = append(parts, day+" >= "+quote(s.from))
	}
	if s.to != "" {
		parts = append(parts, day+" <= "+quote(s.to))
	}
	return "(" + strings.Join(parts, " AND ") + ")"
}

// ownField is an own field in SQL.
func (o *oracle) ownField(s *scope, f obj) *val {
	switch {
	case f["formula"] != nil:
		x := formulas[f["formula"].(string)]
		v := &val{kind: "number"}
		for _, r := range x.refs() {
			v.level = max(v.level, s.path(r).level)
		}
		v.owner = s.levels[v.level].id
		v.sql = fmt.Sprintf("(CASE WHEN %s IS NULL THEN NULL ELSE ROUND(%s, 6) END)", v.owner, x.sql(s))
		return v
	case f["linked"] != nil:
		return o.linked(s, f["linked"].(obj))
	case f["bands"] != nil:
		b := f["bands"].(obj)
		of := s.path(b["of"].(string))
		edges := strs(b["edges"])
		v := &val{kind: "choice", level: of.level, owner: s.levels[of.level].id, bands: true}
		v.sql = "(CASE WHEN " + of.sql + " IS NULL THEN NULL"
		for i, e := range edges {
			label := "under " + e
			if i > 0 {
				label = edges[i-1] + " to under " + e
			}
			v.labels = append(v.labels, label)
			v.sql += fmt.Sprintf(" WHEN %s < %s THEN %s", of.sql, e, quote(label))
		}
		last := edges[len(edges)-1] + " and over"
		v.labels = append(v.labels, last)
		v.sql += " ELSE " + quote(last) + " END)"
		v.folded = v.sql // the labels are of small letters
		return v
	}
	m := f["merge"].(obj)
	of := s.path(m["of"].(string))
	v := &val{kind: "choice", level: of.level, owner: s.levels[of.level].id}
	v.sql = "(CASE WHEN " + of.sql + " IS NULL THEN NULL"
	v.folded = v.sql
	for _, set := range list(m["sets"]) {
		label := set.(obj)["label"].(string)
		v.labels = append(v.labels, label)
		for _, x := range strs(set.(obj)["values"]) {
			v.sql += fmt.Sprintf(" WHEN %s = %s THEN %s", of.folded, quote(fold(x)), quote(label))
			v.folded += fmt.Sprintf(" WHEN %s = %s THEN %s", of.folded, quote(fold(x)), quote(fold(label)))
		}
	}
	if rest, ok := m["rest"].(string); ok {
		v.labels = append(v.labels, rest)
		v.sql += " ELSE " + quote(rest) + " END)"
		v.folded += " ELSE " + quote(fold(rest)) + " END)"
	} else {
		v.sql += " ELSE " + of.sql + " END)"
		v.folded += " ELSE " + of.folded + " END)"
	}
	return v
}

func (o *oracle) linked(s *scope, l obj) *val {
	typ, alias, on := s.many(l["link"].(string), &o.aliases)
	in := inner(typ, alias)
	from := fmt.Sprintf("FROM %s %s WHERE %s AND %s", typ, alias, on, o.tree(in, l["where"]))
	fn := l["fn"].(string)
	v := &val{kind: "number", owner: s.levels[0].id}
	if fn == "count" {
		v.sql = "(SELECT COUNT(*) " + from + ")"
		return v
	}
	of := in.path(l["of"].(string))
	switch fn {
	case "filled":
		v.sql = fmt.Sprintf("(SELECT COUNT(%s) %s)", of.sql, from)
	case "distinct":
		v.sql = fmt.Sprintf("(SELECT COUNT(DISTINCT %s) %s)", of.sql, from)
	case "sum", "average", "min", "max":
		v.kind, v.sumOf = of.kind, fn == "sum"
		v.sql = fmt.Sprintf("(SELECT %s(%s) %s)", map[string]string{"sum": "SUM", "average": "AVG", "min": "MIN", "max": "MAX"}[fn], of.sql, from)
		if of.day != "" {
			v.day = fmt.Sprintf("(SELECT %s(%s) %s)", strings.ToUpper(fn), of.day, from)
		}
	case "median":
		v.kind = of.kind
		seen := fmt.Sprintf("SELECT %s AS m, ROW_NUMBER() OVER (ORDER BY %s) AS r, COUNT(*) OVER () AS c %s AND %s IS NOT NULL", of.sql, of.sql, from, of.sql)
		v.sql = "(SELECT AVG(m) FROM (" + seen + ") WHERE r IN ((c + 1) / 2, (c + 2) / 2))"
	default: // newest, oldest
		by := in.path(l["by"].(string))
		dir := map[string]string{"newest": "DESC", "oldest": "ASC"}[fn]
		at := func(e string) string {
			return fmt.Sprintf("(SELECT %s %s AND %s IS NOT NULL ORDER BY %s %s, %s.ord DESC LIMIT 1)", e, from, by.sql, by.sql, dir, alias)
		}
		v.kind, v.to, v.field = of.kind, of.to, of.field
		v.sql = at(of.sql)
		if of.folded != "" {
			v.folded = at(of.folded)
		}
		if of.day != "" {
			v.day, v.hour = at(of.day), at(or(of.hour, "NULL"))
		}
	}
	return v
}

func or(a, b string) string {
	if a != "" {
		return a
	}
	return b
}
