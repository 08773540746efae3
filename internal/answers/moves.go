package answers

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/internal/fault"
)

// Moves is what moved between two days, for people (docs/brief.md, "Over time").
type Moves struct {
	Since, AsOf string // the days; AsOf is "now" today
	Text        string // what moved as a sentence
	Sentence    brief.Sentence
	Summaries   []string // what adds up
	Drawn       string   // the summary that the bridge is drawn by, "" where it is by how many records there are
	Steps       []MoveStep
	Drawing     *chart.Drawing // the steps that change what it is drawn by; marks name steps
}

// MoveStep is one step of a bridge. From and To are where its bar stands, as parts of the width; Zero is where nothing is.
type MoveStep struct {
	Step     string
	Words    string
	Records  int64
	Values   []string // by summary; of changes with their sign
	Total    bool     // the first and the last
	Sign     int      // of the change, by what the bridge is drawn by
	From, To float64
	Zero     float64
}

// steps in the words of the trade; those by condition are put together from its words.
var moveWords = map[string]string{
	engine.MoveNew:             "new",
	engine.MoveBack:            "brought back",
	engine.MoveReopened:        "reopened",
	engine.MoveCame + "whose":  "taken over",
	engine.MoveCame + "period": "pulled in",
	engine.MoveCame + "rates":  "now with an exchange rate",
	engine.MoveGrown:           "grown",
	engine.MoveShrunk:          "shrunk",
	engine.MoveRates:           "by exchange rates",
	engine.MoveSame:            "unchanged",
	engine.MoveWon:             "won",
	engine.MoveLost:            "lost",
	engine.MoveWent + "whose":  "handed over",
	engine.MoveWent + "period": "slipped",
	engine.MoveWent + "rates":  "no longer with an exchange rate",
	engine.MoveDeleted:         "deleted",
	engine.MoveFrom:            "from another",
	engine.MoveTo:              "to another",
}

// Moves tells what moved between the day that a brief names with since and the day that it is answered as of. Without
// since it is the end of last week.
func (v *View) Moves(ctx context.Context, b *brief.Brief) (*Moves, error) {
	b = since(b)
	q, err := v.question(b, "moves")
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (*Moves, error) {
		bound, err := v.Bind(b)
		if err != nil {
			return nil, err
		}
		var out *Moves
		err = v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
			m, err := engine.RunMoves(ctx, v.Snap, bound, opts)
			if err == nil {
				out = v.tellMoves(bound, m)
			}
			return err
		})
		return out, err
	}, func(*Moves) int64 { return 4000 })
}

// since is a brief that says since when what moved is told.
func since(b *brief.Brief) *brief.Brief {
	if b.Since != nil {
		return b
	}
	told := *b
	told.Since = &brief.Moment{Word: "last_week"}
	return &told
}

func (v *View) tellMoves(b *brief.Bound, m *engine.Moves) *Moves {
	return TellMoves(v.PlainWriter(), v.Day, v.Say(b), b, m)
}

// TellMoves puts what moved into words and draws it. day is today, sentence what the brief says.
func TellMoves(w chart.Writer, day int32, sentence brief.Sentence, b *brief.Bound, m *engine.Moves) *Moves {
	out := &Moves{Since: w.Form.Day(m.Since), AsOf: "now", Sentence: sentence}
	if m.AsOf != day {
		out.AsOf = w.Form.Day(m.AsOf)
	}
	for _, s := range m.Summaries {
		out.Summaries = append(out.Summaries, brief.SummaryLabel(b, s))
	}
	if m.By >= 0 {
		out.Drawn = out.Summaries[m.By]
	}
	amounts := make([]exact.Num, len(m.Steps))
	last := len(m.Steps) - 1
	for i, s := range m.Steps {
		step := MoveStep{Step: s.Step, Words: stepWords(b, out, s.Step), Records: s.Records, Total: i == 0 || i == last}
		for k, value := range s.Values {
			text := amount(w, m.Summaries[k], value)
			if !step.Total && value.Sign() > 0 {
				text = "+" + text
			}
			step.Values = append(step.Values, text)
		}
		amounts[i] = m.Amount(i)
		step.Sign = amounts[i].Sign()
		out.Steps = append(out.Steps, step)
	}
	place(out.Steps, amounts)
	out.Text = movesText(w, b, m, out, amounts)
	out.Drawing = drawMoves(w, b, m, out, amounts)
	return out
}

// drawMoves draws the steps that lead from then to now.
func drawMoves(w chart.Writer, b *brief.Bound, m *engine.Moves, out *Moves, amounts []exact.Num) *chart.Drawing {
	var steps []chart.Step
	for i, s := range out.Steps {
		if !s.Total && amounts[i].Sign() == 0 {
			continue
		}
		step := chart.Step{Key: s.Step, Label: s.Words, Amount: amounts[i]}
		if s.Records == 0 {
			step.Key = ""
		}
		steps = append(steps, step)
	}
	var number *brief.BoundSummary
	name := b.Parts[0].Start().Label
	if m.By >= 0 {
		number, name = m.Summaries[m.By], out.Drawn
	}
	return chart.Steps(w, out.Text, name, number, steps)
}

func amount(w chart.Writer, s *brief.BoundSummary, n exact.Num) string {
	return w.Value(s.Kind, result.Value{Set: true, Num: n}, s.Source.Format)
}

// moveWords says a step.
func stepWords(b *brief.Bound, m *Moves, step string) string {
	switch step {
	case engine.MoveThen:
		return m.Since
	case engine.MoveNow:
		return m.AsOf
	}
	if words := moveWords[step]; words != "" {
		return words
	}
	came := strings.HasPrefix(step, engine.MoveCame)
	_, by, _ := strings.Cut(step, ":")
	at := "/filter"
	if n, err := strconv.Atoi(by); err == nil && b.Parts[0].Filter != nil && b.Parts[0].Filter.Op == brief.All {
		at = fmt.Sprintf("/filter/all/%d", n-1)
	}
	words := cmp.Or(conditionWords(m.Sentence, at), brief.Unsaid)
	if came {
		return "now " + words
	}
	return "no longer " + words
}

// place says where the bars of steps stand: each begins where the one before it ended, the first and last at nothing.
func place(steps []MoveStep, amounts []exact.Num) {
	bars, at := make([][2]exact.Num, len(steps)), exact.Num{}
	for i, step := range steps {
		from, to := at, at.Add(amounts[i])
		if step.Total {
			from, to = exact.Num{}, amounts[i]
		}
		bars[i], at = [2]exact.Num{from, to}, to
	}
	parts, zero := widths(bars)
	for i, p := range parts {
		steps[i].From, steps[i].To, steps[i].Zero = p[0], p[1], zero
	}
}

// widths are where bars that go from one amount to another begin and end, and where nothing is, as parts of the width
// that holds all of them and nothing.
func widths(bars [][2]exact.Num) (parts [][2]float64, zero float64) {
	low, high := exact.Num{}, exact.Num{}
	for _, bar := range bars {
		for _, x := range bar {
			if x.Cmp(low) < 0 {
				low = x
			}
			if x.Cmp(high) > 0 {
				high = x
			}
		}
	}
	width := high.Sub(low)
	part := func(n exact.Num) float64 {
		q, ok := n.Sub(low).Quo(width)
		if !ok {
			return 0
		}
		f, _ := q.Scaled(1_000_000)
		return float64(f) / 1_000_000
	}
	for _, bar := range bars {
		parts = append(parts, [2]float64{part(bar[0]), part(bar[1])})
	}
	return parts, part(exact.Num{})
}

// mostSaid is how many steps the sentence names.
const mostSaid = 4

// movesText says what moved: by how much, and the steps that made it, the largest first.
func movesText(w chart.Writer, b *brief.Bound, m *engine.Moves, out *Moves, amounts []exact.Num) string {
	last := len(amounts) - 1
	short := func(n exact.Num) string {
		if m.By < 0 {
			return brief.Counted(b.Parts[0].Start(), whole(n.Abs()))
		}
		s := m.Summaries[m.By]
		return w.Short(s.Kind, result.Value{Set: true, Num: n.Abs()}, s.Source.Format)
	}
	was := out.Since
	text := "As much as on " + was
	switch d := amounts[last].Sub(amounts[0]); {
	case d.Sign() > 0:
		text = short(d) + " more than on " + was
	case d.Sign() < 0:
		text = short(d) + " less than on " + was
	}
	if out.AsOf != "now" {
		text = "On " + out.AsOf + ": " + brief.Small(text)
	}
	var list []int
	for i := 1; i < last; i++ {
		if amounts[i].Sign() != 0 {
			list = append(list, i)
		}
	}
	if len(list) == 0 {
		return text + "; nothing moved."
	}
	slices.SortStableFunc(list, func(x, y int) int { return amounts[y].Abs().Cmp(amounts[x].Abs()) })
	var said []string
	for _, i := range list[:min(len(list), mostSaid)] {
		said = append(said, short(amounts[i])+" "+out.Steps[i].Words)
	}
	if more := len(list) - mostSaid; more == 1 {
		said = append(said, "and one more step")
	} else if more > 1 {
		said = append(said, fmt.Sprintf("and %d more steps", more))
	}
	return text + ": " + strings.Join(said, ", ") + "."
}

func whole(n exact.Num) int64 {
	w, _ := n.Scaled(1)
	return w
}

// MovedPage is a page of the records of a step.
type MovedPage struct {
	Type    string
	Field   string // what put them there, "" where no one field did
	Amount  string // what is added up of each, "" where they are counted
	Records []MovedRecord
	Count   int
}

// MovedRecord is a record of a step, for people: what it added then and adds now, what it had and has of the field.
type MovedRecord struct {
	ID, Name  string
	There     bool // whether it is still there to be opened
	Then, Now string
	Was, Is   string
}

// mostMoved is how many records of a step a page has.
const mostMoved = 200

// Moved lists the records of a step of what moved, those that change the most first; of one group of the brief's where
// group names it.
func (v *View) Moved(ctx context.Context, b *brief.Brief, step, group string, from, count int) (*MovedPage, error) {
	bound, err := v.Bind(since(b))
	if err != nil {
		return nil, err
	}
	out := &MovedPage{Type: bound.Parts[0].Start().Key}
	err = v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
		m, err := engine.RunMoves(ctx, v.Snap, bound, opts)
		if err != nil {
			return err
		}
		if group != "" {
			bridges, err := m.Bridges(bound)
			if err != nil {
				return err
			}
			within, ok := m.Within(bridges, group)
			if !ok {
				return fault.New(fault.NotFound, "/group", "Nothing moved in such a group.")
			}
			m = within
		}
		list, n, err := m.Records(step, from, from+min(max(count, 1), mostMoved))
		if errors.Is(err, engine.ErrNoStep) {
			return fault.New(fault.NotFound, "/step", "Nothing moved by such a step.")
		}
		if err != nil {
			return err
		}
		out.Count = n
		if m.By >= 0 {
			out.Amount = brief.SummaryLabel(bound, m.Summaries[m.By])
		}
		return v.movedRecords(m, m.Decides(step), list, out)
	})
	return out, err
}

func (v *View) movedRecords(m *engine.Moves, decides *brief.Value, list []engine.Moved, out *MovedPage) error {
	w := v.PlainWriter()
	if decides != nil {
		out.Field = brief.ValueWords(decides)
	}
	table, err := v.Snap.Table(out.Type)
	if err != nil {
		return err
	}
	say := func(text string) string {
		if decides == nil || decides.Kind == schema.Link {
			return text
		}
		return w.Field(decides.Kind, decides.Field, text, nil)
	}
	for _, r := range list {
		row := table.IDs.Row(r.ID)
		one := MovedRecord{
			ID: r.ID, Name: cmp.Or(r.Name, "number "+r.ID), Was: say(r.Was), Is: say(r.Is),
			There: row >= 0 && v.Sight.Sees(out.Type, row),
		}
		if m.By >= 0 && r.Then != nil {
			one.Then = amount(w, m.Summaries[m.By], r.Then[m.By])
		}
		if m.By >= 0 && r.Now != nil {
			one.Now = amount(w, m.Summaries[m.By], r.Now[m.By])
		}
		out.Records = append(out.Records, one)
	}
	return nil
}
