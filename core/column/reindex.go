package column

import (
	"fmt"
	"maps"
	"slices"

	"uzzel/core/schema"
)

// A record that is taken away, or brought back, moves the rows of all that come after it, and links that lead to them.

// reindexed is where the rows of a table went.
type reindexed struct {
	was   *IDs             // as the rows were
	order []int32          // by row: which one it was; −1 for one that was brought back
	to    []int32          // by the row that it was: the row that it is, −1 where it is gone
	back  map[int32]Edit   // what was brought back, by row
	rows  map[string]int32 // and by id
	first int32            // the first row that moved
}

// reindex takes records away and brings others back, in all tables that are loaded.
func (a *applier) reindex() error {
	moved := map[string]*reindexed{}
	for typ := range a.gone {
		moved[typ] = nil
	}
	for typ := range a.back {
		moved[typ] = nil
	}
	for typ := range moved {
		t := a.loaded(typ)
		m, err := a.places(t)
		if err != nil {
			return fmt.Errorf("%s: %w", typ, err)
		}
		moved[typ] = m
		for i := range t.Type.Fields { // their links lead to where they led
			if err := a.reorder(t, i, m); err != nil {
				return fmt.Errorf("%s.%s: %w", typ, t.Type.Fields[i].Key, err)
			}
		}
		t.N = len(m.order)
		t.converted, t.links = nil, map[int]*links{}
	}
	for _, typ := range a.was.Schema.Types {
		a.relink(typ, moved)
	}
	for typ, m := range moved {
		if err := a.linkBack(a.tables[typ], m); err != nil {
			return fmt.Errorf("%s: %w", typ, err)
		}
	}
	a.next.bin = nil
	return nil
}

// linkBack gives records that were brought back their links, by the rows that there are now, and what is worked out of each.
func (a *applier) linkBack(t *Table, m *reindexed) error {
	for _, worked := range []bool{false, true} {
		for i := range t.Type.Fields {
			f := &t.Type.Fields[i]
			if t.cols[i] == nil || (f.Worked != nil) != worked || (!worked && f.Kind != schema.Link) || len(m.back) == 0 {
				continue
			}
			c := t.cols[i].open()
			t.cols[i] = c
			for row, e := range m.back {
				if worked {
					v, err := a.workOne(t, f, row)
					if err != nil {
						return err
					}
					c.Ints.set(row, v)
					continue
				}
				text := e.Values[f.Key]
				v, err := a.inner(c, text)
				if err != nil {
					return err
				}
				c.Ints.set(row, v)
				if v == Null && text != "" {
					if c.lost == nil {
						c.lost = map[int32]string{}
					}
					c.lost[row] = text
				}
			}
		}
	}
	return nil
}

// places says where the rows of a table go.
func (a *applier) places(t *Table) (*reindexed, error) {
	if t.IDs.texts != nil {
		return nil, fmt.Errorf("ids are not whole numbers")
	}
	gone, back := a.gone[t.Type.Key], a.back[t.Type.Key]
	ids := make([]int64, len(back))
	for i, e := range back {
		id, ok := plainInt(e.ID)
		if !ok {
			return nil, fmt.Errorf("%q is no whole number", e.ID)
		}
		ids[i] = id
	}
	m := &reindexed{was: t.IDs, to: make([]int32, t.N), back: map[int32]Edit{}, rows: map[string]int32{}}
	nums := make([]int64, 0, t.N+len(back))
	byID := make([]int, len(back))
	for i := range byID {
		byID[i] = i
	}
	slices.SortFunc(byID, func(x, y int) int { return int(max(-1, min(1, ids[x]-ids[y]))) })
	put := func(before int64, all bool) error {
		for len(byID) > 0 && (all || ids[byID[0]] <= before) {
			i := byID[0]
			if byID = byID[1:]; !all && ids[i] == before || (len(nums) > 0 && nums[len(nums)-1] == ids[i]) {
				return fmt.Errorf("%s is there already", back[i].ID)
			}
			row := int32(len(nums))
			m.back[row], m.rows[back[i].ID] = back[i], row
			nums, m.order = append(nums, ids[i]), append(m.order, -1)
		}
		return nil
	}
	for row, id := range t.IDs.nums {
		if err := put(id, false); err != nil {
			return nil, err
		}
		if m.to[row] = -1; gone[int32(row)] {
			continue
		}
		m.to[row] = int32(len(nums))
		nums, m.order = append(nums, id), append(m.order, int32(row))
	}
	if err := put(0, true); err != nil {
		return nil, err
	}
	t.IDs = &IDs{nums: nums}
	for int(m.first) < len(m.to) && m.to[m.first] == m.first {
		m.first++
	}
	return m, nil
}

// reorder gives a column of a table the rows that it has now. Where its links lead is as it was.
func (a *applier) reorder(t *Table, i int, m *reindexed) error {
	f := &t.Type.Fields[i]
	if f.Kind == schema.ID {
		return nil
	}
	if f.Worked != nil && f.Worked.As != "product" && f.Worked.As != "days" &&
		(f.Worked.As != "since" || len(m.back) > 0) {
		t.cols[i] = nil // worked out anew when it is asked for
		return nil
	}
	c := t.cols[i]
	if c == nil && f.Worked != nil {
		return nil
	}
	if c == nil { // links are turned into rows
		var err error
		if c, err = a.was.Column(t.Type.Key, f.Key); err != nil {
			return err
		}
	}
	next := &Column{Kind: c.Kind, Dict: c.Dict, To: c.To, cal: c.cal, lost: map[int32]string{}}
	next.Ints = c.Ints.picked(m.order)
	c.mu.Lock()
	if c.days != nil {
		next.days = c.days.picked(m.order)
	}
	c.mu.Unlock()
	for row, id := range c.lost {
		if to := m.to[row]; to >= 0 {
			next.lost[to] = id
		}
	}
	if f.Worked == nil && f.Kind != schema.Link {
		next = next.open()
		for row, e := range m.back {
			v, err := a.inner(next, e.Values[f.Key])
			if err != nil {
				return err
			}
			next.Ints.set(row, v)
			if next.days != nil && v != Null {
				next.days.set(row, int64(next.cal.DayOf(v)))
			}
		}
	}
	if len(next.lost) == 0 {
		next.lost = nil
	}
	t.cols[i] = next
	return nil
}

// picked are the values of rows one after the other; −1 is an empty one. Where the first rows stay where they are, their
// chunks are shared.
func (s *Ints) picked(rows []int32) *Ints {
	kept := 0
	for kept < len(rows) && rows[kept] == int32(kept) {
		kept++
	}
	out := s.begin(kept >> shift)
	buf := make([]int64, chunkSize)
	for rows = rows[out.Len():]; len(rows) > 0; {
		n := 1
		for n < min(chunkSize, len(rows)) && rows[n] == rows[n-1]+1 {
			n++
		}
		if part := buf[:n]; rows[0] < 0 {
			n, buf[0] = 1, Null
			out.Append(Null)
		} else {
			s.Run(rows[0], part)
			out.Extend(part)
		}
		rows = rows[n:]
	}
	return out
}

// relink has the links of a loaded table lead to where the rows of tables went. What leads to a record that is gone leads
// nowhere, and to one that is back leads there again.
func (a *applier) relink(typ *schema.Type, moved map[string]*reindexed) {
	touched := moved[typ.Key] != nil
	for _, b := range typ.Backs {
		touched = touched || moved[b.Type] != nil
	}
	for i := range typ.Fields {
		touched = touched || (typ.Fields[i].Kind == schema.Link && moved[typ.Fields[i].To] != nil)
	}
	if !touched {
		return
	}
	t := a.loaded(typ.Key)
	if t == nil {
		return
	}
	a.forgetLinks(t)
	t.converted = nil
	for i := range t.Type.Fields {
		f := &t.Type.Fields[i]
		m := moved[f.To]
		if f.Kind != schema.Link || m == nil {
			continue
		}
		if c := t.cols[i]; f.Worked != nil || c == nil {
			t.cols[i] = nil
		} else {
			t.cols[i] = c.relinked(m)
		}
	}
}

// relinked is a column of links to where the rows that they lead to went, open.
func (c *Column) relinked(m *reindexed) *Column {
	lost := map[int32]string{}
	maps.Copy(lost, c.lost)
	next := c.open()
	next.lost = lost
	buf := make([]int64, chunkSize)
	for first, n := 0, c.Ints.Len(); first < n; first += chunkSize {
		part := buf[:min(chunkSize, n-first)]
		c.Ints.Run(int32(first), part)
		for k, v := range part {
			if v < int64(m.first) { // also of none
				continue
			}
			row, to := int32(first+k), m.to[v]
			if to >= 0 {
				next.Ints.set(row, int64(to))
				continue
			}
			next.Ints.set(row, Null)
			next.lost[row] = m.was.At(int32(v))
		}
	}
	for row, id := range next.lost {
		if to, back := m.rows[id]; back {
			next.Ints.set(row, int64(to))
			delete(next.lost, row)
		}
	}
	if len(next.lost) == 0 {
		next.lost = nil
	}
	return next
}
