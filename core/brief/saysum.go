package brief

import (
	"cmp"
	"fmt"
	"strings"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// Groups and summaries.

func (s *sayer) group(g *BoundGroup) string {
	var said string
	switch {
	case s.several():
		said = s.ways(g)
		if g.Group.Label != "" {
			said = quoted(lower(label(g.Group.Label))) + ": " + said
		}
		if g.Group.By != "" {
			said += " (each " + unitWords(g) + ")"
		}
	default:
		said = s.grouped(g)
		if g.Group.Label != "" {
			said += " “" + label(g.Group.Label) + "”"
		}
	}
	if g.Group.Every {
		said += " (every " + oneOf(g) + ")"
	}
	if t := g.Group.Top; t != nil {
		rest := ", and Other"
		if t.Rest == "drop" {
			rest = ", the rest left out"
		}
		said += fmt.Sprintf(" (the %d with the %s %s%s)", t.N, cmp.Or(t.From, "largest"), s.keyRef(t.By), rest)
	}
	if o := g.Group.Order; o != nil {
		said += ", " + s.groupOrder(g, o)
	}
	return said
}

// grouped says what a group goes by: "stage", "month created".
func (s *sayer) grouped(g *BoundGroup) string {
	v := g.Values[0]
	switch {
	case g.Group.By != "" && v.Own == nil:
		return grouped(v, unitWords(g))
	case g.Group.By != "":
		return unitWords(g) + " of " + s.words(v)
	case v.Kind == schema.ID && len(v.Hops) == 0 && v.Level == 0:
		return "each " + v.Type.One
	}
	return s.words(v)
}

func grouped(v *Value, unit string) string {
	if v.Field == nil || len(v.Hops) > 0 || v.Level > 0 {
		return unit + " of " + words(v)
	}
	return v.Field.GroupedBy(unit, words(v))
}

// oneOf names one member of a group: "month", "stage".
func oneOf(g *BoundGroup) string {
	v := g.Values[0]
	switch {
	case g.Group.By != "":
		return unitWords(g)
	case v.Own != nil:
		return "one"
	}
	parts := strings.Split(v.Label, " › ")
	return lower(parts[len(parts)-1])
}

func (s *sayer) groupOrder(g *BoundGroup, o *GroupOrder) string {
	if o.By != "label" {
		way := "smallest"
		if o.Desc {
			way = "largest"
		}
		return way + " " + s.keyRef(o.By) + " first"
	}
	first, last := ends(g.Values[0])
	switch v := g.Values[0]; {
	case v.Kind == schema.Link || v.Kind == schema.ID:
		first, last = "A to Z", "Z to A"
	case v.Kind.Numeric() || v.Kind.Dated():
		first, last = first+" first", last+" first"
	case first == "":
		first = "first to last"
	}
	if o.Desc {
		return last
	}
	return first
}

func unitWords(g *BoundGroup) string {
	if g.Group.By == "month_of_year" {
		return "month of the year"
	}
	return strings.ReplaceAll(string(g.Group.By), "_", " ")
}

// ways says the value that each part groups by: "the owner of Won, the owner of Visits".
func (s *sayer) ways(g *BoundGroup) string {
	var list []string
	for i, v := range g.Values {
		list = append(list, "the "+s.words(v)+" of "+PartName(s.b.Parts[i].Part.Key))
	}
	return strings.Join(list, ", ")
}

// GroupLabel names a group for people: "stage", "month created".
func GroupLabel(g *BoundGroup) string {
	if g.Group.Label != "" {
		if g.Group.By != "" && len(g.Values) > 1 {
			return g.Group.Label + " by " + unitWords(g)
		}
		return g.Group.Label
	}
	if v := g.Values[0]; g.Group.By != "" {
		return grouped(v, unitWords(g))
	}
	return words(g.Values[0])
}

var fnWords = map[string]string{
	"sum":     "sum of ",
	"average": "average ",
	"median":  "median ",
	"min":     "smallest ",
	"max":     "largest ",
}

// function says a function of a value: "sum of value", "latest date", "how many have an outcome".
func (s *sayer) function(fn string, of *Value) string { return function(fn, of, s.words(of)) }

func function(fn string, of *Value, name string) string {
	switch {
	case fn == "filled":
		return "how many have " + article(name) + " " + name
	case fn == "distinct":
		return "number of different " + Plural(name)
	case of.Kind.Dated() && fn == "min":
		return "earliest " + name
	case of.Kind.Dated() && fn == "max":
		return "latest " + name
	}
	return fnWords[fn] + name
}

var showWords = map[string]string{
	"percent_of_total":  "as a share of the total",
	"percent_of_parent": "as a share of the group above",
	"percent_of_row":    "as a share of the row",
	"percent_of_column": "as a share of the column",
	"running_total":     "running on",
	"change":            "as the change from the group before",
}

// SummaryLabel names a summary for people: its label, or "Sum of value", "Deals".
func SummaryLabel(b *Bound, s *BoundSummary) string {
	src := s.Source
	switch {
	case src.Label != "":
		return src.Label
	case src.Formula != "":
		return strings.ReplaceAll(src.Key, "_", " ")
	case src.Fn == "count" && s.Of == nil:
		return b.Parts[s.Part].Start().Label
	case src.Fn == "count":
		return s.Of.Label
	}
	return upper(function(src.Fn, s.Of, words(s.Of)))
}

// sumName is what a summary is called.
type sumName struct {
	base string // what it works out: "sum of value"; "" of a formula
	// name tells it from the others: its label, its base where that is enough, or one made up.
	name  string
	given bool // it goes by a label, which is said
}

func (b *Bound) summaryAt(key string) int {
	for i, sum := range b.Summaries {
		if sum.Source.Key == key {
			return i
		}
	}
	return -1
}

// nameSummaries settles what summaries are called. Labels that were given are kept; what something goes by is told
// apart by a label made of its words, where they are not enough.
func (s *sayer) nameSummaries() {
	s.sums = make([]sumName, len(s.b.Summaries))
	taken := map[string]bool{}
	for i, sum := range s.b.Summaries {
		n := &s.sums[i]
		if sum.Formula == nil {
			n.base = s.base(sum)
		}
		if sum.Source.Label != "" || sum.Formula != nil {
			n.given = true
			n.name = unlike(label(cmp.Or(sum.Source.Label, strings.ReplaceAll(sum.Source.Key, "_", " "))), taken)
		}
	}
	needed := s.referred()
	for i, sum := range s.b.Summaries {
		n := &s.sums[i]
		if n.given {
			continue
		}
		bare := (sum.Where == nil || empty(sum.Where)) && !taken[column.Fold(n.base)]
		if bare {
			n.name = unlike(n.base, taken)
			continue
		}
		n.name = upper(n.base)
		if needed[i] {
			n.given = true
			n.name = unlike(madeUp(sum, n.base), taken)
		}
	}
}

// madeUp is a label for a summary that has none: the value that its condition asks for, else its words.
func madeUp(sum *BoundSummary, base string) string {
	c := sum.Where
	for c != nil && (c.Op == All || c.Op == Any) && len(c.Kids) == 1 {
		c = c.Kids[0]
	}
	if c != nil && c.Op == OnField && c.Is == "any_of" && c.Other == nil && c.Value.Kind.Coded() {
		var list []string
		for _, v := range c.Source.Values {
			list = append(list, stored(c.Value, v))
		}
		return upper(label(join(list, "or")))
	}
	return upper(base)
}

// referred says which summaries something goes by.
func (s *sayer) referred() map[int]bool {
	needed := map[int]bool{}
	for _, sum := range s.b.Summaries {
		if sum.Formula == nil {
			continue
		}
		for _, at := range sum.Refs {
			needed[at] = true
		}
	}
	for _, g := range s.b.Groups {
		if g.Group.Top != nil {
			needed[s.b.summaryAt(g.Group.Top.By)] = true
		}
		if g.Group.Order != nil {
			needed[s.b.summaryAt(g.Group.Order.By)] = true
		}
	}
	if c := s.b.Brief.Chart; c != nil && len(s.b.Summaries) > 1 {
		for _, key := range c.Values {
			needed[s.b.summaryAt(key)] = true
		}
	}
	return needed
}

// base says what a summary works out, its condition aside.
func (s *sayer) base(sum *BoundSummary) string {
	var said string
	switch src := sum.Source; {
	case src.Fn == "count" && sum.Of == nil:
		said = "count"
	case src.Fn == "count":
		said = "count of " + s.words(sum.Of)
	default:
		said = s.function(src.Fn, sum.Of)
	}
	if s.several() && sum.Part >= 0 {
		said += " of " + PartName(s.b.Parts[sum.Part].Part.Key)
	}
	return said
}

// sumRef is how the rest of the sentence refers to a summary.
func (s *sayer) sumRef(i int) string {
	if s.sums[i].given {
		return "“" + s.sums[i].name + "”"
	}
	return s.sums[i].name
}

func (s *sayer) keyRef(key string) string {
	if i := s.b.summaryAt(key); i >= 0 {
		return s.sumRef(i)
	}
	return key
}

func (s *sayer) summary(i int, sum *BoundSummary) string {
	n := s.sums[i]
	var said string
	if sum.Formula != nil {
		named := map[string]string{}
		for k, ref := range sum.Formula.Refs {
			named[ref.Name] = s.sums[sum.Refs[k]].name
		}
		said = n.name
		if !oneWord.MatchString(said) || Reserved(said) {
			said = "“" + said + "”"
		}
		said += " = " + formulaWords(sum.Source.Formula, named)
	} else {
		said = n.base
		if n.given {
			said += " “" + n.name + "”"
		}
		said += s.where(sum.Where)
	}
	if w := showWords[sum.Source.Show]; w != "" {
		said += " " + w
	}
	return said
}
