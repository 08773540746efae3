package engine

import (
	"context"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// sweeper finds out whether a brief's answer on each of many days hangs on nothing but the fields of its own records, so
// that their course is all that is needed, and which fields these are.
type sweeper struct {
	start  *schema.Type
	today  map[string]bool // types whose records are today's in every state
	fields []string
	// rated are the amounts that are converted by which conditions, groups and own fields go.
	rated []*brief.Value
}

func (w *sweeper) need(key string) {
	if !slices.Contains(w.fields, key) {
		w.fields = append(w.fields, key)
	}
}

// value notes what a value reads, and says whether that is all of the record itself.
func (w *sweeper) value(v *brief.Value) bool {
	if v == nil {
		return true
	}
	for _, o := range []*brief.BoundOwn{v.Own, v.Worked} {
		if o == nil {
			continue
		}
		if o.Linked != nil || len(v.Hops) > 0 {
			return false
		}
		if o.Bands != nil {
			return w.value(o.Bands.Of)
		}
		if o.Merge != nil {
			return w.value(o.Merge.Of)
		}
		return !slices.ContainsFunc(o.Refs, func(ref *brief.Value) bool { return !w.value(ref) })
	}
	if v.Level != 0 || v.Brought {
		return false
	}
	if v.Rated != nil {
		w.rated = append(w.rated, v)
		return w.amount(v)
	}
	if len(v.Hops) > 0 { // over what is today's in every state
		for _, h := range v.Hops {
			if !w.today[h.To.Key] {
				return false
			}
		}
		return w.own(v.Hops[0].Field) && !column.TodayDependent(v.Field)
	}
	return w.own(v.Field)
}

// own notes a field of the record itself.
func (w *sweeper) own(f *schema.Field) bool {
	switch {
	case f.Kind == schema.ID || column.TodayDependent(f) || (f.Kind == schema.Link && !w.today[f.To]):
		return false
	case f.Worked == nil:
		w.need(f.Key)
		return true
	}
	switch f.Worked.As {
	case "stage_pipeline", "stage_status", "product", "days":
		for _, key := range f.Worked.Of {
			w.need(key)
		}
		return true
	}
	return false
}

// amount notes an amount of the record itself, with what it is converted by.
func (w *sweeper) amount(v *brief.Value) bool {
	keys := append([]string{v.Rated.Currency}, v.Rated.Dates...)
	if len(v.Hops) > 0 || v.Level != 0 ||
		slices.ContainsFunc(keys, func(k string) bool { return strings.Contains(k, ".") }) {
		return false
	}
	for _, k := range keys {
		w.need(k)
	}
	return w.own(v.Field)
}

func (w *sweeper) cond(c *brief.Cond) bool {
	if c == nil {
		return true
	}
	return c.Op != brief.OnLink && w.value(c.Value) && w.value(c.Other) &&
		!slices.ContainsFunc(c.Kids, func(k *brief.Cond) bool { return !w.cond(k) })
}

// sweeps says whether a brief can be swept.
func (w *sweeper) sweeps(b *brief.Bound, sums []*brief.BoundSummary) bool {
	p := b.Parts[0]
	if b.Brief.Periods == brief.Then || !w.cond(p.Filter) || !w.cond(p.Fixed) {
		return false
	}
	if p.Whose != nil && p.Whose.Word != "everyone" {
		w.need(w.start.Owner)
	}
	if p.Period != nil && !w.value(p.Period.Value) {
		return false
	}
	if len(b.Groups) > 0 && !w.value(b.Groups[0].Values[0]) {
		return false
	}
	for _, s := range b.Summaries {
		// What another summary reads decides which records lack a rate.
		if s.Formula == nil && !slices.Contains(sums, s) && (len(p.Amounts) > 0 || len(p.Where) > 0) {
			return false
		}
	}
	for _, s := range sums {
		if !w.cond(s.Where) || !w.cond(s.Fixed) {
			return false
		}
		if s.Of != nil && s.Of.Rated != nil {
			if !w.amount(s.Of) {
				return false
			}
		} else if !w.value(s.Of) {
			return false
		}
	}
	return true
}

// sweep works all days out at once; it says false where that cannot be, and has added nothing then.
func (s *overSums) sweep(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options) (bool, error) {
	start := b.Parts[0].Start()
	if opts.Sight == nil || opts.Sight.snap != snap {
		opts.Sight = NewSight(snap, opts.Reader, opts.Sees)
	}
	if seen, err := opts.Sight.Rows(start.Key); err != nil || seen != nil || len(s.o.Days) == 0 {
		return false, err
	}
	w := &sweeper{start: start, today: map[string]bool{}}
	if readers := snap.Schema.Readers(); readers != nil {
		w.today[readers.Key] = true
		if readers.Team != "" {
			w.today[readers.Field(readers.Team).To] = true
		}
		if w.today[start.Key] {
			return false, nil
		}
	}
	for typ := range w.today {
		if seen, err := opts.Sight.Rows(typ); err != nil || seen != nil {
			return false, err
		}
	}
	if !w.sweeps(b, s.o.Summaries) {
		return false, nil
	}
	course, err := snap.Over(start.Key, s.o.Days, opts.Today, w.fields)
	if err != nil {
		return false, err
	}
	for _, v := range w.rated {
		if a, err := amountsOf(course, v); err != nil || a != nil {
			return false, err
		}
	}
	amounts := make([]*column.Amounts, len(s.o.Summaries))
	for i, sum := range s.o.Summaries {
		if sum.Of != nil {
			if amounts[i], err = amountsOf(course, sum.Of); err != nil {
				return false, err
			}
		}
	}
	return true, s.goOver(ctx, course, leavingAmounts(b), opts, amounts)
}

func amountsOf(course *column.Course, v *brief.Value) (*column.Amounts, error) {
	if v.Rated == nil {
		return nil, nil
	}
	return course.Amounts(column.Conversion{Type: v.Type.Key, Field: v.Field.Key, Dates: v.Rated.Dates})
}

// leavingAmounts is a brief that leaves amounts as they are: what is added up is converted day by day.
func leavingAmounts(b *brief.Bound) *brief.Bound {
	out, part := *b, *b.Parts[0]
	part.Amounts, part.Where, part.Converts = nil, nil, false
	out.Parts = []*brief.BoundPart{&part}
	out.Summaries = nil
	for _, s := range b.Summaries {
		if s.Of != nil && s.Of.Rated != nil {
			own := *s
			own.Of = s.Of.AsRecorded()
			s = &own
		}
		out.Summaries = append(out.Summaries, s)
	}
	return &out
}

// goOver adds what is found of a course, each row over the days that it stands for.
func (s *overSums) goOver(
	ctx context.Context, course *column.Course, b *brief.Bound, opts Options, amounts []*column.Amounts,
) error {
	part := b.Parts[0]
	opts.Sight = nil
	st := &standing{run: newRun(ctx, course.Snapshot, opts)}
	var err error
	if st.table, err = course.Table(part.Start().Key); err != nil {
		return err
	}
	span := spanOf(course.Cal, part, opts.Today, "")
	if err := st.run.plan(part, span.Now); err != nil {
		return err
	}
	st.run.cheapest()
	crew := make([]captured, workers())
	err = st.run.scan(func(w int, batch *batch) {
		st.run.takeBytes(4*batch.n, "", "the course of the records")
		crew[w].rows[0] = append(crew[w].rows[0], batch.rows[0][:batch.n]...)
	})
	if err != nil {
		return err
	}
	for _, c := range crew {
		st.rows = append(st.rows, c.rows[0]...)
	}
	slices.Sort(st.rows)
	var sums []*brief.BoundSummary
	for _, sum := range b.Summaries {
		if addsUp(sum) {
			sums = append(sums, sum)
		}
	}
	if err := st.add(sums); err != nil {
		return err
	}
	groups, err := s.groupsOf(st, b)
	if err != nil {
		return err
	}
	all := s.of(result.Member{}, AllLine)
	vals := make([]int64, len(sums))
	for i, row := range st.rows {
		st.run.every(i)
		first, last := course.Days(row)
		for k := range vals {
			vals[k] = st.values[k][i]
		}
		abroad := false
		for _, a := range amounts {
			abroad = abroad || (a != nil && a.Foreign(row))
		}
		if !abroad {
			s.add(all, groups, i, func(a *overAdds) { a.stand(first, last, vals) })
			continue
		}
		s.abroad(row, first, last, vals, amounts, func(first, last int, vals []int64) {
			s.add(all, groups, i, func(a *overAdds) { a.stand(first, last, vals) })
		})
	}
	return nil
}

// abroad hands a record with amounts in another currency on for each stretch of days of one rate; days without a rate are
// left out.
func (s *overSums) abroad(
	row int32, first, last int, vals []int64, amounts []*column.Amounts, use func(first, last int, vals []int64),
) {
	own := make([]int64, len(vals))
	rateDay := func(day int) (d int32) {
		for _, a := range amounts {
			if a != nil && a.Foreign(row) {
				d = max(d, a.RateDay(row, s.o.Days[day]))
			}
		}
		return d
	}
	for first <= last {
		day, end := rateDay(first), first
		for end < last && rateDay(end+1) == day {
			end++
		}
		rated := true
		for k, a := range amounts {
			if own[k] = vals[k]; a == nil || !a.Foreign(row) {
				continue
			}
			v, ok := a.At(row, a.RateDay(row, s.o.Days[first]))
			rated = rated && ok
			if vals[k] != 0 { // what does not meet the summary's own condition adds nothing
				own[k] = v
			}
		}
		if rated {
			use(first, end, own)
		}
		first = end + 1
	}
}

// stand adds a record over the days from one to another.
func (a *overAdds) stand(first, last int, vals []int64) {
	a.count[first]++
	a.count[last+1]--
	for k, v := range vals {
		a.sums[k][first].add(v)
		a.sums[k][last+1].add(-v)
	}
}
