package difftest

import (
	"fmt"
	"strings"
)

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
	m.w.money(p)
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
		if p["compare"] != nil && m.chance(70) {
			p["targetOf"] = "won_value"
			m.count("target of a measure")
		} else {
			p["target"] = "5000"
			m.count("target")
		}
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
	m.w.money(b)
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
