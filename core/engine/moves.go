package engine

import (
	"context"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Moves is what led from a result to a later one: each record in one step (docs/brief.md, "Over time").
type Moves struct {
	Since, AsOf int32
	// Summaries are those that add up, in the brief's order.
	Summaries []*brief.BoundSummary
	Steps     []Move
	// By is the place in Summaries of the one by which records grew or shrunk, −1 where there is none.
	By int

	then, now *standing
}

// Move is one step: the records in it, and by how much they change each summary. Of the first and the last it is what the
// brief finds.
type Move struct {
	// Step is then, new, back, reopened, came:whose, came:period, came:N, came:rates, grown, shrunk, rates, same, won, lost,
	// went:whose, went:period, went:N, went:rates, deleted or now.
	Step    string
	Records int64
	Values  []exact.Num

	rows []pair
}

// pair is a record by its rows in both states, −1 where it is not in one or not found in it.
type pair struct{ then, now int32 }

// The steps by name, in their order; those by condition come after others of their side, by number.
const (
	MoveThen     = "then"
	MoveNew      = "new"
	MoveBack     = "back"
	MoveReopened = "reopened"
	MoveCame     = "came:"
	MoveGrown    = "grown"
	MoveShrunk   = "shrunk"
	MoveRates    = "rates" // the amount is what it was, and exchange rates are others
	MoveSame     = "same"
	MoveWon      = "won"
	MoveLost     = "lost"
	MoveWent     = "went:"
	MoveDeleted  = "deleted"
	MoveNow      = "now"
)

// RunMoves works out what moved between the day that a brief names with since and the day that it is answered as of.
func RunMoves(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options) (m *Moves, err error) {
	defer whole(&err)
	if b.Brief.Since == nil {
		return nil, brief.Problems{{Pointer: "/since", Message: "what moved is told since a day; name it"}}
	}
	asOf, since, err := b.Days(opts.Today)
	if err != nil {
		return nil, err
	}
	if opts.Budget == nil {
		opts.Budget = &Budget{}
	}
	m = &Moves{Since: since, AsOf: asOf, By: -1}
	for _, s := range b.Summaries {
		if !addsUp(s) {
			continue
		}
		if s.Source.Fn == "sum" && m.By < 0 {
			m.By = len(m.Summaries)
		}
		m.Summaries = append(m.Summaries, s)
	}
	if m.then, err = stand(ctx, snap, b, opts, since, m.Summaries, m.By); err != nil {
		return nil, err
	}
	if m.now, err = stand(ctx, snap, b, opts, asOf, m.Summaries, m.By); err != nil {
		return nil, err
	}
	m.tell()
	return m, nil
}

// addsUp says whether a summary of several records is the sum of those of each: a count of the starting records, or a sum
// of a field or own field of theirs.
func addsUp(s *brief.BoundSummary) bool {
	switch {
	case s.Formula != nil:
		return false
	case s.Source.Fn == "count":
		return s.Of == nil
	}
	return s.Source.Fn == "sum" && s.Of != nil && len(s.Of.Hops) == 0 && s.Of.Level == 0
}

// tell puts each record into its step.
func (m *Moves) tell() {
	steps := map[string][]pair{}
	then, now := m.then, m.now
	var came, went []pair // by rows of the state in which they are not found, which they are in
	for _, row := range now.rows {
		switch was := now.table.IDs.In(then.table.IDs, row); {
		case then.finds(was):
			step := m.grew(was, row)
			steps[step] = append(steps[step], pair{was, row})
		case was >= 0:
			came = append(came, pair{was, row})
		case now.created != nil && now.created.At(row) != column.Null && now.created.At(row) >= then.end:
			steps[MoveNew] = append(steps[MoveNew], pair{-1, row})
		default:
			steps[MoveBack] = append(steps[MoveBack], pair{-1, row})
		}
	}
	for _, was := range then.rows {
		switch row := then.table.IDs.In(now.table.IDs, was); {
		case now.finds(row):
		case row >= 0:
			went = append(went, pair{was, row})
		default:
			steps[MoveDeleted] = append(steps[MoveDeleted], pair{was, -1})
		}
	}
	then.sort(came, func(p pair) int32 { return p.then }, func(k int, status string) string {
		if k >= 0 && staged(then.sources[k]) && (status == "won" || status == "lost") {
			return MoveReopened
		}
		return MoveCame + then.name(k)
	}, steps)
	now.sort(went, func(p pair) int32 { return p.now }, func(k int, status string) string {
		if k >= 0 && staged(now.sources[k]) && status == "won" {
			return MoveWon
		}
		if k >= 0 && staged(now.sources[k]) && status == "lost" {
			return MoveLost
		}
		return MoveWent + now.name(k)
	}, steps)
	m.Steps = append(m.Steps, m.step(MoveThen, all(then.rows, func(row int32) pair { return pair{row, -1} })))
	for _, name := range stepsInOrder(steps) {
		m.Steps = append(m.Steps, m.step(name, steps[name]))
	}
	m.Steps = append(m.Steps, m.step(MoveNow, all(now.rows, func(row int32) pair { return pair{-1, row} })))
}

func all(rows []int32, of func(int32) pair) []pair {
	list := make([]pair, len(rows))
	for i, row := range rows {
		list[i] = of(row)
	}
	return list
}

// grew says how a record that is found in both states changed.
func (m *Moves) grew(was, row int32) string {
	if m.By < 0 {
		return MoveSame
	}
	switch a, b := m.then.value(m.By, was), m.now.value(m.By, row); {
	case a != b && m.then.records(was) == m.now.records(row):
		return MoveRates
	case b > a:
		return MoveGrown
	case b < a:
		return MoveShrunk
	}
	return MoveSame
}

// step adds up what records change.
func (m *Moves) step(name string, rows []pair) Move {
	out := Move{Step: name, Records: int64(len(rows)), rows: rows}
	for i, sum := range m.Summaries {
		total := exact.Num{}
		part, n := int64(0), 0
		for _, p := range rows {
			d := m.now.value(i, p.now) - m.then.value(i, p.then)
			if name == MoveThen {
				d = -d
			}
			if d > 1<<40 || d < -1<<40 || n == 1<<20 {
				total, part, n = total.Add(exact.Int(part)).Add(exact.Int(d)), 0, 0
				continue
			}
			part, n = part+d, n+1
		}
		total = total.Add(exact.Int(part))
		out.Values = append(out.Values, total.Mul(exact.Frac(1, sum.Scale)))
	}
	return out
}

func stepsInOrder(steps map[string][]pair) []string {
	return StepsInOrder(slices.Collect(maps.Keys(steps)))
}

// StepsInOrder puts names of steps into the order of docs/brief.md.
func StepsInOrder(names []string) []string {
	rank := func(name string) (int, int) {
		of := []string{
			MoveNew,
			MoveBack,
			MoveReopened,
			MoveFrom,
			MoveCame,
			MoveGrown,
			MoveShrunk,
			MoveRates,
			MoveSame,
			MoveWon,
			MoveLost,
			MoveTo,
			MoveWent,
			MoveDeleted,
		}
		for i, o := range of {
			if name == o {
				return i, 0
			}
			if what, ok := strings.CutPrefix(name, o); ok && strings.HasSuffix(o, ":") {
				n, err := strconv.Atoi(what)
				switch {
				case what == "whose":
					n = -2
				case what == "rates":
					n = math.MaxInt
				case err != nil:
					n = -1
				}
				return i, n
			}
		}
		return len(of), 0
	}
	slices.SortFunc(names, func(a, b string) int {
		ra, na := rank(a)
		rb, nb := rank(b)
		if ra != rb {
			return ra - rb
		}
		return na - nb
	})
	return names
}

// Text writes a value of a step in its CSV form.
func (m *Moves) Text(sum int, v exact.Num) string {
	if m.Summaries[sum].Kind == schema.Money {
		return v.Fixed(2)
	}
	return v.String()
}

// Lines are the steps as a table: docs/brief.md, "Over time", --view moves.
func (m *Moves) Lines() result.Lines {
	out := result.Lines{Header: []string{"step", "records"}}
	for _, s := range m.Summaries {
		out.Header = append(out.Header, s.Source.Key)
	}
	for _, step := range m.Steps {
		line := []string{step.Step, strconv.FormatInt(step.Records, 10)}
		for i, v := range step.Values {
			line = append(line, m.Text(i, v))
		}
		out.Rows = append(out.Rows, line)
	}
	return out
}

// Amount is what a step is drawn by: its value of the first sum, else how many records it brings or takes.
func (m *Moves) Amount(step int) exact.Num { return m.AmountOf(m.Steps[step]) }

// AmountOf is Amount of any step, of a group's bridge too.
func (m *Moves) AmountOf(s Move) exact.Num {
	if m.By >= 0 {
		return s.Values[m.By]
	}
	switch s.Step {
	case MoveThen, MoveNow, MoveNew, MoveBack, MoveReopened, MoveFrom:
		return exact.Int(s.Records)
	case MoveSame, MoveGrown, MoveShrunk, MoveRates:
		return exact.Num{}
	}
	if strings.HasPrefix(s.Step, MoveCame) {
		return exact.Int(s.Records)
	}
	return exact.Int(-s.Records)
}
