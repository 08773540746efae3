package brief

import (
	"slices"
	"strconv"
	"strings"

	"uzzel/core/schema"
)

// Recorded is amounts as each record has them.
const Recorded = "recorded"

// Money says in which currency amounts are (docs/brief.md, "Several currencies"): where it says nothing, the
// organisation's, at the rate of the dates that each record type names.
type Money struct {
	// As is "recorded" where summaries and columns that are a field show each record's own amounts.
	As string `json:"as,omitempty"`
	// Rates name other dates for the amounts of a record type.
	Rates []RateDay `json:"rates,omitempty"`
}

// RateDay says by which dates the amounts of a record type are converted: at the rate of the first that is filled, at
// today's where none is, or none is named.
type RateDay struct {
	Of string   `json:"of"`
	At []string `json:"at,omitempty"`
}

// maxRateDays are how many dates are tried, one after the other.
const maxRateDays = 4

// Rated says how the amounts of a field are converted into the organisation's currency.
type Rated struct {
	Dates []string // paths from the record that has the amount
	// Currency is the path of the currency's field from where the amount's own begins.
	Currency string
}

// money reads what a brief says of money.
func (c *checker) money(b *Brief) {
	c.rates = map[string][]string{}
	m := b.Money
	if m == nil {
		return
	}
	if m.As != "" && m.As != Recorded {
		c.add("/money/as", "amounts are in the organisation's currency, where nothing is said, or \"recorded\", not %q", m.As)
	}
	for i, r := range m.Rates {
		at := "/money/rates/" + strconv.Itoa(i)
		t := c.schema.Type(r.Of)
		if t == nil {
			c.add(at+"/of", "there is no record type %q", r.Of)
			continue
		}
		if t.Currency == "" {
			c.add(at+"/of", "the amounts of %s are all in the organisation's currency", strings.ToLower(t.Label))
			continue
		}
		if _, twice := c.rates[r.Of]; twice {
			c.add(at+"/of", "%s stand twice", strings.ToLower(t.Label))
		}
		if len(r.At) > maxRateDays {
			c.add(at+"/at", "at most %d dates are tried", maxRateDays)
			continue
		}
		c.rates[r.Of] = append([]string{}, r.At...)
		for k, path := range r.At {
			here := at + "/at/" + strconv.Itoa(k)
			steps, f, err := c.schema.Follow(t, path)
			switch {
			case err != nil:
				c.add(here, "%s", err)
			case len(steps) > MaxHops:
				c.add(here, "a path follows four links at most")
			case !f.Kind.Dated() || f.Worked != nil:
				c.add(here, "a rate is that of a date or a time that is entered, not of %s", f.Label)
			}
		}
	}
}

// rated says how a field's amounts are converted; nil of what is no amount, or always in the organisation's currency.
func (s *scope) rated(t *schema.Type, f *schema.Field) *Rated {
	whole := s.schema.Whole().Type(t.Key)
	if f.Kind != schema.Money || whole.Currency == "" || f.Formula() != "" {
		return nil
	}
	dates, said := s.rates[t.Key]
	if !said {
		dates = whole.Rated
	}
	return &Rated{Dates: dates, Currency: whole.Currency}
}

// recorded has the summaries and columns that are a field show each record's own amounts, and checks that amounts in
// several currencies are nowhere put together.
func (c *checker) recorded(b *Brief, bound *Bound) {
	if b.Money == nil || b.Money.As != Recorded {
		return
	}
	for i, v := range bound.Columns {
		if v != nil && v.Rated != nil {
			bound.Columns[i] = v.AsRecorded()
		}
	}
	any := false
	for _, s := range bound.Summaries {
		if s.Formula != nil || s.Of == nil || s.Of.Rated == nil || s.Kind != schema.Money {
			continue
		}
		any = true
		s.Of = s.Of.AsRecorded()
		s.Kind = schema.Number
		path := s.Of.currency()
		g := slices.IndexFunc(bound.Groups, func(g *BoundGroup) bool {
			return s.Part < len(g.Values) && g.Values[s.Part].Text == path
		})
		if g < 0 {
			c.add("/money/as", "amounts as recorded are added up by currency: group by %s", path)
			continue
		}
		s.Within = []int{g}
		if t := bound.Groups[g].Group.Top; t != nil && t.Rest != "drop" {
			c.add(bound.Groups[g].At+"/top", "Other would put several currencies together")
		}
		if show := s.Source.Show; show == "running_total" || show == "change" {
			c.add(s.At+"/show", "it would go on from one currency to the next")
		}
	}
	if !any {
		return
	}
	for _, s := range bound.Summaries {
		s.Within = bound.within(s)
	}
	for i, g := range bound.Groups {
		if t := g.Group.Top; t != nil && bound.hasSummary(t.By) {
			for _, w := range bound.Summaries[bound.summaryAt(t.By)].Within {
				if w >= i || bound.Groups[w].Across != g.Across {
					c.add(g.At+"/top/by", "amounts in several currencies are not set against one another")
				}
			}
		}
	}
	if len(bound.Summaries[0].Within) > 0 && (b.Target != "" || b.TargetOf != "") {
		c.add("/target", "a target is in the organisation's currency; so is what comes towards it")
	}
	whole := []string{"pie", "ring", "funnel", "bridge", "progress"}
	if ch := b.Chart; ch != nil && (has(whole, ch.Kind) || ch.Stacked || ch.Measure == "share") {
		c.add(
			"/chart",
			"amounts in several currencies make no whole; draw them as columns, bars or lines, or in the organisation's currency",
		)
	}
}

// within are the groups outside of which a summary has no value: of a formula, those of what it reads.
func (b *Bound) within(s *BoundSummary) []int {
	list := slices.Clone(s.Within)
	for _, ref := range s.Refs {
		list = append(list, b.within(b.Summaries[ref])...)
	}
	slices.Sort(list)
	return slices.Compact(list)
}

// AsRecorded is a value that reads amounts as they are.
func (v *Value) AsRecorded() *Value {
	own := *v
	own.Recorded, own.Rated = v.Rated, nil
	return &own
}

// currency is the path of the currency of a value that is read as recorded.
func (v *Value) currency() string {
	return strings.TrimSuffix(v.Text, v.Field.Key) + v.Recorded.Currency
}

// CurrencyOf is the value that says in which currency another is that is read as recorded.
func CurrencyOf(s *schema.Schema, v *Value) *Value {
	s = s.Whole()
	t := s.Type(v.Type.Key)
	steps, f, err := s.Follow(t, v.Recorded.Currency)
	if err != nil {
		panic(err) // the schema's own path
	}
	out := &Value{Text: v.currency(), Label: f.Label, Kind: f.Kind, Level: v.Level, Hops: slices.Clone(v.Hops), Field: f}
	for _, step := range steps {
		t = s.Type(step.Field.To)
		out.Hops = append(out.Hops, Hop{step.Type, step.Field, t})
	}
	out.Type = t
	return out
}

// amounts notes what a part is worked out from that is converted: what its groups and summaries read, and the conditions
// of its summaries. A row for which one of them would need a rate that there is not is left out.
func (b *Bound) amounts() {
	for i, p := range b.Parts {
		take := func(v *Value) {
			if v != nil && v.converts() && !slices.Contains(p.Amounts, v) {
				p.Amounts = append(p.Amounts, v)
			}
		}
		for _, g := range b.Groups {
			if i < len(g.Values) {
				take(g.Values[i])
			}
		}
		for _, s := range b.Summaries {
			if s.Part != i || s.Formula != nil {
				continue
			}
			take(s.Of)
			for _, c := range []*Cond{s.Where, s.Fixed} {
				if c.converts() {
					p.Where = append(p.Where, c)
				}
			}
		}
		p.Converts = len(p.Amounts)+len(p.Where) > 0 || p.Filter.converts() || p.Fixed.converts()
		for _, l := range p.Levels {
			p.Converts = p.Converts || l.Where.converts() || l.Fixed.converts()
		}
	}
}

// converts says whether a value is an amount that is converted, or worked out from one.
func (v *Value) converts() bool {
	found := false
	v.eachAmount(func(*Value) { found = true })
	return found
}

// converts says whether a condition reads an amount that is converted.
func (c *Cond) converts() bool {
	found := false
	c.eachAmount(func(*Value) { found = true })
	return found
}

// eachAmount visits the amounts that are converted of which a value is worked out.
func (v *Value) eachAmount(visit func(*Value)) {
	if v == nil {
		return
	}
	if v.Rated != nil {
		visit(v)
	}
	for _, o := range []*BoundOwn{v.Own, v.Worked} {
		if o == nil {
			continue
		}
		for _, ref := range o.Refs {
			ref.eachAmount(visit)
		}
		switch {
		case o.Bands != nil:
			o.Bands.Of.eachAmount(visit)
		case o.Merge != nil:
			o.Merge.Of.eachAmount(visit)
		case o.Linked != nil:
			o.Linked.Of.eachAmount(visit)
			o.Linked.By.eachAmount(visit)
			o.Linked.Where.eachAmount(visit)
			o.Linked.Fixed.eachAmount(visit)
		}
	}
}

// eachAmount visits the amounts that are converted which a condition reads.
func (c *Cond) eachAmount(visit func(*Value)) {
	if c == nil {
		return
	}
	c.Value.eachAmount(visit)
	c.Other.eachAmount(visit)
	c.Where.eachAmount(visit)
	for _, k := range c.Kids {
		k.eachAmount(visit)
	}
}

// Conversion is how the amounts of a record type are converted in a brief.
type Conversion struct {
	Type  *schema.Type
	Dates []string // paths from the record; none for today
}

// Conversions are those that a brief's numbers, conditions and columns need, each record type once.
func (b *Bound) Conversions() []Conversion {
	var list []Conversion
	visit := func(v *Value) {
		if !slices.ContainsFunc(list, func(c Conversion) bool { return c.Type == v.Type }) {
			list = append(list, Conversion{v.Type, v.Rated.Dates})
		}
	}
	for _, p := range b.Parts {
		p.Filter.eachAmount(visit)
		for _, l := range p.Levels {
			l.Where.eachAmount(visit)
		}
		for _, v := range p.Amounts {
			v.eachAmount(visit)
		}
		for _, c := range p.Where {
			c.eachAmount(visit)
		}
	}
	for _, v := range b.Columns {
		v.eachAmount(visit)
	}
	return list
}

// money says in which currency amounts are, where they can be in several.
func (s *sayer) money() {
	b := s.b
	if m := b.Brief.Money; m != nil && m.As == Recorded && b.records() {
		s.add("money", ", ", "amounts as recorded", "/money")
	}
	if !b.Schema.SeveralCurrencies() {
		return
	}
	for _, c := range b.Conversions() {
		var dates []string
		for _, path := range c.Dates {
			dates = append(dates, pathWords(b.Schema.Whole(), c.Type.Key, path))
		}
		of := " of " + lower(c.Type.Label)
		if !s.several() && c.Type.Key == b.Parts[0].Start().Key {
			of = ""
		}
		s.add("money", ", ", "amounts"+of+" in "+b.Schema.Settings.Currency+" at the rate of "+
			strings.Join(append(dates, "today"), ", else "), "/money")
	}
}

// records says whether something shows amounts as they are recorded.
func (b *Bound) records() bool {
	return slices.ContainsFunc(b.Columns, func(v *Value) bool { return v.Recorded != nil }) ||
		slices.ContainsFunc(b.Summaries, func(s *BoundSummary) bool { return s.Of != nil && s.Of.Recorded != nil })
}

// pathWords names what a path leads to: "deal's expected close".
func pathWords(s *schema.Schema, typ, path string) string {
	steps, f, err := s.Follow(s.Type(typ), path)
	if err != nil {
		return path
	}
	var labels []string
	for _, step := range steps {
		labels = append(labels, step.Field.Label)
	}
	return possessive(strings.Join(append(labels, f.Label), " › "))
}

// Counted says how many starting records are meant: "12 deals"; of several parts, "12 records".
func (b *Bound) Counted(n int64) string {
	if len(b.Parts) == 1 {
		return Counted(b.Parts[0].Start(), n)
	}
	return Counted(&schema.Type{Label: "records", One: "record"}, n)
}

// LeftOut says how many starting records are left out for want of an exchange rate: "" for none.
func (b *Bound) LeftOut(n int64) string {
	switch n {
	case 0:
		return ""
	case 1:
		return b.Counted(n) + " has amounts without an exchange rate for their day, and is left out"
	}
	return b.Counted(n) + " have amounts without an exchange rate for their day, and are left out"
}
