package desk

import "uzzel/core/brief"

// FiltersSaid is what a board's filters say, in the words of a sentence.
type FiltersSaid struct {
	Whose  string   // "Aldo Marlow or team West shore"
	Period string   // "this quarter", "in the last 30 days, today included"
	Dates  string   // the days that it comes to today, where it does not name them
	Fields []string // "customers' segment is Marina", in their order
}

// SayFilters puts what a board's panels are narrowed to into words, records by their names.
func (d *Desk) SayFilters(who Person, f BoardFilters) (FiltersSaid, error) {
	said := FiltersSaid{Fields: []string{}}
	b, err := d.filtering(f)
	if err != nil {
		return said, err
	}
	snap := d.Snapshot()
	for _, t := range snap.Schema.Types {
		if t.Owner == "" || b.Whose == nil {
			continue
		}
		if said.Whose, err = d.clause(who, brief.Part{Start: t.Key, Whose: b.Whose}, "whose"); err != nil {
			return said, err
		}
		break
	}
	if b.Period != nil {
		p := b.Period.Within.Period
		said.Period = brief.PeriodWords(p)
		if p.From == "" && p.To == "" {
			said.Dates = brief.SpanWords(snap.Cal.Resolve(p, d.today()))
		}
	}
	for _, x := range f.Fields {
		words, err := d.clause(who, brief.Part{Start: x.Type, Filter: &brief.Tree{Field: x.Field, Is: "any_of", Values: x.Values}}, "filter")
		if err != nil {
			return said, err
		}
		said.Fields = append(said.Fields, brief.Possessive(snap.Schema.Type(x.Type).Label)+words)
	}
	return said, nil
}

// clause is what the sentence of a part says in one of its clauses.
func (d *Desk) clause(who Person, part brief.Part, key string) (string, error) {
	bound, err := d.Bind(&brief.Brief{Version: brief.Version, Part: part})
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
