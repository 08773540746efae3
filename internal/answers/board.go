package answers

import (
	"context"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/internal/fault"
)

// FiltersSaid is what a dashboard's filters say, in the words of a sentence.
type FiltersSaid struct {
	Whose  string   // "Aldo Marlow or team West shore"
	Period string   // "this quarter", "in the last 30 days, today included"
	Dates  string   // the days that it has today, where it does not name them
	Fields []string // "customers' segment is Marina", in their order
	AsOf   string   // "as of the end of last week (10 May 2026)", "" for now
}

// SayFilters puts what a dashboard's panels are narrowed to into words, records by their names.
func (v *View) SayFilters(f board.Filters) (FiltersSaid, error) {
	said := FiltersSaid{Fields: []string{}}
	set, err := f.Read(v.Snap.Schema)
	if err != nil {
		return said, err
	}
	for _, t := range v.Snap.Schema.Types {
		if t.Owner == "" || set.Whose == nil {
			continue
		}
		if said.Whose, err = v.clause(brief.Part{Start: t.Key, Whose: set.Whose}, "whose"); err != nil {
			return said, err
		}
		break
	}
	if within := set.Within; within != nil {
		said.Period = brief.PeriodWords(within.Period)
		if within.From == "" && within.To == "" {
			said.Dates = brief.SpanWords(v.Snap.Cal.Resolve(within.Period, v.Day))
		}
	}
	for _, x := range f.Fields {
		words, err := v.clause(
			brief.Part{Start: x.Type, Filter: &brief.Tree{Field: x.Field, Is: "any_of", Values: x.Values}},
			"filter",
		)
		if err != nil {
			return said, err
		}
		said.Fields = append(said.Fields, brief.Possessive(v.Snap.Schema.Type(x.Type).Label)+words)
	}
	if set.AsOf != nil {
		said.AsOf = brief.MomentWords(*set.AsOf, v.Snap.Cal, v.Day)
	}
	return said, nil
}

// clause is what the sentence of a part says in one of its clauses.
func (v *View) clause(part brief.Part, key string) (string, error) {
	bound, err := v.Bind(&brief.Brief{Version: brief.Version, Part: part})
	if err != nil {
		return "", err
	}
	for _, c := range v.Say(bound) {
		if c.Key == key {
			return c.Text, nil
		}
	}
	return "", nil
}

// Panel is what a report shows where it is placed.
type Panel struct {
	board.Under                    // the brief as the person may see it, with what it follows
	Narrows     *board.FieldFilter // the field by which its marks narrow other panels; nil for none
	Answer      *Answer            // with its records alone where it has neither groups nor a figure
	List        *List              // the records, where it shows them; nil otherwise
}

// Panel answers a report as it is placed. shown is its brief as the person may see it; held adds what its owner holds
// it to besides.
func (v *View) Panel(
	ctx context.Context,
	shown *brief.Brief,
	held func(*brief.Brief) (*brief.Brief, error),
	o board.Options,
	f board.Filters,
) (*Panel, error) {
	own, err := o.Within()
	if err != nil {
		return nil, err
	}
	if shown, err = o.Narrow(shown); err != nil {
		return nil, fault.New(fault.Invalid, "/options/where", "%s.", err)
	}
	p := &Panel{}
	if p.Under, err = f.Apply(v.Snap.Schema, shown, own); err != nil {
		return nil, err
	}
	p.Brief = o.Place(p.Brief)
	asked, err := held(p.Brief)
	if err != nil {
		return nil, err
	}
	if p.Answer, err = v.Ask(ctx, asked); err != nil {
		return nil, err
	}
	p.Narrows = board.Narrows(v.Snap.Schema, p.Brief)
	if len(p.Answer.Bound.Groups) == 0 && !chart.OneNumber(p.Answer.Drawing.Kind) {
		p.List, err = v.List(ctx, asked)
	}
	return p, err
}
