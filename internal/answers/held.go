package answers

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/internal/fault"
)

// Held is how what was expected of open records came true: those whose date lay within some days as seen before these
// began, and what had become of them when these were over (docs/brief.md, "Over time").
type Held struct {
	On, Dates string // when it was expected, and within which days
	Text      string
	Outcomes  []HeldOutcome // all that was expected first
	Likely    []HeldBand    // by the likelihood that was stated; none where the records have none
	Won       string        // how many were won within the days, and for how much, expected or not
	Median    string        // how long after their date those that were decided were, in words; empty where none was
	Decided   int64
}

// HeldOutcome is what became of some of them, with the amounts that were expected.
type HeldOutcome struct {
	Words   string
	Records int64
	Value   string
	Share   float64 // of what was expected, by amount, or by records where there are no amounts
	Part    string  // the same for people
}

// HeldBand is those of one stated likelihood.
type HeldBand struct {
	Stated       string
	Records, Won int64
	Came         string  // the part that was won
	Said, Is     float64 // both as parts of one
}

// holds are the fields by which it is told how expectations held.
type holds struct {
	status, date, closed, likelihood, amount *schema.Field
}

func holdsOf(t *schema.Type) *holds {
	h := &holds{}
	for i := range t.Fields {
		f := &t.Fields[i]
		switch {
		case f.Worked != nil && f.Worked.As == "stage_status" && h.status == nil:
			h.status = f
		case f.Closes != "" && h.closed == nil:
			h.closed = f
		case f.Kind == schema.Date && f.Entered() && h.date == nil:
			h.date = f
		case f.Kind == schema.Percent && f.Entered() && h.likelihood == nil:
			h.likelihood = f
		case f.Kind == schema.Money && f.Entered() && h.amount == nil:
			h.amount = f
		}
	}
	if h.status == nil || h.date == nil || h.closed == nil {
		return nil
	}
	return h
}

// Keys of what the derived brief works out.
const (
	heldValue    = "held_value"
	heldWeighted = "held_weighted"
)

// Held tells how what was expected within a period held, of the records that a brief is about, in whatever stage.
func (v *View) Held(ctx context.Context, b *brief.Brief, within period.Period) (*Held, error) {
	span, err := v.Period(within)
	if err != nil {
		return nil, err
	}
	if span.To = min(span.To, v.Day); !span.HasFrom || !span.HasTo || span.From > span.To {
		return nil, fault.New(fault.Invalid, "/within", "What was expected is told of days that have begun.")
	}
	q, err := v.question(b, fmt.Sprintf("held %+v", within))
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (*Held, error) {
		t := v.Snap.Schema.Type(b.Start)
		var h *holds
		if t != nil && b.Bring == nil {
			h = holdsOf(t)
		}
		if h == nil {
			return nil, fault.New(
				fault.Invalid,
				"/start",
				"How expectations held is told of records that have stages and an expected date.",
			)
		}
		expected, won := h.briefs(t, b, span, v.Day)
		out := &Held{On: v.Figures.Form.Day(span.From - 1), Dates: brief.SpanWords(span)}
		all, err := v.Ask(ctx, won)
		if err != nil {
			return nil, err
		}
		bound, err := v.Bind(expected)
		if err != nil {
			return nil, err
		}
		err = v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
			m, err := engine.RunMoves(ctx, v.Snap, bound, opts)
			if err != nil {
				return err
			}
			return v.tellHeld(out, h, bound, m, all)
		})
		return out, err
	}, func(h *Held) int64 { return int64(len(h.Likely)+len(h.Outcomes)) * 200 })
}

// briefs are what was expected, and what was won within the days.
func (h *holds) briefs(t *schema.Type, b *brief.Brief, span period.Span, today int32) (expected, won *brief.Brief) {
	from, to := period.FormatDay(span.From), period.FormatDay(span.To)
	within := func(f *schema.Field) brief.Tree {
		return brief.Tree{Field: f.Key, Is: "within", Period: &brief.Period{Period: period.Period{From: from, To: to}}}
	}
	is := func(status string) brief.Tree {
		return brief.Tree{Field: h.status.Key, Is: "any_of", Values: []string{status}}
	}
	bare := &brief.Brief{Version: brief.Version, Part: b.Part}
	bare.Period = nil
	bare.Summaries = []brief.Summary{{Key: "n", Fn: "count"}}
	if h.amount != nil {
		bare.Summaries = append(bare.Summaries, brief.Summary{Key: heldValue, Fn: "sum", Of: h.amount.Key})
	}
	if b.Money != nil && len(b.Money.Rates) > 0 {
		bare.Money = &brief.Money{Rates: b.Money.Rates}
	}
	if span.To != today {
		bare.AsOf = &brief.Moment{Date: to}
	}
	rest := withoutStages(t, b.Filter)
	one, other := *bare, *bare
	// A record that is won has gone by its stage, whatever its date is now.
	one.Filter = &brief.Tree{All: append([]brief.Tree{is("open"), within(h.date)}, rest...)}
	other.Filter = &brief.Tree{All: append([]brief.Tree{is("won"), within(h.closed)}, rest...)}
	one.Since = &brief.Moment{Date: period.FormatDay(span.From - 1)}
	if h.likelihood != nil {
		one.Groups = []brief.Group{{Field: h.likelihood.Key}}
		if h.amount != nil {
			one.Own = append(
				slices.Clone(one.Own),
				brief.Own{Key: heldWeighted, Formula: h.amount.Key + " * " + h.likelihood.Key},
			)
			one.Summaries = append(
				slices.Clone(one.Summaries),
				brief.Summary{Key: heldWeighted, Fn: "sum", Of: "own." + heldWeighted},
			)
		}
	}
	return &one, &other
}

// withoutStages are the conditions of a filter that do not ask for the stage of its records.
func withoutStages(t *schema.Type, f *brief.Tree) []brief.Tree {
	list := []brief.Tree{}
	switch {
	case f == nil:
		return list
	case f.All != nil:
		list = f.All
	default:
		list = []brief.Tree{*f}
	}
	return slices.DeleteFunc(slices.Clone(list), func(c brief.Tree) bool {
		field := t.Field(c.Field)
		return field != nil &&
			(field.Stages || field.Closes != "" || (field.Worked != nil && strings.HasPrefix(field.Worked.As, "stage_")))
	})
}

// tellHeld puts what moved into words.
func (v *View) tellHeld(out *Held, h *holds, b *brief.Bound, m *engine.Moves, won *Answer) error {
	w := v.PlainWriter()
	value, weighted := -1, -1
	for i, s := range m.Summaries {
		switch s.Source.Key {
		case heldValue:
			value = i
		case heldWeighted:
			weighted = i
		}
	}
	sums := map[string]*HeldOutcome{}
	amounts := map[string]exact.Num{}
	order := []string{"expected", "won", "lost", "moved", "open", "gone"}
	words := map[string]string{
		"expected": "expected", "won": "won", "lost": "lost", "moved": "moved to another date",
		"open": "still open", "gone": "no longer among them",
	}
	for _, s := range m.Steps {
		var key string
		switch {
		case s.Step == engine.MoveThen:
			key = "expected"
		case s.Step == engine.MoveWon:
			key = "won"
		case s.Step == engine.MoveLost:
			key = "lost"
		case s.Step == engine.MoveWent+"2":
			key = "moved"
		case s.Step == engine.MoveDeleted || strings.HasPrefix(s.Step, engine.MoveWent):
			key = "gone"
		case s.Step == engine.MoveGrown || s.Step == engine.MoveShrunk || s.Step == engine.MoveSame || s.Step == engine.MoveRates:
			key = "open"
		default: // came, or now
			continue
		}
		if sums[key] == nil {
			sums[key] = &HeldOutcome{Words: words[key]}
		}
		sums[key].Records += s.Records
		if value >= 0 && key != "open" {
			amounts[key] = amounts[key].Add(s.Values[value].Abs())
		}
	}
	all := sums["expected"]
	if value >= 0 { // what is left of what was expected
		rest := amounts["expected"]
		for _, key := range order[1:] {
			if key != "open" {
				rest = rest.Sub(amounts[key])
			}
		}
		amounts["open"] = rest
	}
	for _, key := range order {
		o := sums[key]
		if o == nil {
			continue
		}
		part, ok := exact.Int(o.Records).Quo(exact.Int(all.Records))
		if value >= 0 {
			o.Value = amount(w, m.Summaries[value], amounts[key])
			part, ok = amounts[key].Quo(amounts["expected"])
		}
		if ok {
			o.Share, o.Part = part.Float(), w.Ratio(result.Value{Set: true, Num: part})
		}
		out.Outcomes = append(out.Outcomes, *o)
	}
	out.Won = brief.Counted(b.Parts[0].Start(), won.Result.Records)
	if value >= 0 {
		cell := won.Result.Cell(0, 0)
		out.Won += " for " + w.Value(schema.Money, cell.Plain[len(cell.Plain)-1], nil)
	}
	if err := v.heldDays(out, h, m); err != nil {
		return err
	}
	if h.likelihood != nil {
		if err := v.heldBands(out, b, m); err != nil {
			return err
		}
	}
	out.Text = "On " + out.On + ", " + brief.Counted(
		b.Parts[0].Start(),
		all.Records,
	) + " were expected to close within " + out.Dates
	if all.Records == 1 {
		out.Text = strings.Replace(out.Text, " were ", " was ", 1)
	}
	if value >= 0 {
		out.Text += ", " + all.Value
		if weighted >= 0 {
			out.Text += " in all and " + w.Value(
				schema.Money,
				result.Value{Set: true, Num: m.Steps[0].Values[weighted]},
				nil,
			) + " by likelihood"
		}
	}
	out.Text += ". Of these "
	if o := sums["won"]; o != nil {
		out.Text += strconv.FormatInt(o.Records, 10) + " were won"
		if value >= 0 {
			out.Text += " (" + o.Value + ")"
		}
	} else {
		out.Text += "none was won"
	}
	out.Text += "; in all " + out.Won + " came in."
	return nil
}

// heldDays tells by how many days those that were decided came after their date.
func (v *View) heldDays(out *Held, h *holds, m *engine.Moves) error {
	var days []int32
	for _, step := range []string{engine.MoveWon, engine.MoveLost} {
		list, err := m.DaysBetween(step, h.date, h.closed)
		if err != nil {
			return err
		}
		days = append(days, list...)
	}
	slices.Sort(days)
	out.Decided = int64(len(days))
	if middle := (engine.FromStage{Days: days}).Median(); middle.Set {
		side := " days after"
		switch middle.Num.Sign() {
		case 0:
			out.Median = "on the day itself"
			return nil
		case -1:
			side = " days before"
		}
		middle.Num = middle.Num.Abs()
		out.Median = v.days(middle) + side
	}
	return nil
}

// heldBands sets the likelihoods that were stated against what was won.
func (v *View) heldBands(out *Held, b *brief.Bound, m *engine.Moves) error {
	bridges, err := m.Bridges(b)
	if err != nil {
		return err
	}
	w := v.PlainWriter()
	for _, g := range bridges {
		band := HeldBand{Stated: w.Label(b.Groups[0], g.Member)}
		for _, s := range g.Steps {
			switch s.Step {
			case engine.MoveThen:
				band.Records = s.Records
			case engine.MoveWon:
				band.Won = s.Records
			}
		}
		if band.Records == 0 {
			continue
		}
		if g.Member.Value() {
			band.Stated += " %"
			band.Said = exact.Frac(g.Member.Key, 100*column.Micro).Float()
		}
		came, _ := exact.Int(band.Won).Quo(exact.Int(band.Records))
		band.Is, band.Came = came.Float(), w.Ratio(result.Value{Set: true, Num: came})
		out.Likely = append(out.Likely, band)
	}
	return nil
}
