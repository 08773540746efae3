package brief

import (
	"fmt"
	"strconv"
	"strings"

	"uzzel/core/schema"
)

// Clause is one part of the sentence, which the interface edits in place.
type Clause struct {
	// Key is the clause: records, bring, whose, period, filter, part, groups, across, summaries, compare, target,
	// columns, order, chart, own, asOf, since, periods, money.
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

// Listener is whom a sentence is said to.
type Listener struct {
	// Limited says of a record type that the listener may not see all of it; nil where all are seen.
	Limited func(typ string) bool
	// Reads leaves out the marks that are for who composes: which conditions are asked, and which are fixed.
	Reads bool
}

type sayer struct {
	b     *Bound
	today int32 // by which periods go
	real  int32 // today
	names Names
	to    Listener
	own   map[*BoundOwn]ownName // what own fields are called
	sums  []sumName             // what summaries are called
	out   Sentence
}

// Say says a bound brief as a sentence, with the dates its periods resolve to today.
func Say(b *Bound, today int32, names Names) Sentence { return SayTo(b, today, names, Listener{}) }

// SayTo is Say to someone: of record types that the listener may not see all of, only those records are meant that the
// listener may see, and the sentence says so.
func SayTo(b *Bound, today int32, names Names, to Listener) Sentence {
	s := &sayer{b: b, today: today, real: today, names: names, to: to}
	if day, _, err := b.Days(today); err == nil && b.Brief.Periods == Then {
		s.today = day
	}
	s.nameOwn()
	s.nameSummaries()
	for i, p := range b.Parts {
		s.part(p, i)
	}
	s.whole()
	return s.out
}

func (s *sayer) add(key, lead, text, at string) {
	s.out = append(s.out, Clause{Key: key, Lead: lead, Text: text, At: at})
}

func (s *sayer) several() bool { return len(s.b.Parts) > 1 }

func (s *sayer) part(p *BoundPart, i int) {
	base, lead, label := "", "", p.Start().Label
	if s.several() {
		base = fmt.Sprintf("/parts/%d", i)
	}
	if i > 0 {
		lead, label = ", beside ", lower(label)
	}
	s.add("records", lead, label+s.seen(p.Start().Key), base+"/start")
	if p.Start().Owner != "" {
		s.add("whose", " of ", s.whose(p.Whose), base+"/whose")
	}
	for n, l := range p.Levels[1:] {
		text := "each with its " + lower(l.Back.Label) + s.seen(l.Type.Key) + s.where(l.Where)
		if !l.Keep {
			text += ", leaving out those without"
		}
		s.add("bring", ", ", text, base+"/bring"+strings.Repeat("/bring", n))
	}
	s.period(p, base)
	s.filter(p)
	for k, v := range p.Own {
		s.add("own", ", with ", s.ownField(v), fmt.Sprintf("%s/own/%d", base, k))
	}
	if s.several() {
		s.add("part", " ", "("+PartName(p.Part.Key)+")", base+"/key")
	}
}

// PartName is what one of several parts is called: its key, as words.
func PartName(key string) string { return upper(strings.ReplaceAll(key, "_", " ")) }

// period says the main period by the phrase that its field brings: "expected to close this quarter".
func (s *sayer) period(p *BoundPart, base string) {
	if p.Period == nil {
		return
	}
	lead := " "
	if len(p.Levels) > 1 {
		lead = ", "
	}
	c := Clause{
		Key:  "period",
		Lead: lead + PeriodPhrase(p.Period.Value) + " ",
		Text: PeriodWords(p.Period.Within),
		At:   base + "/period",
	}
	if p.Period.Within.Word != "" || p.Period.Within.Last+p.Period.Within.Next > 0 {
		c.Detail = SpanWords(s.b.Cal.Resolve(p.Period.Within, s.today))
	}
	s.out = append(s.out, c)
}

// PeriodPhrase leads to a period of a date field: "closed", "with delivery".
func PeriodPhrase(v *Value) string {
	if v.Field != nil && v.Field.Phrase != "" && len(v.Hops) == 0 && v.Level == 0 {
		return v.Field.Phrase
	}
	return "with " + words(v)
}

// Seen follows a record type of which the reader sees only some records.
const Seen = " you may see"

func (s *sayer) seen(typ string) string {
	if s.to.Limited != nil && s.to.Limited(typ) {
		return Seen
	}
	return ""
}

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

// whole says what is asked of all parts together.
func (s *sayer) whole() {
	b := s.b.Brief
	s.columns()
	s.order()
	for i, g := range s.b.Groups {
		lead, key := ", by ", "groups"
		switch {
		case g.Across:
			key, lead = "across", ", across "
			if i > s.b.Rows {
				lead = ", then across "
			}
		case i > 0:
			lead = ", then by "
		case len(s.b.Columns) > 0 && len(s.b.Order) == 0:
			lead = ", grouped by " // what follows columns by a bare "by" is their order
		}
		s.add(key, lead, s.group(g), g.At)
	}
	if b.Blank != nil && !*b.Blank {
		s.add("groups", ", ", "leaving out (blank)", "/blank")
	}
	for i, sum := range s.b.Summaries {
		lead := ", showing "
		switch {
		case i == 0 && s.several():
			lead = "; showing "
		case i > 0 && i == len(s.b.Summaries)-1:
			lead = " and "
		case i > 0:
			lead = ", "
		}
		s.add("summaries", lead, s.summary(i, sum), "")
	}
	if b.Compare != "" {
		s.compare()
	}
	s.money()
	s.moments()
	s.target()
	if b.TotalsOnly {
		s.add("totals", ", ", "totals only", "/totalsOnly")
	}
	if b.Chart != nil {
		s.chart(b.Chart)
	}
}

func (s *sayer) columns() {
	var list []string
	for i, c := range s.b.Columns {
		text := s.words(c)
		if l := s.b.Brief.Columns[i].Label; l != "" && l != c.Label {
			text += " “" + label(l) + "”"
		}
		list = append(list, text)
	}
	if len(list) > 0 {
		s.add("columns", ", listing ", join(list, "and"), "/columns")
	}
}

func (s *sayer) order() {
	var list []string
	for i, v := range s.b.Order {
		list = append(list, s.sorted(v, s.b.Brief.Order[i].Desc))
	}
	if len(list) > 0 {
		lead := ", "
		if len(s.b.Columns) == 0 {
			lead = ", sorted "
		}
		s.add("order", lead, strings.Join(list, ", then "), "/order")
	}
	if n := s.b.Brief.Limit; n != nil {
		s.add("order", ", ", "the first "+strconv.Itoa(*n), "/limit")
	}
}

// sorted says an order by a value: "largest value first", "by name, A to Z".
func (s *sayer) sorted(v *Value, desc bool) string {
	first, last := ends(v)
	switch {
	case v.Kind.Numeric() || v.Kind.Dated():
		if desc {
			first = last
		}
		return first + " " + s.words(v) + " first"
	case desc:
		return "by " + s.words(v) + ", " + last
	case first != "":
		return "by " + s.words(v) + ", " + first
	}
	return "by " + s.words(v)
}

// ends names both ends of an order by a value: smallest and largest, earliest and latest, A to Z and Z to A. What is in
// a set order needs no words the right way round.
func ends(v *Value) (first, last string) {
	switch {
	case v.Kind.Numeric():
		return "smallest", "largest"
	case v.Kind.Dated():
		return "earliest", "latest"
	case v.Kind == schema.YesNo:
		return "no first", "yes first"
	case v.Kind == schema.ID || v.Kind == schema.Link || (v.Field != nil && v.Field.Ordered) || (v.Own != nil && v.Own.Bands != nil):
		return "", "last first"
	}
	return "A to Z", "Z to A"
}

func (s *sayer) chart(c *Chart) {
	text := ChartWords(c.Kind)
	if len(c.Values) > 0 && (len(s.b.Summaries) > 1 || c.Values[0] != s.b.Summaries[0].Source.Key) {
		var list []string
		for _, key := range c.Values {
			if i := s.b.summaryAt(key); i >= 0 {
				list = append(list, s.sumRef(i))
			}
		}
		text += " of " + join(list, "and")
	}
	if c.Measure == "share" {
		text += ", as shares"
	}
	s.add("chart", ", as ", text, "/chart")
}

func (s *sayer) compare() {
	text := "compared with the period before"
	if s.b.Brief.Compare == "year_before" {
		text = "compared with the year before"
	}
	c := Clause{Key: "compare", Lead: ", ", Text: text, At: "/compare"}
	if p := s.b.Parts[0].Period; p != nil {
		c.Detail = SpanWords(s.b.Cal.Earlier(p.Within, s.today, s.b.Brief.Compare))
	}
	s.out = append(s.out, c)
}

func (s *sayer) target() {
	b := s.b.Brief
	if b.Target != "" {
		text := millions(b.Target)
		if s.b.Summaries[0].Kind == schema.Money {
			text = Currency(s.b.Schema.Settings.Currency) + text
		}
		s.add("target", ", towards ", text, "/target")
	}
	if b.TargetOf != "" {
		text := b.TargetOf
		if s.names != nil {
			if name := s.names(Targets, b.TargetOf); name != "" {
				text = "“" + label(name) + "”"
			}
		}
		s.add("target", ", towards ", "the target for "+text, "/targetOf")
	}
}
