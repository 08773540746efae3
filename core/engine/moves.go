package engine

import (
	"context"
	"errors"
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
	// Step is then, new, back, reopened, came:whose, came:period, came:N, grown, shrunk, same, won, lost, went:whose,
	// went:period, went:N, deleted or now.
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
	if m.then, err = stand(ctx, snap, b, opts, since, m.Summaries); err != nil {
		return nil, err
	}
	if m.now, err = stand(ctx, snap, b, opts, asOf, m.Summaries); err != nil {
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

// standing is what a brief finds in the state of a day.
type standing struct {
	run     *run
	table   *column.Table
	found   []bool
	rows    []int32
	values  [][]int64 // by summary, by place in rows
	place   map[int32]int
	list    []narrowing
	sources []*brief.Cond
	status  *node // of a type that has stages
	created *column.Column
	end     int64 // the first second after the day
}

func stand(
	ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options, day int32, sums []*brief.BoundSummary,
) (*standing, error) {
	part := b.Parts[0]
	then, opts, err := onDay(snap, b, opts, day)
	if err != nil {
		return nil, err
	}
	s := &standing{run: newRun(ctx, then, opts), end: snap.Cal.StartOf(day + 1), sources: narrowingConds(part)}
	if s.table, err = then.Table(part.Start().Key); err != nil {
		return nil, err
	}
	span := spanOf(snap.Cal, part, opts.Today, "")
	if err := s.run.plan(part, span.Now); err != nil {
		return nil, err
	}
	if s.list, err = s.run.narrowings(part, span.Now); err != nil {
		return nil, err
	}
	s.run.cheapest()
	crew := make([]captured, workers())
	err = s.run.scan(func(w int, batch *batch) {
		s.run.takeBytes(4*batch.n, "", "the records that moved")
		crew[w].rows[0] = append(crew[w].rows[0], batch.rows[0][:batch.n]...)
	})
	if err != nil {
		return nil, err
	}
	for _, c := range crew {
		s.rows = append(s.rows, c.rows[0]...)
	}
	slices.Sort(s.rows)
	s.found, s.place = make([]bool, s.table.N), make(map[int32]int, len(s.rows))
	for i, row := range s.rows {
		s.found[row], s.place[row] = true, i
	}
	if f := part.Start().Field("created"); f != nil {
		if s.created, err = then.Column(part.Start().Key, f.Key); err != nil {
			return nil, err
		}
	}
	if err := s.statusOf(part.Start()); err != nil {
		return nil, err
	}
	return s, s.add(sums)
}

// statusOf plans the status of records of a type that has stages.
func (s *standing) statusOf(t *schema.Type) (err error) {
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Worked != nil && f.Worked.As == "stage_status" {
			s.status, err = s.run.value(&brief.Value{Text: f.Key, Kind: f.Kind, Type: t, Field: f})
			return err
		}
	}
	return nil
}

// each hands rows out in batches, with the place of the first.
func (s *standing) each(rows []int32, use func(first int, b *batch)) {
	p := &pool{}
	for first := 0; first < len(rows); first += batchSize {
		s.run.poll()
		b := &batch{n: min(batchSize, len(rows)-first), pool: p}
		b.rows[0] = slices.Clone(rows[first : first+b.n])
		use(first, b)
	}
}

// add reads what each record that is found adds to each summary.
func (s *standing) add(sums []*brief.BoundSummary) error {
	for _, sum := range sums {
		t, err := s.run.tally(sum, true)
		if err != nil {
			return err
		}
		s.run.takeBytes(8*len(s.rows), "", "the records that moved")
		list := make([]int64, len(s.rows))
		s.each(s.rows, func(first int, b *batch) {
			out := list[first : first+b.n]
			for i := range out {
				out[i] = 1
			}
			if t.of != nil {
				t.of.eval(b, out)
			}
			marks := t.marks(b)
			for i, v := range out {
				if v == column.Null || (marks != nil && !marks[i]) {
					out[i] = 0
				}
			}
		})
		s.values = append(s.values, list)
	}
	return nil
}

// value is what a record adds to a summary; nothing where it is not found.
func (s *standing) value(sum int, row int32) int64 {
	if row < 0 || !s.found[row] {
		return 0
	}
	return s.values[sum][s.place[row]]
}

// lacks says for each of some rows the first condition, by its place, that they do not meet: −1 where there is none.
func (s *standing) lacks(rows []int32) []int {
	out := make([]int, len(rows))
	for i := range out {
		out[i] = -1
	}
	marks := make([]bool, batchSize)
	for k, n := range s.list {
		s.each(rows, func(first int, b *batch) {
			n.cond.mark(b, marks[:b.n])
			for i, met := range marks[:b.n] {
				if !met && out[first+i] < 0 {
					out[first+i] = k
				}
			}
		})
	}
	return out
}

// statuses are those of some rows, "" where there is none.
func (s *standing) statuses(rows []int32) []string {
	out := make([]string, len(rows))
	if s.status == nil {
		return out
	}
	vals := make([]int64, batchSize)
	s.each(rows, func(first int, b *batch) {
		s.status.eval(b, vals[:b.n])
		for i, v := range vals[:b.n] {
			if v != column.Null {
				out[first+i] = s.status.dict.values[v]
			}
		}
	})
	return out
}

// staged says whether a condition is on the record's own stage, or on what follows from it.
func staged(c *brief.Cond) bool {
	if c == nil || c.Op != brief.OnField || c.Value == nil || c.Value.Field == nil || len(c.Value.Hops) > 0 {
		return false
	}
	f := c.Value.Field
	return f.Stages || (f.Worked != nil && strings.HasPrefix(f.Worked.As, "stage_"))
}

// named is the name of a step by a condition: whose, period, or the number of a condition of the filter.
func (s *standing) named(k int) string {
	switch what := s.list[k].what; what {
	case "whose", "period":
		return what
	}
	n := 1
	for _, before := range s.list[:k] {
		if before.what == "filter" {
			n++
		}
	}
	return strconv.Itoa(n)
}

// tell puts each record into its step.
func (m *Moves) tell() {
	steps := map[string][]pair{}
	then, now := m.then, m.now
	var came, went []pair // by rows of the state in which they are not found, which they are in
	for _, row := range now.rows {
		switch was := now.table.IDs.In(then.table.IDs, row); {
		case was >= 0 && then.found[was]:
			steps[m.grew(was, row)] = append(steps[m.grew(was, row)], pair{was, row})
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
		case row >= 0 && now.found[row]:
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

func (s *standing) name(k int) string {
	if k < 0 {
		return "1" // what the reader does not see of it
	}
	return s.named(k)
}

// sort puts records that a state has and does not find into steps, by the first condition that they do not meet there.
func (s *standing) sort(
	list []pair, row func(pair) int32, step func(k int, status string) string, steps map[string][]pair,
) {
	rows := make([]int32, len(list))
	for i, p := range list {
		rows[i] = row(p)
	}
	statuses := s.statuses(rows)
	for i, k := range s.lacks(rows) {
		name := step(k, statuses[i])
		steps[name] = append(steps[name], list[i])
	}
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

// stepsInOrder are the names of steps in the order of docs/brief.md.
func stepsInOrder(steps map[string][]pair) []string {
	rank := func(name string) (int, int) {
		of := []string{
			MoveNew, MoveBack, MoveReopened, MoveCame, MoveGrown, MoveShrunk, MoveSame, MoveWon, MoveLost, MoveWent, MoveDeleted,
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
				case err != nil:
					n = -1
				}
				return i, n
			}
		}
		return len(of), 0
	}
	var names []string
	for name := range steps {
		names = append(names, name)
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

// Moved is one record of a step: what it added to each summary then and adds now, and what it had and has of what put it
// into the step, where that is one field.
type Moved struct {
	ID, Name  string
	Then, Now []exact.Num // nil where the brief did not find it
	Was, Is   string
}

// Decides is the value that puts records into a step: the field of the period, of a condition, of whose; of those that
// grew or shrunk, what the summary adds up. It is nil where no one field does.
func (m *Moves) Decides(step string) *brief.Value {
	part := m.now.run.part
	t := part.Start()
	field := func(key string) *brief.Value {
		f := t.Field(key)
		if f == nil {
			return nil
		}
		return &brief.Value{
			Text:  f.Key,
			Label: f.Label,
			Kind:  f.Kind,
			To:    f.To,
			Scale: column.Scale(f.Kind),
			Type:  t,
			Field: f,
		}
	}
	_, by, _ := strings.Cut(step, ":")
	switch {
	case step == MoveReopened || step == MoveWon || step == MoveLost:
		for i := range t.Fields {
			if t.Fields[i].Stages {
				return field(t.Fields[i].Key)
			}
		}
	case (step == MoveGrown || step == MoveShrunk) && m.By >= 0:
		return m.Summaries[m.By].Of
	case by == "whose":
		return field(t.Owner)
	case by == "period" && part.Period != nil:
		return part.Period.Value
	case by != "":
		for k, n := range m.now.list {
			if n.what == "filter" && m.now.named(k) == by {
				if c := m.now.sources[k]; c != nil && c.Op == brief.OnField && c.Value.Level == 0 {
					return c.Value
				}
			}
		}
	}
	return nil
}

// had is what a record had in a state of what decides, "" where it was not there.
func (s *standing) had(row int32, v *brief.Value) (string, error) {
	if row < 0 || v == nil {
		return "", nil
	}
	list, err := s.run.read1(row, v)
	if err != nil || len(list) == 0 {
		return "", err
	}
	return list[0].Text, nil
}

// ErrNoStep says that there is no such step among what moved.
var ErrNoStep = errors.New("there is no such step")

// Records lists the records of a step, those that change the result most first, from one place up to another, and says
// how many there are. It goes on with the budget and the time of RunMoves.
func (m *Moves) Records(step string, from, to int) (list []Moved, n int, err error) {
	defer whole(&err)
	at := slices.IndexFunc(m.Steps, func(s Move) bool { return s.Step == step })
	if at < 0 {
		return nil, 0, ErrNoStep
	}
	rows := slices.Clone(m.Steps[at].rows)
	if m.By >= 0 {
		change := func(p pair) int64 {
			d := m.now.value(m.By, p.now) - m.then.value(m.By, p.then)
			return max(d, -d)
		}
		slices.SortStableFunc(rows, func(a, b pair) int {
			switch ca, cb := change(a), change(b); {
			case ca > cb:
				return -1
			case ca < cb:
				return 1
			}
			return 0
		})
	}
	from, to = max(0, min(from, len(rows))), max(0, min(to, len(rows)))
	typ, decides := m.now.table.Type.Key, m.Decides(step)
	for _, p := range rows[from:max(from, to)] {
		var one Moved
		if p.now >= 0 {
			one.ID, one.Name = m.now.table.IDs.At(p.now), m.now.run.snap.Name(typ, p.now)
		} else {
			one.ID, one.Name = m.then.table.IDs.At(p.then), m.then.run.snap.Name(typ, p.then)
		}
		if one.Was, err = m.then.had(p.then, decides); err != nil {
			return nil, 0, err
		}
		if one.Is, err = m.now.had(p.now, decides); err != nil {
			return nil, 0, err
		}
		for i, s := range m.Summaries {
			if p.then >= 0 && m.then.found[p.then] {
				one.Then = append(one.Then, exact.Frac(m.then.value(i, p.then), s.Scale))
			}
			if p.now >= 0 && m.now.found[p.now] {
				one.Now = append(one.Now, exact.Frac(m.now.value(i, p.now), s.Scale))
			}
		}
		list = append(list, one)
	}
	return list, len(rows), nil
}

// Amount is what a step is drawn by: its value of the first sum, else how many records it brings or takes.
func (m *Moves) Amount(step int) exact.Num {
	s := m.Steps[step]
	if m.By >= 0 {
		return s.Values[m.By]
	}
	switch s.Step {
	case MoveThen, MoveNow, MoveNew, MoveBack, MoveReopened:
		return exact.Int(s.Records)
	case MoveSame, MoveGrown, MoveShrunk:
		return exact.Num{}
	}
	if strings.HasPrefix(s.Step, MoveCame) {
		return exact.Int(s.Records)
	}
	return exact.Int(-s.Records)
}
