package brief

import (
	"fmt"
	"strconv"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// AverageScale is the scale of averages and medians kept for each record: nine decimals.
const AverageScale = 1_000_000_000

// owns binds own fields, each after those it reads.
func (c *checker) owns(list []Own, s *scope, at string) []*Value {
	keys := keySet{c: c, what: "own fields"}
	left := map[string]int{}
	for i := range list {
		keys.take(list[i].Key, fmt.Sprintf("%s/own/%d", at, i))
		s.open[list[i].Key] = true
		left[list[i].Key] = i
	}
	done := make([]*Value, len(list))
	var bind func(i int)
	bind = func(i int) {
		delete(left, list[i].Key)
		for _, need := range ownReads(&list[i]) {
			if j, ok := left[need]; ok {
				bind(j)
			}
		}
		if v := c.own(&list[i], s, fmt.Sprintf("%s/own/%d", at, i)); v != nil {
			done[i] = v
			s.own[list[i].Key] = v
		}
	}
	for i := range list {
		if _, ok := left[list[i].Key]; ok {
			bind(i)
		}
	}
	return done
}

// ownReads lists the keys of own fields that an own field may read.
func ownReads(o *Own) []string {
	var keys []string
	text := o.Formula
	if o.Bands != nil {
		text += " " + o.Bands.Of
	}
	if o.Merge != nil {
		text += " " + o.Merge.Of
	}
	for _, m := range ownPath.FindAllStringSubmatch(text, -1) {
		keys = append(keys, m[1])
	}
	return keys
}

func (c *checker) own(o *Own, s *scope, at string) *Value {
	set := 0
	for _, on := range []bool{o.Formula != "", o.Linked != nil, o.Bands != nil, o.Merge != nil} {
		if on {
			set++
		}
	}
	if set != 1 {
		c.add(at, "an own field is just one of formula, linked, bands, merge")
		return nil
	}
	c.format(o.Format, at)
	v := &Value{Text: "own." + o.Key, Label: o.Label, Own: &BoundOwn{Source: o}}
	if v.Label == "" {
		v.Label = o.Key
	}
	var ok bool
	switch {
	case o.Formula != "":
		ok = c.ownFormula(o, v, s, at)
	case o.Linked != nil:
		ok = c.ownLinked(o.Linked, v, s, at+"/linked")
	case o.Bands != nil:
		ok = c.ownBands(o.Bands, v, s, at+"/bands")
	default:
		ok = c.ownMerge(o.Merge, v, s, at+"/merge")
	}
	if !ok {
		return nil
	}
	return v
}

func (c *checker) ownFormula(o *Own, v *Value, s *scope, at string) bool {
	f, refs, err := s.formula(o.Formula)
	if err != nil {
		c.add(at+"/formula", "%s", err)
		return false
	}
	v.Kind, v.Scale = schema.Number, column.Micro
	v.Own.Formula, v.Own.Refs = f, refs
	for _, r := range refs {
		v.Level = max(v.Level, r.Level)
	}
	return true
}

func (c *checker) ownLinked(l *Linked, v *Value, s *scope, at string) bool {
	b := &BoundLinked{Fn: l.Fn}
	v.Own.Linked = b
	var err error
	if b.Hops, b.From, b.Back, err = s.many(l.Link); err != nil {
		c.add(at+"/link", "%s", err)
		return false
	}
	inner := s.inside(c.schema.Type(b.Back.Type))
	if l.Where != nil {
		b.Where = c.tree(inner, l.Where, at+"/where", 1)
	}
	b.Fixed = c.fixed(inner, l.Fixed)
	v.Kind, v.Scale = schema.Number, column.Micro
	fns := []string{"count", "filled", "distinct", "sum", "average", "median", "min", "max", "newest", "oldest"}
	if !has(fns, l.Fn) {
		c.add(at+"/fn", "unknown function %q%s", l.Fn, near(l.Fn, fns))
		return false
	}
	if l.Fn == "count" {
		if l.Of != "" || l.By != "" {
			c.add(at, "count takes no of and no by")
		}
		return true
	}
	if b.Of, err = inner.value(l.Of); err != nil {
		c.add(at+"/of", "%s", err)
		return false
	}
	dated := l.Fn == "newest" || l.Fn == "oldest"
	if dated != (l.By != "") {
		c.add(at+"/by", "newest and oldest, and only they, take by: a date or time")
		return false
	}
	switch {
	case dated:
		if b.By, err = inner.value(l.By); err != nil || !b.By.Kind.Dated() {
			c.add(at+"/by", "newest and oldest go by a date or a time of the linked record")
			return false
		}
		v.Kind, v.Scale, v.To = b.Of.Kind, b.Of.Scale, b.Of.To
	case l.Fn != "filled" && l.Fn != "distinct":
		if !c.takes(l.Fn, b.Of, at+"/of") {
			return false
		}
		v.Kind, v.Scale = b.Of.Kind, b.Of.Scale
		if l.Fn == "average" || l.Fn == "median" {
			v.Scale = AverageScale
		}
	}
	return true
}

// takes says whether a function can work on a value.
func (c *checker) takes(fn string, of *Value, at string) bool {
	numeric := of.Kind.Numeric()
	if (fn == "min" || fn == "max") && (numeric || of.Kind.Dated()) {
		return true
	}
	if !numeric {
		want := "a number, money or a percent"
		if fn == "min" || fn == "max" {
			want += ", a date or a time"
		}
		c.add(at, "%s is %s; %s takes %s", of.Text, of.Kind.Words(), fn, want)
	}
	return numeric
}

func (c *checker) ownBands(b *Bands, v *Value, s *scope, at string) bool {
	of, err := s.value(b.Of)
	if err != nil {
		c.add(at+"/of", "%s", err)
		return false
	}
	if of.Brought || !of.Kind.Numeric() {
		c.add(at+"/of", "%s is %s; bands cut a number, money or a percent", b.Of, of.Kind.Words())
		return false
	}
	if len(b.Edges) == 0 || len(b.Edges) > 100 {
		c.add(at+"/edges", "bands have one to a hundred edges")
		return false
	}
	bb := &BoundBands{Of: of}
	for i, e := range b.Edges {
		n, err := parseNum(of.Kind, e)
		if err != nil {
			c.add(at+"/edges/"+strconv.Itoa(i), "%s", err)
			return false
		}
		if i > 0 && n.Cmp(bb.Edges[i-1]) <= 0 {
			c.add(at+"/edges/"+strconv.Itoa(i), "edges rise; %s is not more than %s", e, b.Edges[i-1])
			return false
		}
		bb.Edges = append(bb.Edges, n)
		if i == 0 {
			bb.Labels = append(bb.Labels, "under "+e)
		} else {
			bb.Labels = append(bb.Labels, b.Edges[i-1]+" to under "+e)
		}
	}
	bb.Labels = append(bb.Labels, b.Edges[len(b.Edges)-1]+" and over")
	v.Kind, v.Level, v.Own.Bands = schema.Choice, of.Level, bb
	return true
}

func (c *checker) ownMerge(m *Merge, v *Value, s *scope, at string) bool {
	of, err := s.value(m.Of)
	if err != nil {
		c.add(at+"/of", "%s", err)
		return false
	}
	if of.Brought || !of.Kind.Coded() {
		c.add(at+"/of", "%s is %s; merge takes a text or a choice", m.Of, of.Kind.Words())
		return false
	}
	if len(m.Sets) == 0 {
		c.add(at+"/sets", "merge needs at least one label with its values")
		return false
	}
	bm := &BoundMerge{Of: of, Sets: map[string]int{}, Rest: -1}
	place := map[string]int{}
	for i, set := range m.Sets {
		here := at + "/sets/" + strconv.Itoa(i)
		if set.Label == "" {
			c.add(here+"/label", "a merged set has a label")
		}
		if _, ok := place[set.Label]; ok {
			c.add(here+"/label", "the label %q stands twice", set.Label)
		}
		place[set.Label] = len(bm.Labels)
		bm.Labels = append(bm.Labels, set.Label)
		for j, val := range set.Values {
			f := column.Fold(val)
			if was, ok := bm.Sets[f]; ok && was != i || val == "" {
				c.add(here+"/values/"+strconv.Itoa(j), "%q is empty or in two sets", val)
			}
			bm.Sets[f] = i
		}
	}
	if m.Rest != "" {
		if i, ok := place[m.Rest]; ok {
			bm.Rest = i
		} else {
			bm.Rest = len(bm.Labels)
			bm.Labels = append(bm.Labels, m.Rest)
		}
	}
	v.Kind, v.Level, v.Own.Merge = schema.Choice, of.Level, bm
	return true
}
