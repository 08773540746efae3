package column

import (
	"errors"
	"fmt"
	"slices"
	"sync"

	"uzzel/core/schema"
)

// Course is the records of a type over some days, as a table of its own: each record stands in it once for each stretch of
// days over which it was the same. It is what states of many days are asked of at once (docs/brief.md, "Over time").
type Course struct {
	*Snapshot
	first, last []int16
}

// Days are the first and the last of the days, by their place, at whose ends the record of a row was so.
func (c *Course) Days(row int32) (first, last int) { return int(c.first[row]), int(c.last[row]) }

// maxCourse is how many days a course can have.
const maxCourse = 1000

// turn is one change of a record that counts over the days.
type turn struct {
	at    int64
	order int32 // among those of one moment
	was   int64 // code of the history's values
	place int16 // of the first day that ends after it
	field int16
}

// Over makes the course of the records of a type over days that rise, with some fields, of those that people write. Links
// lead to records of today. today is the day on which records are as they are now.
func (s *Snapshot) Over(typ string, days []int32, today int32, fields []string) (*Course, error) {
	if s.whole != nil {
		c, err := s.whole.Over(typ, days, today, fields)
		if err != nil {
			return nil, err
		}
		return &Course{&Snapshot{Schema: s.Schema, Cal: s.Cal, whole: c.Snapshot}, c.first, c.last}, nil
	}
	if s.past != nil || len(days) == 0 || len(days) > maxCourse {
		return nil, fmt.Errorf("a course is of 1 to %d days, from the records of today", maxCourse)
	}
	now, err := s.Table(typ)
	if err != nil {
		return nil, err
	}
	gone, err := s.Deleted(typ)
	if err != nil {
		return nil, err
	}
	m := &courser{snap: s, now: now, gone: gone, fields: fields, ends: make([]int64, len(days))}
	for i, d := range days {
		if m.ends[i] = s.Cal.StartOf(d + 1); d == today {
			m.ends[i] = 1 << 62
		}
	}
	if gone != nil {
		for row := range int32(gone.N) {
			if now.IDs.Row(gone.IDs.At(row)) < 0 {
				m.extra = append(m.extra, row)
			}
		}
	}
	if err := m.read(); err != nil {
		return nil, err
	}
	if err := m.stretches(); err != nil {
		return nil, err
	}
	t := &Table{Type: now.Type, N: len(m.base), IDs: &IDs{}, many: map[string]*Many{}, links: map[int]*links{},
		cols: make([]*Column, len(now.Type.Fields))}
	var wg sync.WaitGroup
	failed := make([]error, len(fields))
	for k, key := range fields {
		i := now.Type.Place(key)
		if i < 0 {
			return nil, fmt.Errorf("%s has no field %q", typ, key)
		}
		wg.Go(func() { t.cols[i], failed[k] = m.column(i, k) })
	}
	wg.Wait()
	if err := errors.Join(failed...); err != nil {
		return nil, err
	}
	next := s.shared()
	next.tables[typ] = &loading{table: t}
	return &Course{next, m.first, m.last}, nil
}

// courser makes a course. Records are those of now, then those that were deleted since.
type courser struct {
	snap      *Snapshot
	now, gone *Table
	extra     []int32 // rows of gone
	fields    []string
	ends      []int64 // the first second after each day

	turns []turn  // by record, in time
	off   []int32 // where those of a record begin
	was   *Dict

	base        []int32 // by row of the course: the record
	first, last []int16
	over        [][]valueAt // by field: the values, as codes, that rows of the course have otherwise than their record
}

// read collects the changes of the fields that came after the first day, by record and in time.
func (m *courser) read() error {
	n := m.now.N + len(m.extra)
	m.off = make([]int32, n+2)
	h := m.snap.Schema.History()
	if h == nil {
		return nil
	}
	table, err := m.snap.Table(h.Key)
	if err != nil {
		return err
	}
	var cols [5]*Column
	var vals [5][]int64
	for i, key := range []string{"at", schema.HistoryType, schema.HistoryRecord, schema.HistoryField, "from"} {
		if cols[i], err = m.snap.Column(h.Key, key); err != nil {
			return err
		}
		vals[i] = make([]int64, chunkSize)
	}
	m.was = cols[4].Dict
	typ := cols[1].Dict.known(m.now.Type.Key)
	places := map[int64]int16{}
	for i, f := range append(slices.Clone(m.fields), HistoryDeleted) {
		if code := cols[3].Dict.known(f); code >= 0 {
			places[code] = int16(i)
		}
	}
	moved, err := m.snap.movedChanges(table, cols[2].Dict)
	if err != nil {
		return err
	}
	ids := cols[2].Dict.Values()
	record := make([]int32, len(ids)) // by code: the record + 1, 0 for not looked up, −1 for none
	var of []int32
	var list []turn
	marks := make([]bool, chunkSize)
	for first := 0; first < table.N; first += chunkSize {
		some := marks[:min(chunkSize, table.N-first)]
		cols[0].Within(int32(first), m.ends[0], 1<<62, some)
		if !slices.Contains(some, true) {
			continue
		}
		for i, c := range cols {
			c.Run(int32(first), vals[i][:len(some)])
		}
		for i, since := range some {
			code := vals[2][i]
			if to, ok := moved[int32(first+i)]; ok {
				code = to
			}
			if !since || vals[1][i] != typ || code == Null {
				continue
			}
			field, ok := places[vals[3][i]]
			if !ok {
				continue
			}
			if int(code) >= len(record) { // a merged one that the history had not
				continue
			}
			if record[code] == 0 {
				record[code] = m.recordOf(ids[code]) + 1
				if record[code] == 0 {
					record[code] = -1
				}
			}
			if record[code] < 0 {
				continue
			}
			at := vals[0][i]
			place, _ := slices.BinarySearchFunc(m.ends, at, func(end, at int64) int {
				if end > at {
					return 1
				}
				return -1
			})
			of = append(of, record[code]-1)
			list = append(list, turn{at, int32(first + i), vals[4][i], int16(place), field})
			m.off[record[code]]++
		}
	}
	for i := 1; i < len(m.off); i++ {
		m.off[i] += m.off[i-1]
	}
	m.turns = make([]turn, len(list))
	next := slices.Clone(m.off)
	for i, r := range of {
		m.turns[next[r]] = list[i]
		next[r]++
	}
	for r := range n {
		part := m.turns[m.off[r]:m.off[r+1]]
		if !slices.IsSortedFunc(part, inTime) {
			slices.SortFunc(part, inTime)
		}
	}
	return nil
}

func inTime(a, b turn) int {
	switch {
	case a.at != b.at && a.at < b.at:
		return -1
	case a.at != b.at:
		return 1
	}
	return int(a.order - b.order)
}

// recordOf finds a record by its id, −1 for none.
func (m *courser) recordOf(id string) int32 {
	if row := m.now.IDs.Row(id); row >= 0 {
		return row
	}
	if m.gone == nil {
		return -1
	}
	row := m.gone.IDs.Row(id)
	if at, ok := slices.BinarySearch(m.extra, row); ok {
		return int32(m.now.N + at)
	}
	return -1
}

// created says when each record was made, Null where that is not known.
func (m *courser) created() ([]int64, error) {
	out := make([]int64, m.now.N+len(m.extra))
	i := m.now.Type.Place("created")
	if i < 0 {
		for k := range out {
			out[k] = Null
		}
		return out, nil
	}
	c, err := m.snap.Column(m.now.Type.Key, "created")
	if err != nil {
		return nil, err
	}
	c.Run(0, out[:m.now.N])
	for k, row := range m.extra {
		out[m.now.N+k] = m.gone.cols[i].At(row)
	}
	return out, nil
}

// stretches lays the records out by the days over which they were the same, where they were there.
func (m *courser) stretches() error {
	made, err := m.created()
	if err != nil {
		return err
	}
	m.over = make([][]valueAt, len(m.fields))
	deleted, yes := int16(len(m.fields)), int64(-1)
	if m.was != nil {
		yes = m.was.known("true")
	}
	n := int16(len(m.ends))
	for r := range made {
		start := int16(0)
		for start < n && made[r] != Null && made[r] >= m.ends[start] {
			start++
		}
		part := m.turns[m.off[r]:m.off[r+1]]
		for lo, k := int16(0), 0; lo < n; {
			// Up to the day before the next change; those after it say what was.
			for k < len(part) && part[k].place <= lo {
				k++
			}
			hi := n - 1
			if k < len(part) {
				hi = min(hi, part[k].place-1)
			}
			there := r < m.now.N
			for _, c := range part[k:] {
				if c.field == deleted {
					there = c.was != yes
					break
				}
			}
			if from := max(lo, start); there && from <= hi {
				m.add(int32(r), from, hi, part[k:])
			}
			lo = hi + 1
		}
	}
	return nil
}

// add adds a row to the course, with what the changes after it say that it had.
func (m *courser) add(record int32, first, last int16, after []turn) {
	row := int32(len(m.base))
	m.base, m.first, m.last = append(m.base, record), append(m.first, first), append(m.last, last)
	for k := range after {
		c := &after[k]
		if int(c.field) < len(m.over) && !slices.ContainsFunc(after[:k], func(b turn) bool { return b.field == c.field }) {
			m.over[c.field] = append(m.over[c.field], valueAt{row, c.was})
		}
	}
}

// column makes the column of a field: the record's own values, but for those that its history gives back.
func (m *courser) column(i, k int) (*Column, error) {
	f := &m.now.Type.Fields[i]
	now, err := m.snap.Column(m.now.Type.Key, f.Key)
	if err != nil {
		return nil, err
	}
	var to *Table
	if f.Kind == schema.Link {
		if to, err = m.snap.Table(f.To); err != nil {
			return nil, err
		}
	}
	var gone []int64
	if len(m.extra) > 0 {
		gone = goneValues(m.gone, i, now.Dict, to)
	}
	c := &Column{Kind: now.Kind, To: now.To, Dict: now.Dict, cal: now.cal, Ints: NewInts(now.Ints.unit)}
	vals, rows := make([]int64, chunkSize), make([]int32, chunkSize)
	read, next := map[int64]int64{}, 0
	for first := 0; first < len(m.base); first += chunkSize {
		part := vals[:min(chunkSize, len(m.base)-first)]
		from := rows[:len(part)]
		for k, r := range m.base[first : first+len(part)] {
			if from[k] = r; int(r) >= m.now.N {
				from[k] = -1
			}
		}
		now.Gather(from, part)
		for k, r := range from {
			if r < 0 {
				part[k] = gone[m.extra[int(m.base[first+k])-m.now.N]]
			}
		}
		for ; next < len(m.over[k]) && m.over[k][next].row < int32(first+len(part)); next++ {
			w := m.over[k][next]
			v, ok := read[w.value]
			if !ok {
				text := ""
				if w.value != Null {
					text = m.was.Values()[w.value]
				}
				if v, err = m.snap.wasValue(f, now, to, text); err != nil {
					return nil, fmt.Errorf("the history of %s of %s: %w", f.Key, m.now.Type.Key, err)
				}
				read[w.value] = v
			}
			part[w.row-int32(first)] = v
		}
		c.Ints.Extend(part)
	}
	return c, nil
}

// wasValue reads a value that the history tells of.
func (s *Snapshot) wasValue(f *schema.Field, now *Column, to *Table, text string) (int64, error) {
	switch {
	case text == "":
		return Null, nil
	case to != nil:
		return rowOrNull(to, text), nil
	case now.Dict != nil:
		return int64(now.Dict.Code(text)), nil
	}
	return Parse(f.Kind, text, s.Cal)
}
