package brief

import (
	"encoding/json"
	"fmt"
	"slices"
)

// Within says whether a reading may be taken out under the name of the report that it is a reading of: whose, the dates
// of its period, the answers to what is asked, groups, order, compare and looks may be others, and there may be further
// conditions; but its records are found as the report finds them, and nothing is shown of them that the report does not
// show. columns are those that may be shown besides the report's own. Problems name what is otherwise.
func Within(reading, kept *Brief, columns []Column) error {
	var bad Problems
	parts, of := partsOf(reading), partsOf(kept)
	if len(parts) != len(of) {
		return Problems{{"/parts", "the report is over other records"}}
	}
	for i, p := range parts {
		at := ""
		if len(reading.Parts) > 0 {
			at = fmt.Sprintf("/parts/%d", i)
		}
		p.within(of[i], at, &bad)
	}
	known := map[string]bool{}
	for _, list := range [][]Column{kept.Columns, columns} {
		for _, c := range list {
			known[c.Field] = true
		}
	}
	for i, c := range reading.Columns {
		if !known[c.Field] {
			bad.add(fmt.Sprintf("/columns/%d", i), "the report does not show %s", c.Field)
		}
	}
	if kept.Limit != nil && (reading.Limit == nil || *reading.Limit > *kept.Limit) {
		bad.add("/limit", "the report shows %d records at most", *kept.Limit)
	}
	summariesWithin(reading.Summaries, kept.Summaries, "", &bad)
	if len(bad) > 0 {
		return bad
	}
	return nil
}

func (p *Part) within(kept *Part, at string, bad *Problems) {
	if p.Start != kept.Start || p.Key != kept.Key {
		bad.add(at+"/start", "the report is over other records")
		return
	}
	if !same(p.Bring, kept.Bring) {
		bad.add(at+"/bring", "the report brings other records")
	}
	for i, o := range p.Own {
		if !slices.ContainsFunc(kept.Own, func(k Own) bool { return same(o, k) }) {
			bad.add(fmt.Sprintf("%s/own/%d", at, i), "the report does not work this out")
		}
	}
	if kept.Period != nil && (p.Period == nil || p.Period.Field != kept.Period.Field) {
		bad.add(at+"/period", "the report goes by its period's date")
	}
	has := conjuncts(p.Filter)
	for _, k := range conjuncts(kept.Filter) {
		if !slices.ContainsFunc(has, func(t Tree) bool { return answers(&t, &k) }) {
			bad.add(at+"/filter", "a condition of the report is missing")
		}
	}
	if at != "" {
		summariesWithin(p.Summaries, kept.Summaries, at, bad)
	}
}

// answers says whether a condition is a kept one, with what it asks answered in whatever way.
func answers(t, kept *Tree) bool {
	if t == nil || kept == nil {
		return t == kept
	}
	if kept.Ask {
		return t.Field == kept.Field && t.Is == kept.Is
	}
	bare := func(t Tree) Tree {
		t.All, t.Any, t.Not, t.Where, t.Ask = nil, nil, nil, nil, false
		return t
	}
	each := func(a, b []Tree) bool {
		return (a == nil) == (b == nil) && slices.EqualFunc(a, b, func(x, y Tree) bool { return answers(&x, &y) })
	}
	return same(bare(*t), bare(*kept)) && answers(t.Not, kept.Not) && answers(t.Where, kept.Where) &&
		each(t.All, kept.All) &&
		each(t.Any, kept.Any)
}

// conjuncts are the conditions of a filter that all hold.
func conjuncts(t *Tree) []Tree {
	switch {
	case t == nil:
		return nil
	case t.All != nil:
		return t.All
	}
	return []Tree{*t}
}

func summariesWithin(list, kept []Summary, at string, bad *Problems) {
	for i, s := range list {
		if s.Fn == "count" && s.Of == "" && s.Where == nil {
			continue // how many there are is always said
		}
		if !slices.ContainsFunc(kept, func(k Summary) bool {
			return s.Key == k.Key && s.Fn == k.Fn && s.Of == k.Of && s.Formula == k.Formula && same(s.Where, k.Where)
		}) {
			bad.add(fmt.Sprintf("%s/summaries/%d", at, i), "the report does not show this")
		}
	}
}

func same(a, b any) bool {
	x, errX := json.Marshal(a)
	y, errY := json.Marshal(b)
	return errX == nil && errY == nil && string(x) == string(y)
}
