package result

import (
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
)

// Natural says whether a field has an order of its own, and puts its members in it.
func Natural(g *brief.BoundGroup) bool {
	v := g.Values[0]
	return v.Kind.Dated() || v.Kind.Numeric() || v.Kind == schema.YesNo ||
		(v.Field != nil && v.Field.Ordered) || (v.Own != nil && v.Own.Bands != nil)
}

// ByNature orders members as their field does, else by label: negative where x comes first.
func ByNature(g *brief.BoundGroup, x, y Member) int {
	if Natural(g) {
		switch {
		case x.Key < y.Key:
			return -1
		case x.Key > y.Key:
			return 1
		}
	}
	c := 0
	switch fx, fy := column.Fold(x.Label), column.Fold(y.Label); {
	case fx < fy:
		c = -1
	case fx > fy:
		c = 1
	}
	if c == 0 {
		c = ByLabel(x, y)
	}
	return c
}

// Before says whether one member of a field is before another wherever the field's own order decides, with Other
// and (blank) last.
func Before(g *brief.BoundGroup, x, y Member) bool {
	if lx, ly := Last(x), Last(y); lx != ly || !Natural(g) {
		return lx < ly
	}
	return ByNature(g, x, y) < 0
}

// Last is where a member is put regardless of its value: Other after the groups, (blank) after Other, (hidden) after
// it.
func Last(m Member) int {
	switch {
	case m.Hidden:
		return 3
	case m.Blank:
		return 2
	case m.Other:
		return 1
	}
	return 0
}

// ByValue orders values, empty ones last either way: −1 where x comes first.
func ByValue(x, y Value, desc bool) int {
	switch {
	case !x.Set && !y.Set:
		return 0
	case !x.Set:
		return 1
	case !y.Set:
		return -1
	}
	c := x.Num.Cmp(y.Num)
	if desc {
		return -c
	}
	return c
}

// ByLabel orders members by label by code point, then by id.
func ByLabel(x, y Member) int {
	if c := strings.Compare(x.Label, y.Label); c != 0 {
		return c
	}
	switch {
	case x.Key < y.Key:
		return -1
	case x.Key > y.Key:
		return 1
	}
	return 0
}
