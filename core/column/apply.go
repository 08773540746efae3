package column

import (
	"fmt"
	"maps"

	"uzzel/core/schema"
)

// Edit is a record that was written: its new values in their CSV form, by field. A new record's id comes after all that
// there are. One that is gone was taken away; one that is back is there again, with all its values.
type Edit struct {
	Type   string
	ID     string
	New    bool
	Gone   bool
	Back   bool
	Values map[string]string
}

// Apply gives a snapshot with edits made. It shares with this one every chunk of every column that the edits leave
// alone; this one does not change, and runs that read it go on. Tables that are not loaded yet stay so: they will be
// read with the edits in them.
func (s *Snapshot) Apply(edits []Edit) (*Snapshot, error) {
	a := &applier{
		was: s, next: s.shared(), tables: map[string]*Table{}, many: len(edits) > manyEdits,
		gone: map[string]map[int32]bool{}, back: map[string][]Edit{},
	}
	for _, e := range edits {
		if err := a.edit(e); err != nil {
			return nil, fmt.Errorf("%s %s: %w", e.Type, e.ID, err)
		}
	}
	moved := len(a.gone)+len(a.back) > 0
	if moved {
		if err := a.reindex(); err != nil {
			return nil, err
		}
	}
	for key, t := range a.tables {
		for _, c := range t.cols {
			c.seal()
		}
		a.next.tables[key] = &loading{table: t}
	}
	if !moved {
		a.next.then = s.carried(edits)
	}
	return a.next, nil
}

// manyEdits are from how many edits on it is quicker to convert all amounts anew than those of each record.
const manyEdits = 64

type applier struct {
	was, next *Snapshot
	tables    map[string]*Table // those changed so far
	many      bool

	gone map[string]map[int32]bool // rows that are taken away, by type
	back map[string][]Edit         // records that are brought back, by type
}

// loaded is a changeable copy of a table, nil where the table is not loaded.
func (a *applier) loaded(key string) *Table {
	if t := a.tables[key]; t != nil {
		return t
	}
	a.was.mu.Lock()
	l := a.was.tables[key]
	a.was.mu.Unlock()
	if l == nil {
		return nil
	}
	l.mu.Lock() // waits for a load that is under way
	was := l.table
	l.mu.Unlock()
	if was == nil {
		delete(a.next.tables, key)
		return nil
	}
	was.mu.Lock()
	defer was.mu.Unlock()
	t := &Table{
		Type:  was.Type,
		N:     was.N,
		IDs:   was.IDs,
		cols:  append([]*Column{}, was.cols...),
		many:  map[string]*Many{},
		links: map[int]*links{},
	}
	for k, m := range was.many {
		t.many[k] = m
	}
	for k, l := range was.links {
		t.links[k] = l
	}
	if !a.many {
		t.converted = maps.Clone(was.converted)
	}
	a.tables[key] = t
	return t
}

func (a *applier) edit(e Edit) error {
	t := a.loaded(e.Type)
	if t == nil {
		return nil
	}
	row := t.IDs.Row(e.ID)
	switch {
	case e.Back:
		a.back[e.Type] = append(a.back[e.Type], e)
		return nil
	case e.Gone && row >= 0:
		if a.gone[e.Type] == nil {
			a.gone[e.Type] = map[int32]bool{}
		}
		a.gone[e.Type][row] = true
		return nil
	case e.New && row < 0:
		if t.IDs.texts != nil {
			return fmt.Errorf("new records need ids that are whole numbers")
		}
		n, ok := plainInt(e.ID)
		if !ok || (t.N > 0 && n <= t.IDs.nums[t.N-1]) {
			return fmt.Errorf("the id of a new record comes after all others")
		}
		row = int32(t.N)
		t.IDs = t.IDs.plus(n)
		t.N++
		a.forgetLinks(t)
	case row < 0:
		return fmt.Errorf("there is no such record")
	}
	for i := range t.Type.Fields {
		f := &t.Type.Fields[i]
		text, set := e.Values[f.Key]
		if f.Worked != nil || f.Kind == schema.ID || (!set && !e.New) {
			continue
		}
		if err := a.set(t, i, row, text); err != nil {
			return fmt.Errorf("%s: %w", f.Key, err)
		}
	}
	return a.rework(t, row, e)
}

// forgetLinks drops the links back to a table that has grown: they have no place for the new record.
func (a *applier) forgetLinks(t *Table) {
	t.many = map[string]*Many{}
}

// set puts a value into a column, in a copy that shares all other chunks.
func (a *applier) set(t *Table, i int, row int32, text string) error {
	f := &t.Type.Fields[i]
	if t.cols[i] == nil {
		// Links are turned into rows before they are changed.
		c, err := a.was.Column(t.Type.Key, f.Key)
		if err != nil {
			return err
		}
		t.cols[i] = c
		delete(t.links, i)
	}
	c := t.cols[i]
	v, err := a.inner(c, text)
	if err != nil {
		return err
	}
	c = c.open()
	t.cols[i] = c
	c.Ints.set(row, v)
	if _, was := c.lost[row]; c.Kind == schema.Link && (was || (v == Null && text != "")) {
		if c.lost = maps.Clone(c.lost); c.lost == nil {
			c.lost = map[int32]string{}
		}
		if c.lost[row] = text; v != Null || text == "" {
			delete(c.lost, row)
		}
	}
	if c.days != nil {
		d := v
		if v != Null {
			d = int64(c.cal.DayOf(v))
		}
		c.days.set(row, d)
	}
	if f.Kind == schema.Link {
		if to := a.loaded(f.To); to != nil {
			for _, b := range to.Type.Backs {
				if b.Type == t.Type.Key && b.Via == f.Key {
					delete(to.many, b.Key)
				}
			}
		}
	}
	return nil
}

// open is the column with values that can be set: itself, where edits have opened it already.
func (c *Column) open() *Column {
	c.mu.Lock()
	defer c.mu.Unlock()
	next := c
	if !c.Ints.isOpen {
		next = &Column{Kind: c.Kind, Dict: c.Dict, To: c.To, cal: c.cal, Ints: c.Ints.open(), lost: c.lost, days: c.days}
	}
	if next.days != nil && !next.days.isOpen {
		next.days = next.days.open()
	}
	return next
}

// seal ends that values are set.
func (c *Column) seal() {
	if c == nil || c.Ints == nil || !c.Ints.isOpen {
		return
	}
	c.Ints.seal()
	if c.days != nil {
		c.days.seal()
	}
}

func (a *applier) inner(c *Column, text string) (int64, error) {
	switch {
	case text == "":
		return Null, nil
	case c.Dict != nil:
		return int64(c.Dict.Code(text)), nil
	case c.Kind == schema.Link:
		to := a.tables[c.To]
		if to == nil {
			t, err := a.was.Table(c.To)
			if err != nil {
				return 0, err
			}
			to = t
		}
		if row := to.IDs.Row(text); row >= 0 {
			return int64(row), nil
		}
		return Null, nil
	}
	return Parse(c.Kind, text, a.was.Cal)
}

// rework brings the worked-out fields of a record up to date: those of one record by themselves, the others are worked
// out anew when they are next asked for.
func (a *applier) rework(t *Table, row int32, e Edit) error {
	for i := range t.Type.Fields {
		f := &t.Type.Fields[i]
		if f.Worked == nil || t.cols[i] == nil {
			continue
		}
		touched := e.New
		for _, key := range f.Worked.Of {
			_, set := e.Values[key]
			touched = touched || set
		}
		switch f.Worked.As {
		case "product", "days":
			if touched {
				v, err := a.workOne(t, f, row)
				if err != nil {
					return err
				}
				t.cols[i] = t.cols[i].open()
				t.cols[i].Ints.set(row, v)
			}
		default:
			if touched {
				t.cols[i] = nil
			}
		}
	}
	for key, c := range t.converted {
		if next := c.with(t, row); next != nil {
			t.converted[key] = next
		} else {
			delete(t.converted, key)
		}
	}
	// A change of a record may move fields that are worked out from the history of the record it is of.
	if t.Type.History && e.New {
		a.forgetSince(e.Values[schema.HistoryType], e.Values[schema.HistoryField])
	}
	return nil
}

// forgetSince drops what is worked out from the latest change of a field.
func (a *applier) forgetSince(typ, field string) {
	t := a.loaded(typ)
	if t == nil {
		return
	}
	for i := range t.Type.Fields {
		if w := t.Type.Fields[i].Worked; w != nil && w.As == "since" && w.Of[0] == field {
			t.cols[i] = nil
		}
	}
}

// workOne works a field of one record out from the columns of its table as they are now.
func (a *applier) workOne(t *Table, f *schema.Field, row int32) (int64, error) {
	of := make([]*Column, len(f.Worked.Of))
	for i, key := range f.Worked.Of {
		for k := range t.Type.Fields {
			if t.Type.Fields[k].Key == key {
				of[i] = t.cols[k]
			}
		}
		if of[i] == nil {
			c, err := a.was.Column(t.Type.Key, key)
			if err != nil {
				return 0, err
			}
			of[i] = c
		}
	}
	return workRow(f, of, row), nil
}
