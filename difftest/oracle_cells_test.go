package difftest

import (
	"fmt"
	"math"
	"sort"
	"strings"
)

// cells is the summaries' values by the keys of some groups, joined.
type cells map[string][]opt

func keyOf(parts []string) string { return strings.Join(parts, "\x00") }

// values works out every summary for the groups at places, on one side.
func (o *oracle) values(places []int, side int) cells {
	out := cells{}
	at := func(k string) []opt {
		if out[k] == nil {
			out[k] = o.nothing()
		}
		return out[k]
	}
	for i, p := range o.parts {
		if p.table[side] == "" {
			continue
		}
		keys := []string{}
		for _, d := range places {
			keys = append(keys, fmt.Sprintf("k%d", d))
		}
		sel := strings.Join(append(keys, "1"), ", ")
		read := func(c []any) string {
			var k []string
			for j := range places {
				k = append(k, str(c[j]))
			}
			return keyOf(k)
		}
		o.query("SELECT DISTINCT "+sel+" FROM "+p.table[side], func(c []any) { at(read(c)) })
		for n, s := range o.sums {
			if s.part != i || s.def["formula"] != nil {
				continue
			}
			ov, vv, from := fmt.Sprintf("o%d", n), fmt.Sprintf("v%d", n), fmt.Sprintf(" FROM %s WHERE w%d AND o%d IS NOT NULL AND v%d IS NOT NULL", p.table[side], n, n, n)
			once := fmt.Sprintf(" FROM (SELECT DISTINCT %s, %s AS o, %s AS v%s)", strings.Join(append(keys, "1 AS one"), ", "), ov, vv, from)
			group := " GROUP BY " + strings.Join(append(append([]string{}, keys...), "1=1"), ", ")
			var q string
			switch s.def["fn"] {
			case "count", "filled":
				q = "SELECT " + sel + ", COUNT(DISTINCT " + ov + ")" + from + group
			case "distinct":
				q = "SELECT " + sel + ", COUNT(DISTINCT " + vv + ")" + from + group
			case "sum", "average":
				q = "SELECT " + sel + ", " + map[string]string{"sum": "SUM", "average": "AVG"}[s.def["fn"].(string)] + "(v)" + once + group
			case "min", "max":
				q = "SELECT " + sel + ", " + s.def["fn"].(string) + "(" + vv + ")" + from + group
			default:
				lists := map[string][]float64{}
				o.query("SELECT "+sel+", v"+once, func(c []any) { lists[read(c)] = append(lists[read(c)], float(c[len(c)-1])) })
				for k, l := range lists {
					sort.Float64s(l)
					h := len(l) / 2
					m := l[h]
					if len(l)%2 == 0 {
						m = (l[h-1] + l[h]) / 2
					}
					at(k)[n] = opt{m, true}
				}
				continue
			}
			o.query(q, func(c []any) {
				if v := c[len(c)-1]; v != nil {
					f := float(v)
					if s.val != nil && s.val.kind == "date" && (s.def["fn"] == "min" || s.def["fn"] == "max") {
						f = float64(date(str(v)).Unix() / 86400)
					}
					at(read(c))[n] = opt{f, true}
				}
			})
		}
	}
	for _, v := range out {
		o.formulas(v)
	}
	return out
}

// nothing is a cell over no rows.
func (o *oracle) nothing() []opt {
	v := make([]opt, len(o.sums))
	for n, s := range o.sums {
		switch s.def["fn"] {
		case "count", "filled", "distinct":
			v[n].ok = true
		}
	}
	o.formulas(v)
	return v
}

func (o *oracle) formulas(v []opt) {
	var get func(key string) opt
	get = func(key string) opt {
		for n, s := range o.sums {
			if s.key() != key {
				continue
			}
			x := v[n]
			if f, ok := s.def["formula"].(string); ok {
				x = formulas[f].eval(get)
			}
			if s.def["fn"] == "sum" {
				x.ok = true
			}
			if s.val != nil && s.val.kind == "percent" && s.def["fn"] != "count" && s.def["fn"] != "filled" && s.def["fn"] != "distinct" {
				x.n /= 100
			}
			return x
		}
		panic("no summary " + key)
	}
	for n, s := range o.sums {
		if f, ok := s.def["formula"].(string); ok {
			v[n] = formulas[f].eval(get)
		}
	}
}

// settle takes out what (blank) and top leave out, from all tables.
func (o *oracle) settle() {
	tables := []string{}
	for _, p := range o.parts {
		for _, t := range p.table {
			if t != "" {
				tables = append(tables, t)
			}
		}
	}
	for d := range o.groups {
		if o.b["blank"] == false {
			for _, t := range tables {
				o.exec(fmt.Sprintf("DELETE FROM %s WHERE k%d = '%s'", t, d, blank))
			}
		}
	}
	for d, g := range o.groups {
		if top, ok := g.def["top"].(obj); ok {
			o.top(d, top, tables)
		}
	}
}

func (o *oracle) top(d int, top obj, tables []string) {
	first := 0
	if d >= o.rows {
		first = o.rows
	}
	places := []int{}
	for i := first; i <= d; i++ {
		places = append(places, i)
	}
	by := 0
	for n, s := range o.sums {
		if s.key() == top["by"] {
			by = n
		}
	}
	vals := o.values(places, 0)
	siblings := map[string][]string{}
	for k := range vals {
		parts := strings.Split(k, "\x00")
		if last := parts[len(parts)-1]; last != blank {
			parent := keyOf(parts[:len(parts)-1])
			siblings[parent] = append(siblings[parent], last)
		}
	}
	kept := map[string]bool{}
	for parent, list := range siblings {
		at := func(m string) opt {
			if len(places) == 1 {
				return vals[m][by]
			}
			return vals[parent+"\x00"+m][by]
		}
		sort.Slice(list, func(i, j int) bool {
			if c := byOpt(at(list[i]), at(list[j]), top["from"] != "smallest"); c != 0 {
				return c < 0
			}
			return byName(o.members[d][list[i]], o.members[d][list[j]])
		})
		for _, m := range list[:min(len(list), top["n"].(int))] {
			kept[parent+"\x00"+m] = true
		}
	}
	for _, t := range tables {
		type change struct{ k []string }
		var out []change
		sel := []string{}
		for _, i := range places {
			sel = append(sel, fmt.Sprintf("k%d", i))
		}
		o.query("SELECT DISTINCT "+strings.Join(sel, ", ")+" FROM "+t, func(c []any) {
			var k []string
			for _, x := range c {
				k = append(k, str(x))
			}
			if last := k[len(k)-1]; last != blank && !kept[keyOf(k[:len(k)-1])+"\x00"+last] {
				out = append(out, change{k})
			}
		})
		for _, ch := range out {
			var conds []string
			var args []any
			for i, k := range ch.k {
				conds, args = append(conds, sel[i]+" = ?"), append(args, k)
			}
			q := fmt.Sprintf("UPDATE %s SET k%d = '%s' WHERE ", t, d, other)
			if top["rest"] == "drop" {
				q = "DELETE FROM " + t + " WHERE "
			}
			o.exec(q+strings.Join(conds, " AND "), args...)
		}
	}
}

// byOpt orders values, empty ones last; values that differ by less than a float can tell count as equal.
func byOpt(a, b opt, desc bool) int {
	switch {
	case !a.ok && !b.ok:
		return 0
	case !a.ok:
		return 1
	case !b.ok:
		return -1
	case math.Abs(a.n-b.n) <= 1e-12*math.Max(1, math.Abs(a.n)):
		return 0
	case (a.n < b.n) != desc:
		return -1
	}
	return 1
}

func byName(a, b *omember) bool {
	if a.label != b.label {
		return a.label < b.label
	}
	return a.row < b.row
}
