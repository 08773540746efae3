package brief

import (
	"fmt"
	"strconv"
	"strings"

	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// MaxDepth is how deep all, any and not may be nested.
const MaxDepth = 5

var textOps = []string{"any_of", "none_of", "contains", "not_contains", "starts_with", "empty", "filled"}
var sizeOps = []string{"any_of", "none_of", "under", "at_most", "over", "at_least", "between", "empty", "filled"}
var dayOps = append(append([]string{}, sizeOps...), "within")
var sameOps = []string{"any_of", "none_of", "empty", "filled"}
var otherOps = []string{"any_of", "none_of", "under", "at_most", "over", "at_least"}

// Operators lists the conditions that a kind of value can have, in the order they are offered.
func Operators(k schema.Kind) []string {
	switch {
	case k.Coded():
		return textOps
	case k.Numeric():
		return sizeOps
	case k.Dated():
		return dayOps
	}
	return sameOps
}

func has(list []string, s string) bool {
	for _, l := range list {
		if l == s {
			return true
		}
	}
	return false
}

func (c *checker) tree(s *scope, t *Tree, at string, depth int) *Cond {
	node := &Cond{Source: t, At: at}
	set := 0
	for _, on := range []bool{t.All != nil, t.Any != nil, t.Not != nil, t.Field != "", t.Link != ""} {
		if on {
			set++
		}
	}
	if set != 1 {
		c.add(at, "a filter is just one of all, any, not, or a condition with a field or a link")
		return node
	}
	if t.Field != "" {
		node.Op = OnField
		c.onField(s, node)
		return node
	}
	if t.Link != "" {
		node.Op = OnLink
		c.onLink(s, node)
		return node
	}
	if t.Is != "" || t.Values != nil || t.Other != "" || t.Period != nil || t.Where != nil || t.AtLeast != nil || t.Ask ||
		t.Fixed {
		c.add(at, "all, any and not stand alone; conditions go inside them")
	}
	if depth > MaxDepth {
		c.add(at, "filters stand five deep at most")
		return node
	}
	kids, name := t.All, "all"
	switch {
	case t.Any != nil:
		node.Op, kids, name = Any, t.Any, "any"
	case t.Not != nil:
		node.Op = Not
		node.Kids = []*Cond{c.tree(s, t.Not, at+"/not", depth+1)}
		return node
	}
	for i := range kids {
		node.Kids = append(node.Kids, c.tree(s, &kids[i], at+"/"+name+"/"+strconv.Itoa(i), depth+1))
	}
	return node
}

// fixed binds conditions that the reader does not see. What is wrong with them is not the reader's to read.
func (c *checker) fixed(s *scope, t *Tree) *Cond {
	if t == nil {
		return nil
	}
	inner := &checker{schema: c.schema, cal: c.cal}
	cond := inner.tree(s, t, "", 1)
	if len(inner.problems) > 0 {
		c.add("", "a condition that the report's owner fixed cannot be worked out any more; ask its owner")
	}
	return cond
}

func (c *checker) onLink(s *scope, n *Cond) {
	t := n.Source
	var err error
	if n.Hops, n.From, n.Back, err = s.many(t.Link); err != nil {
		c.add(n.At+"/link", "%s", err)
		return
	}
	n.AtLeast = 1
	switch t.Is {
	case "some":
	case "none":
		n.None = true
		if t.AtLeast != nil {
			c.add(n.At+"/at_least", "at_least goes with some, not with none")
		}
	default:
		c.add(n.At+"/is", "a condition on a link is some or none, not %q", t.Is)
	}
	if t.AtLeast != nil {
		if n.AtLeast = *t.AtLeast; n.AtLeast < 1 {
			c.add(n.At+"/at_least", "at least 1 or more")
		}
	}
	if t.Values != nil || t.Other != "" || t.Period != nil {
		c.add(n.At, "a condition on a link has only where and at_least")
	}
	if t.Where != nil {
		n.Where = c.tree(s.inside(c.schema.Type(n.Back.Type)), t.Where, n.At+"/where", 1)
	}
}

func (c *checker) onField(s *scope, n *Cond) {
	t := n.Source
	v, err := s.value(t.Field)
	if err != nil {
		c.add(n.At+"/field", "%s", err)
		return
	}
	if v.Brought {
		c.add(n.At+"/field", "%q is a brought link, not a field", t.Field)
		return
	}
	n.Value, n.Is = v, t.Is
	ops := Operators(v.Kind)
	if !has(ops, t.Is) {
		c.add(
			n.At+"/is",
			"%s is %s, which can be %s; not %q%s",
			t.Field,
			v.Kind.Words(),
			strings.Join(ops, ", "),
			t.Is,
			near(t.Is, ops),
		)
		return
	}
	if t.Where != nil || t.AtLeast != nil {
		c.add(n.At, "where and at_least go with a condition on a link")
	}
	given := 0
	for _, on := range []bool{t.Values != nil, t.Other != "", t.Period != nil} {
		if on {
			given++
		}
	}
	switch {
	case t.Is == "empty" || t.Is == "filled":
		if given > 0 {
			c.add(n.At, "%s takes no values", t.Is)
		}
	case t.Is == "within":
		if t.Period == nil || given > 1 {
			c.add(n.At, "within takes a period and nothing else")
			return
		}
		n.Within = &t.Period.Period
	case given != 1 || t.Period != nil:
		c.add(n.At, "%s takes either values or other, the path of another field", t.Is)
	case t.Other != "":
		c.other(s, n)
	default:
		c.values(n)
	}
}

func (c *checker) values(n *Cond) {
	want := 0
	switch n.Is {
	case "under", "at_most", "over", "at_least":
		want = 1
	case "between":
		want = 2
	}
	vals := n.Source.Values
	at := n.At + "/values"
	if want > 0 && len(vals) != want {
		c.add(at, "%s takes %d value%s, not %d", n.Is, want, plural(want), len(vals))
		return
	}
	if len(vals) == 0 {
		c.add(at, "%s takes at least one value", n.Is)
		return
	}
	for i, s := range vals {
		here := at + "/" + strconv.Itoa(i)
		if s == "" {
			c.add(here, "a value is empty; ask for empty fields with \"is\": \"empty\"")
			continue
		}
		switch k := n.Value.Kind; {
		case k.Coded():
			n.Texts = append(n.Texts, column.Fold(s))
		case k == schema.ID || k == schema.Link:
			n.Texts = append(n.Texts, s)
		case k.Numeric():
			num, err := parseNum(k, s)
			if err != nil {
				c.add(here, "%s", err)
				continue
			}
			n.Nums = append(n.Nums, num)
		default:
			inner, err := column.Parse(k, s, c.cal)
			if err != nil {
				c.add(here, "%s", err)
				continue
			}
			n.Inner = append(n.Inner, inner)
		}
	}
}

// parseNum reads a numeric value as it is written in a kind's CSV form.
func parseNum(k schema.Kind, s string) (exact.Num, error) {
	num, ok := exact.Parse(s)
	if !ok {
		return num, fmt.Errorf("%q is not a number like 12.5", s)
	}
	if _, cut, _ := strings.Cut(s, "."); k == schema.Money && len(cut) > 2 {
		return num, fmt.Errorf("%q has more than two decimals, and %s has two at most", s, k)
	}
	return num, nil
}

func plural(n int) string {
	if n == 1 {
		return ""
	}
	return "s"
}

func (c *checker) other(s *scope, n *Cond) {
	o, err := s.value(n.Source.Other)
	switch {
	case err != nil:
		c.add(n.At+"/other", "%s", err)
		return
	case !has(otherOps, n.Is):
		c.add(n.At+"/is", "two fields compare by %s, not %q", strings.Join(otherOps, ", "), n.Is)
		return
	case o.Brought || !comparable(n.Value, o):
		c.add(
			n.At+"/other",
			"%s is %s and %s is %s; they cannot be compared",
			n.Source.Field,
			n.Value.Kind.Words(),
			n.Source.Other,
			o.Kind.Words(),
		)
		return
	}
	if k := n.Value.Kind; !k.Numeric() && !k.Dated() && n.Is != "any_of" && n.Is != "none_of" {
		c.add(n.At+"/is", "%s compares with any_of and none_of only", k.Words())
		return
	}
	n.Other = o
}

func comparable(a, b *Value) bool {
	x, y := a.Kind, b.Kind
	switch {
	case x == schema.Percent || y == schema.Percent:
		return x == y
	case x.Numeric():
		return y.Numeric()
	case x.Dated():
		return y.Dated()
	case x.Coded():
		return y.Coded()
	case x == schema.Link || x == schema.ID:
		return (y == schema.Link || y == schema.ID) && a.To == b.To
	}
	return x == y
}

// periodOf checks a main period and binds its field.
func (c *checker) periodOf(s *scope, p *MainPeriod, at string) *BoundPeriod {
	v, err := s.value(p.Field)
	if err != nil {
		c.add(at+"/field", "%s", err)
		return nil
	}
	if v.Brought || !v.Kind.Dated() {
		c.add(at+"/field", "%s is %s; a period goes by a date or a time", p.Field, v.Kind.Words())
		return nil
	}
	if p.Within.Period == (period.Period{}) {
		c.add(at+"/within", "a period says within what: this_quarter, {\"last\": 30, \"unit\": \"day\"} …")
		return nil
	}
	return &BoundPeriod{v, p.Within.Period}
}
