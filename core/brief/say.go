package brief

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"uzzel/core/period"
	"uzzel/core/schema"
)

// Clause is one part of the sentence, which the interface edits in place.
type Clause struct {
	// Key is the clause: records, bring, whose, period, filter, groups, across, summaries, compare, target, columns,
	// order, chart, own.
	Key    string `json:"key"`
	Lead   string `json:"lead" doc:"Words before the clause that belong to the sentence, not to the control"`
	Text   string `json:"text"`
	Detail string `json:"detail,omitempty" doc:"Resolved dates"`
	At     string `json:"at,omitempty" doc:"JSON pointer to what the clause says"`
}

// Sentence is a brief as a person would say it.
type Sentence []Clause

// String is the sentence as plain text.
func (s Sentence) String() string {
	var b strings.Builder
	for _, c := range s {
		b.WriteString(c.Lead)
		b.WriteString(c.Text)
		if c.Detail != "" {
			b.WriteString(" (" + c.Detail + ")")
		}
	}
	b.WriteString(".")
	return b.String()
}

// Names gives the name of a record by type and id, for people and other records that a brief names; "" where there is
// none.
type Names func(typ, id string) string

// Targets is the type by which Names is asked for the name of a measure that has targets.
const Targets = "targets"

type sayer struct {
	b     *Bound
	today int32
	names Names
	// limited says of a record type that its reader may not see all of it.
	limited func(typ string) bool
	out     Sentence
}

// Say says a bound brief as a sentence, with the dates its periods resolve to today.
func Say(b *Bound, today int32, names Names) Sentence { return SayTo(b, today, names, nil) }

// SayTo is Say to a reader who may not see all records of the types that limited names: of these, only those are meant
// that the reader may see, and the sentence says so.
func SayTo(b *Bound, today int32, names Names, limited func(typ string) bool) Sentence {
	s := &sayer{b: b, today: today, names: names, limited: limited}
	for i, p := range b.Parts {
		if len(b.Parts) > 1 {
			lead := "; beside them "
			if i == 0 {
				lead = ""
			}
			s.add("records", lead, p.Part.Key+": ", fmt.Sprintf("/parts/%d", i))
		}
		s.part(p, i)
	}
	s.whole()
	return s.out
}

func (s *sayer) add(key, lead, text, at string) {
	s.out = append(s.out, Clause{Key: key, Lead: lead, Text: text, At: at})
}

func (s *sayer) part(p *BoundPart, i int) {
	base := ""
	if len(s.b.Parts) > 1 {
		base = fmt.Sprintf("/parts/%d", i)
	}
	s.add("records", "", p.Start().Label+s.seen(p.Start().Key), base+"/start")
	if p.Start().Owner != "" {
		s.add("whose", " of ", s.whose(p.Whose), base+"/whose")
	}
	for n, l := range p.Levels[1:] {
		text := "each with its " + lower(l.Back.Label) + s.seen(l.Type.Key)
		if l.Where != nil && !empty(l.Where) {
			text += " where " + s.cond(l.Where, true)
		}
		if !l.Keep {
			text += ", leaving out those without"
		}
		s.add("bring", ", ", text, base+"/bring"+strings.Repeat("/bring", n))
	}
	if p.Period != nil {
		c := Clause{Key: "period", Lead: ", with " + words(p.Period.Value) + " ", Text: PeriodWords(p.Period.Within), At: base + "/period",
			Detail: SpanWords(s.b.Cal.Resolve(p.Period.Within, s.today))}
		if p.Period.Within.Word == "" && p.Period.Within.Last+p.Period.Within.Next == 0 {
			c.Detail = ""
		}
		s.out = append(s.out, c)
	}
	s.filter(p)
	if len(p.Own) > 0 {
		for k, v := range p.Own {
			lead := ", taking "
			if k > 0 {
				lead = " and "
			}
			s.add("own", lead, s.own(v), fmt.Sprintf("%s/own/%d", base, k))
		}
	}
}

// Seen follows a record type of which the reader sees only some records.
const Seen = " you may see"

func (s *sayer) seen(typ string) string {
	if s.limited != nil && s.limited(typ) {
		return Seen
	}
	return ""
}

func (s *sayer) filter(p *BoundPart) {
	if p.Filter == nil || empty(p.Filter) {
		return
	}
	if p.Filter.Op != All {
		s.add("filter", ", where ", s.cond(p.Filter, true), p.Filter.At)
		return
	}
	lead := ", where "
	for _, k := range p.Filter.Kids {
		s.add("filter", lead, s.cond(k, false), k.At)
		lead = " and "
	}
}

func empty(c *Cond) bool { return (c.Op == All || c.Op == Any) && len(c.Kids) == 0 }

func (s *sayer) whose(w *Whose) string {
	if w == nil {
		return "everyone"
	}
	switch w.Word {
	case "everyone":
		return "everyone"
	case "mine":
		return "mine"
	case "team":
		return "my team"
	}
	var list []string
	for _, id := range w.People {
		list = append(list, s.name(s.b.Schema.Readers().Key, id))
	}
	for _, id := range w.Teams {
		t := s.b.Schema.Readers()
		list = append(list, "team "+s.name(t.Field(t.Team).To, id))
	}
	if len(list) == 0 {
		return "nobody"
	}
	return join(list, "or")
}

func (s *sayer) name(typ, id string) string {
	if s.names != nil {
		if n := s.names(typ, id); n != "" {
			return n
		}
	}
	return "number " + id
}

// cond says a condition; outer is false where it stands among others that are joined by "and".
func (s *sayer) cond(c *Cond, outer bool) string {
	var said string
	switch c.Op {
	case OnField:
		said = s.onField(c)
	case OnLink:
		said = s.onLink(c)
	case Not:
		return "not (" + s.cond(c.Kids[0], true) + ")"
	default:
		word := " and "
		if c.Op == Any {
			word = " or "
		}
		var list []string
		for _, k := range c.Kids {
			list = append(list, s.cond(k, false))
		}
		if len(list) == 0 {
			return "anything"
		}
		said = strings.Join(list, word)
		if !outer || len(list) == 1 {
			said = "(" + said + ")"
		}
		return said
	}
	if c.Source.Ask {
		said += " (asked)"
	}
	if c.Source.Fixed {
		said += " (fixed)"
	}
	return said
}

func (s *sayer) onLink(c *Cond) string {
	link := ""
	for _, h := range c.Hops {
		link += lower(h.Field.Label) + "’s "
	}
	link += lower(c.Back.Label) + s.seen(c.Back.Type)
	said := "it has "
	switch {
	case c.None:
		said += "no " + link
	case c.AtLeast > 1:
		said += "at least " + strconv.Itoa(c.AtLeast) + " " + link
	default:
		said += "some " + link
	}
	if c.Where != nil && !empty(c.Where) {
		said += " where (" + s.cond(c.Where, true) + ")"
	}
	return said
}

var opWords = map[string]string{"any_of": "is", "none_of": "is not", "contains": "contains", "not_contains": "does not contain",
	"starts_with": "starts with", "under": "is under", "at_most": "is at most", "over": "is over", "at_least": "is at least",
	"between": "is from", "within": "is", "empty": "is empty", "filled": "is filled"}

// dayWords are the same for dates and times.
var dayWords = map[string]string{"under": "is before", "at_most": "is up to", "over": "is after", "at_least": "is from"}

func (s *sayer) onField(c *Cond) string {
	word := opWords[c.Is]
	if w, ok := dayWords[c.Is]; ok && c.Value.Kind.Dated() {
		word = w
	}
	said := words(c.Value) + " " + word
	switch {
	case c.Other != nil:
		return said + " that of " + words(c.Other)
	case c.Within != nil:
		said += " " + PeriodWords(*c.Within)
		if c.Within.Word != "" || c.Within.Last+c.Within.Next > 0 {
			said += " (" + SpanWords(s.b.Cal.Resolve(*c.Within, s.today)) + ")"
		}
		return said
	case c.Is == "empty" || c.Is == "filled":
		return said
	case c.Is == "between":
		return said + " " + s.val(c.Value, c.Source.Values[0]) + " to " + s.val(c.Value, c.Source.Values[1])
	}
	var list []string
	for _, v := range c.Source.Values {
		list = append(list, s.val(c.Value, v))
	}
	return said + " " + join(list, "or")
}

// val says a value of a condition.
func (s *sayer) val(v *Value, text string) string {
	switch v.Kind {
	case schema.Link, schema.ID:
		return s.name(v.To, text)
	case schema.YesNo:
		if text == "true" {
			return "yes"
		}
		return "no"
	case schema.Money:
		return Currency(s.b.Schema.Settings.Currency) + thousands(text)
	case schema.Percent:
		return text + " %"
	case schema.Number:
		return thousands(text)
	case schema.Date:
		if d, err := period.ParseDay(text); err == nil {
			return DayWords(d)
		}
	case schema.Time:
		return text
	}
	return quoted(text)
}

var plainText = regexp.MustCompile(`^[\p{L}\p{N}_.&/’-]+( [\p{L}\p{N}_.&/’-]+)*$`)

// quoted puts a text in quotes where it could be taken for words of the sentence.
func quoted(s string) string {
	if plainText.MatchString(s) && !strings.Contains(s, " or ") && !strings.Contains(s, " and ") {
		return s
	}
	return strconv.Quote(s)
}

func (s *sayer) own(v *Value) string {
	o := v.Own
	said := words(v) + " as "
	switch {
	case o.Formula != nil:
		return said + o.Source.Formula
	case o.Bands != nil:
		return said + words(o.Bands.Of) + " in bands from " + join(o.Source.Bands.Edges, "and")
	case o.Merge != nil:
		var sets []string
		for _, set := range o.Source.Merge.Sets {
			var vals []string
			for _, v := range set.Values {
				vals = append(vals, quoted(v))
			}
			sets = append(sets, quoted(set.Label)+" for "+join(vals, "or"))
		}
		if o.Source.Merge.Rest != "" {
			sets = append(sets, quoted(o.Source.Merge.Rest)+" for the rest")
		}
		return said + words(o.Merge.Of) + " merged to " + strings.Join(sets, ", ")
	}
	l := o.Linked
	link := ""
	for _, h := range l.Hops {
		link += lower(h.Field.Label) + "’s "
	}
	link += lower(l.Back.Label) + s.seen(l.Back.Type)
	switch l.Fn {
	case "count":
		said += "the count of " + link
	case "newest", "oldest":
		said += "the " + words(l.Of) + " of the " + l.Fn + " of " + link + " by " + words(l.By)
	default:
		said += "the " + fnWords[l.Fn] + words(l.Of) + " of " + link
	}
	if l.Where != nil && !empty(l.Where) {
		said += " where (" + s.cond(l.Where, true) + ")"
	}
	return said
}

func (s *sayer) whole() {
	b := s.b.Brief
	var columns, order []string
	for i, c := range s.b.Columns {
		text := words(c)
		if l := b.Columns[i].Label; l != "" && l != c.Label {
			text += " as " + quoted(l)
		}
		columns = append(columns, text)
	}
	if len(columns) > 0 {
		s.add("columns", ", listing ", join(columns, "and"), "/columns")
	}
	for i, o := range s.b.Order {
		text := words(o)
		if b.Order[i].Desc {
			text += " downwards"
		}
		order = append(order, text)
	}
	if len(order) > 0 {
		s.add("order", ", sorted by ", strings.Join(order, ", then "), "/order")
	}
	if b.Limit != nil {
		s.add("order", ", ", "the first "+strconv.Itoa(*b.Limit), "/limit")
	}
	for i, g := range s.b.Groups {
		lead, key := ", by ", "groups"
		switch {
		case g.Across:
			key, lead = "across", ", across "
			if i > s.b.Rows {
				lead = ", then across "
			}
		case i > 0:
			lead = ", then "
		}
		s.add(key, lead, s.group(g), g.At)
	}
	if b.Blank != nil && !*b.Blank {
		s.add("groups", ", ", "leaving out (blank)", "/blank")
	}
	for i, sum := range s.b.Summaries {
		lead := ", showing "
		switch {
		case i > 0 && i == len(s.b.Summaries)-1:
			lead = " and "
		case i > 0:
			lead = ", "
		}
		s.add("summaries", lead, s.summary(sum), "")
	}
	if b.Compare != "" {
		s.compare()
	}
	if b.Target != "" {
		s.add("target", ", towards ", "a target of "+thousands(b.Target), "/target")
	}
	if b.TargetOf != "" {
		text := b.TargetOf
		if s.names != nil {
			if name := s.names(Targets, b.TargetOf); name != "" {
				text = "“" + name + "”"
			}
		}
		s.add("target", ", towards ", "the target for "+text, "/targetOf")
	}
	if b.TotalsOnly {
		s.add("totals", ", ", "totals only", "/totalsOnly")
	}
	if b.Chart != nil {
		s.chart(b.Chart)
	}
}

func (s *sayer) chart(c *Chart) {
	text := ChartWords(c.Kind)
	if len(c.Values) > 0 && (len(s.b.Summaries) > 1 || c.Values[0] != s.b.Summaries[0].Source.Key) {
		var list []string
		for _, key := range c.Values {
			for _, sum := range s.b.Summaries {
				if sum.Source.Key == key {
					list = append(list, SummaryLabel(s.b, sum))
				}
			}
		}
		text += " of " + lower(join(list, "and"))
	}
	if c.Measure == "share" {
		text += ", as shares"
	}
	s.add("chart", ", as ", text, "/chart")
}

func (s *sayer) compare() {
	text := "against the period before"
	if s.b.Brief.Compare == "year_before" {
		text = "against the year before"
	}
	c := Clause{Key: "compare", Lead: ", ", Text: text, At: "/compare"}
	if p := s.b.Parts[0].Period; p != nil {
		c.Detail = SpanWords(s.b.Cal.Earlier(p.Within, s.today, s.b.Brief.Compare))
	}
	s.out = append(s.out, c)
}

func or(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// words names a value in a sentence: "customer’s segment".
func words(v *Value) string {
	if v.Own != nil {
		said := quoted(v.Label)
		if v.Label != v.Own.Source.Key {
			said += " (" + v.Own.Source.Key + ")"
		}
		return said
	}
	return possessive(v.Label)
}

// ValueWords names a value for people: "customer’s segment".
func ValueWords(v *Value) string { return words(v) }

// possessive turns "Customer › Segment" into "customer’s segment".
func possessive(label string) string {
	said := ""
	for i, part := range strings.Split(label, " › ") {
		if i > 0 {
			said = Possessive(said)
		}
		said += lower(part)
	}
	return said
}

// Possessive begins the name of something that belongs to what a label names: "customer’s ", "deals’ ".
func Possessive(label string) string {
	if strings.HasSuffix(label, "s") {
		return lower(label) + "’ "
	}
	return lower(label) + "’s "
}

func lower(s string) string {
	if len(s) > 1 && s[1] >= 'A' && s[1] <= 'Z' {
		return s
	}
	if s != "" && s[0] >= 'A' && s[0] <= 'Z' {
		return strings.ToLower(s[:1]) + s[1:]
	}
	return s
}

func join(list []string, word string) string {
	switch len(list) {
	case 0:
		return ""
	case 1:
		return list[0]
	}
	return strings.Join(list[:len(list)-1], ", ") + " " + word + " " + list[len(list)-1]
}
