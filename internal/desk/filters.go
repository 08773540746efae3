package desk

import (
	"encoding/json"

	"uzzel/core/brief"
)

// FiltersSaid is what a board's filters say, in the words of a sentence.
type FiltersSaid struct {
	Whose  string   // "Aldo Marlow or team West shore"
	Period string   // "this quarter", "in the last 30 days, today included"
	Dates  string   // the days that it comes to today, where it does not name them
	Fields []string // "customers’ segment is Marina", in their order
}

// SayFilters puts what a board's panels are narrowed to into words, records by their names.
func (d *Desk) SayFilters(who Person, f BoardFilters) (FiltersSaid, error) {
	said := FiltersSaid{Fields: []string{}}
	text, err := json.Marshal(f)
	if err != nil {
		return said, err
	}
	if err := d.checkFilters(string(text)); err != nil {
		return said, err
	}
	s := d.Snapshot().Schema
	for _, t := range s.Types {
		if t.Owner == "" || len(f.Whose) == 0 {
			continue
		}
		if said.Whose, err = d.clause(who, `{"version":1,"start":"`+t.Key+`","whose":`+string(f.Whose)+`}`, "whose"); err != nil {
			return said, err
		}
		break
	}
	if len(f.Period) > 0 {
		// checkFilters has read it.
		b, err := brief.Decode([]byte(`{"version":1,"start":"x","period":{"field":"x","within":` + string(f.Period) + `}}`))
		if err != nil {
			return said, err
		}
		p := b.Period.Within.Period
		said.Period = brief.PeriodWords(p)
		if p.From == "" && p.To == "" {
			said.Dates = brief.SpanWords(d.Snapshot().Cal.Resolve(p, d.today()))
		}
	}
	for _, x := range f.Fields {
		b, err := json.Marshal(&brief.Brief{Version: brief.Version, Part: brief.Part{Start: x.Type, Filter: &brief.Tree{Field: x.Field, Is: "any_of", Values: x.Values}}})
		if err != nil {
			return said, err
		}
		words, err := d.clause(who, string(b), "filter")
		if err != nil {
			return said, err
		}
		said.Fields = append(said.Fields, brief.Possessive(s.Type(x.Type).Label)+words)
	}
	return said, nil
}

// clause is what the sentence of a brief says in one of its clauses.
func (d *Desk) clause(who Person, text, key string) (string, error) {
	b, err := brief.Decode([]byte(text))
	if err != nil {
		return "", err
	}
	bound, err := d.Bind(b)
	if err != nil {
		return "", err
	}
	for _, c := range d.Say(who, bound) {
		if c.Key == key {
			return c.Text, nil
		}
	}
	return "", nil
}
