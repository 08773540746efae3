package engine

import (
	"context"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
)

// standing is what a brief finds in the state of a day.
type standing struct {
	run     *run
	table   *column.Table
	rows    []int32
	values  [][]int64  // by summary, by place in rows
	raw     []recorded // by place in rows: the amount by which records grow or shrink; nil where it is not converted
	place   []int32    // by row of the table: where it stands in rows, −1 where it is not found
	list    []narrowing
	sources []*brief.Cond
	status  *node // of a type that has stages
	created *column.Column
	end     int64 // the first second after the day
}

// stand finds what a brief finds in the state of a day, and what each record adds to some summaries; by is the one by which
// records grow or shrink, −1 where there is none.
func stand(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	day int32,
	sums []*brief.BoundSummary,
	by int,
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
	s.place = make([]int32, s.table.N)
	for row := range s.place {
		s.place[row] = -1
	}
	for i, row := range s.rows {
		s.place[row] = int32(i)
	}
	if f := part.Start().Field("created"); f != nil {
		if s.created, err = then.Column(part.Start().Key, f.Key); err != nil {
			return nil, err
		}
	}
	if err := s.statusOf(part.Start()); err != nil {
		return nil, err
	}
	if err := s.add(sums); err != nil || by < 0 {
		return s, err
	}
	return s, s.asRecorded(sums[by])
}

// recorded is an amount as a record has it.
type recorded struct{ amount, currency int64 }

// asRecorded reads the amounts that a summary adds up as the records have them, where they are converted.
func (s *standing) asRecorded(sum *brief.BoundSummary) error {
	if sum.Kind != schema.Money {
		return nil
	}
	own, err := s.run.foreign(sum.Of)
	if err != nil || own == nil {
		return err
	}
	s.run.takeBytes(24*len(s.rows), "", "the records that moved")
	s.raw = make([]recorded, len(s.rows))
	a, c := make([]int64, batchSize), make([]int64, batchSize)
	s.each(s.rows, func(first int, batch *batch) {
		own.amounts.eval(batch, a[:batch.n])
		own.currencies.eval(batch, c[:batch.n])
		for i := range batch.n {
			s.raw[first+i] = recorded{a[i], c[i]}
		}
	})
	return nil
}

// records is the amount of a row as it is recorded. Where that is not read no two are the same.
func (s *standing) records(row int32) recorded {
	if s.raw == nil {
		return recorded{amount: int64(row), currency: s.end}
	}
	return s.raw[s.place[row]]
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

// finds says whether a row is there and found.
func (s *standing) finds(row int32) bool { return row >= 0 && s.place[row] >= 0 }

// value is what a record adds to a summary; nothing where it is not found.
func (s *standing) value(sum int, row int32) int64 {
	if !s.finds(row) {
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

// name is the name of a step by a condition: whose, period, or the number of a condition of the filter, which is the
// first where there is none that the reader sees.
func (s *standing) name(k int) string {
	if k < 0 {
		return "1"
	}
	switch what := s.list[k].what; what {
	case "whose", "period", "rates":
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
