package chart

import (
	"math"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Colours of a bridge: what it leads from and to, what adds and what takes away (TestBridgeColours).
const (
	bridgeWhole = "#8A8477"
	bridgeMore  = "#007C7D"
	bridgeLess  = "#AB573C"
)

// span is one bar of a bridge: what it adds, or, of those that it leads from and to, what it is.
type span struct {
	label, detail string
	amount        exact.Num
	whole         bool
	mark          *result.Mark // of what opens its records; nil where none stand behind it
}

// bridge draws how groups lead to the total: from the total of the earlier period by each group's change, where the brief
// compares, else from nothing by what each group comes to. What is not drawn as a group is one bar at the end, so that
// the bars always lead to the total. It takes the place of the series that was drawn.
func (d *drawer) bridge() {
	if d.c.Kind != "bridge" || len(d.d.Series) == 0 || d.r.Bound.Rows == 0 {
		return
	}
	s, row := d.sum, d.d.Series[0]
	all := d.r.Cell(0, 0)
	before := d.before()
	var spans []span
	sum, end := exact.Num{}, all.Plain[s].Num
	if all.Before != nil {
		sum = all.Before[s].Num
		spans = append(spans, span{label: d.earlier(), amount: sum, whole: true})
	}
	for i, p := range row.Points {
		amount := p.exact.Num
		if len(p.Mark.Rows) > 0 {
			amount = amount.Sub(before[p.Mark.Rows[0]])
		}
		sum = sum.Add(amount)
		spans = append(
			spans,
			span{label: d.d.Categories[i].Label, detail: d.d.Categories[i].Detail, amount: amount, mark: &row.Points[i].Mark},
		)
	}
	if rest := end.Sub(sum); rest.Sign() != 0 {
		label := "the rest"
		if len(d.r.Overlap) > 0 && d.r.Overlap[0] {
			label = "in several groups"
		}
		spans = append(spans, span{label: label, amount: rest})
	}
	spans = append(
		spans,
		span{label: "All", amount: end, whole: true, mark: &result.Mark{Rows: []string{}, Across: []string{}}},
	)
	if all.Before != nil {
		spans[len(spans)-1].label = "now"
	}
	k, f := d.kind(s), d.r.Bound.Summaries[s].Source.Format
	d.d.Categories, d.d.Series = spansDrawn(d.w, row.Name, k, f, spans)
	d.d.Apart = true
}

// bridged says whether the picture is a bridge.
func (d *drawer) bridged() bool {
	return d.c.Kind == "bridge" && len(d.d.Series) > 0 && len(d.d.Series[0].Points) > 0 &&
		d.d.Series[0].Points[0].From != nil
}

// earlier is what the earlier period is called along a bridge.
func (d *drawer) earlier() string {
	for _, s := range d.r.Span {
		if s.Before != nil {
			return brief.SpanWords(*s.Before)
		}
	}
	return "before"
}

// before is what each group came to in the earlier period, by its key.
func (d *drawer) before() map[string]exact.Num {
	out := map[string]exact.Num{}
	for _, n := range d.r.Rows[0].Children {
		if cell := d.r.Cell(n, 0); cell.Before != nil {
			out[d.r.KeyOf(true, n)] = cell.Before[d.sum].Num
		}
	}
	return out
}

// spansDrawn are bars one after another, each from where the one before it ended; the whole ones from nothing.
func spansDrawn(w Writer, name string, k schema.Kind, f *brief.Format, spans []span) ([]Category, []Series) {
	cats, line, at := []Category{}, Series{Name: name, Paint: paint(bridgeMore), Points: []Point{}}, exact.Num{}
	for _, s := range spans {
		from, to := at, at.Add(s.amount)
		if s.whole {
			from, to = exact.Num{}, s.amount
		}
		at = to
		colour, sign := bridgeWhole, ""
		if !s.whole {
			colour = bridgeMore
			switch {
			case s.amount.Sign() > 0:
				sign = "+"
			case s.amount.Sign() < 0:
				colour, sign = bridgeLess, "−"
			}
		}
		amount := s.amount
		if !s.whole {
			amount = amount.Abs()
		}
		v := result.Value{Set: true, Num: amount}
		begin, end := from.Float(), to.Float()
		cats = append(cats, Category{Label: s.label, Detail: s.detail, Paint: paint(colour)})
		p := Point{
			From:   &begin,
			Value:  &end,
			Label:  sign + w.Short(k, v, f),
			Say:    s.label + ": " + sign + w.Value(k, v, f),
			Closed: s.mark == nil,
			Mark:   result.Mark{Rows: []string{}, Across: []string{}},
			exact:  result.Value{Set: true, Num: s.amount},
		}
		if s.mark != nil {
			p.Mark = *s.mark
		}
		line.Points = append(line.Points, p)
	}
	return cats, []Series{line}
}

// Step is one step of a bridge that leads from a result to a later one.
type Step struct {
	Key    string // how its mark names it; "" where nothing stands behind it
	Label  string
	Amount exact.Num // what it adds; of the first and the last what they are
}

// Steps draws what led from a result to a later one (docs/brief.md, "Over time"): the first and the last step are wholes.
// number is what the amounts are of, nil where they count records.
func Steps(w Writer, title, name string, number *brief.BoundSummary, steps []Step) *Drawing {
	k, f := schema.Number, (*brief.Format)(nil)
	if number != nil {
		k, f = number.Kind, number.Source.Format
	}
	spans := make([]span, len(steps))
	for i, s := range steps {
		spans[i] = span{label: s.Label, amount: s.Amount, whole: i == 0 || i == len(steps)-1}
		if s.Key != "" {
			spans[i].mark = &result.Mark{Rows: []string{s.Key}, Across: []string{}}
		}
	}
	d := &Drawing{
		Kind: "bridge", Title: title, Apart: true, Notes: []string{}, Second: []Tick{}, Legend: "none", Guides: "values",
	}
	d.Categories, d.Series = spansDrawn(w, name, k, f, spans)
	d.bridgeAxis(number == nil, func(n exact.Num) string { return tickLabel(w, k, f, n) })
	return d
}

// bridgeAxis cuts the axis of a bridge. Where all that moves is high above nothing it begins near it, so that the steps can
// be told apart; the wholes are then drawn as cut, and it is said.
func (d *Drawing) bridgeAxis(whole bool, label func(exact.Num) string) {
	least, low, high := math.Inf(1), 0.0, 0.0
	for _, p := range d.Series[0].Points {
		least, low, high = math.Min(least, *p.Value), math.Min(low, *p.Value), math.Max(high, *p.Value)
	}
	if *d.Series[0].Points[0].From == 0 && least > high/2 && high > least {
		low = math.Max(0, least-(high-least)*0.7)
	}
	d.Ticks = cut(low, high, whole, label)
	if first := d.Ticks[0]; first.Value > 0 {
		d.Notes = append(
			d.Notes,
			"the axis begins at "+first.Label+", so that the steps can be told apart; what they lead from and to is cut",
		)
	}
}
