package column

import (
	"context"
	"fmt"
	"maps"
	"sort"
	"strings"
	"sync"

	"uzzel/core/period"
	"uzzel/core/schema"
)

// Column is the values of one field, by row. What a value means depends on Kind: a code of Dict for text and
// choices, a row number of the table To for links, the row itself for ids, hundredths for money, millionths for
// numbers and percents, a day number for dates, seconds for times, 0 or 1 for yes/no.
type Column struct {
	Kind schema.Kind
	Dict *Dict
	To   string
	Ints *Ints // nil for ids and for columns that map another

	// lost are the ids that links of rows name and that no record has.
	lost map[int32]string

	base  *Column // codes of base stand for codes of this column …
	remap []int64 // … through this table

	cal  *period.Calendar
	mu   sync.Mutex
	days *Ints // local days of a time column, once asked for
}

// Gather reads the values of rows into out; row −1 is empty.
func (c *Column) Gather(rows []int32, out []int64) {
	switch {
	case c.base != nil:
		c.base.Gather(rows, out)
		c.mapCodes(out[:len(rows)])
	case c.Ints == nil:
		for i, r := range rows {
			out[i] = int64(r)
			if r < 0 {
				out[i] = Null
			}
		}
	default:
		c.Ints.Gather(rows, out)
	}
}

// Run reads the len(out) values from row first on.
func (c *Column) Run(first int32, out []int64) {
	switch {
	case c.base != nil:
		c.base.Run(first, out)
		c.mapCodes(out)
	case c.Ints == nil:
		for i := range out {
			out[i] = int64(first) + int64(i)
		}
	default:
		c.Ints.Run(first, out)
	}
}

// Within marks which of the len(out) values from row first on lie from lo to hi, where the column's own values are
// numbers; it says false where they are not, and marks nothing.
func (c *Column) Within(first int32, lo, hi int64, out []bool) bool {
	if c.base != nil || c.Ints == nil {
		return false
	}
	c.Ints.Within(first, lo, hi, out)
	return true
}

// Codes turns a table that says of each code of the column, and last of empty, whether it is wanted, into one of the
// codes that are kept, with the vector that keeps them.
func (c *Column) Codes(ok []bool) (*Ints, []bool) {
	if c.base == nil {
		return c.Ints, ok
	}
	empty := ok[len(ok)-1]
	kept := make([]bool, len(c.base.Dict.Values())+1)
	for i := range kept {
		kept[i] = empty
		if i < len(c.remap) && i < len(kept)-1 && c.remap[i] != Null {
			kept[i] = ok[c.remap[i]]
		}
	}
	return c.base.Codes(kept)
}

// Among says for each row, and last for no row, whether its code is wanted. ok is a table that says so of each code of the
// column, and last of empty.
func (c *Column) Among(ok []bool) []bool {
	codes, kept := c.Codes(ok)
	n := codes.Len()
	rows := make([]bool, n+1)
	rows[n] = ok[len(ok)-1]
	if !codes.Among(0, kept, rows[:n]) {
		for row := range rows[:n] {
			at := codes.At(int32(row))
			if at == Null {
				at = int64(len(kept) - 1)
			}
			rows[row] = kept[at]
		}
	}
	return rows
}

func (c *Column) mapCodes(out []int64) {
	for i, v := range out {
		if v != Null {
			if v >= int64(len(c.remap)) {
				out[i] = Null
			} else {
				out[i] = c.remap[v]
			}
		}
	}
}

// At is the value of one row.
func (c *Column) At(row int32) int64 {
	var out [1]int64
	c.Gather([]int32{row}, out[:])
	return out[0]
}

// Days is the local days of a time column as a date column; a date column is its own.
func (c *Column) Days() *Column {
	if c.Kind != schema.Time {
		return c
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.days == nil {
		c.days = NewInts(1)
		buf := make([]int64, chunkSize)
		for first, n := 0, c.Ints.Len(); first < n; first += chunkSize {
			part := buf[:min(chunkSize, n-first)]
			c.Ints.Run(int32(first), part)
			for _, v := range part {
				if v != Null {
					v = int64(c.cal.DayOf(v))
				}
				c.days.Append(v)
			}
		}
	}
	return &Column{Kind: schema.Date, Ints: c.days}
}

// Many is the link back from each row of a table to the rows of another that name it, in their order.
type Many struct {
	off  []int32
	rows []int32
}

// Of lists the rows that name a row.
func (m *Many) Of(row int32) []int32 { return m.rows[m.off[row]:m.off[row+1]] }

// Table is the records of one type.
type Table struct {
	Type *schema.Type
	N    int
	IDs  *IDs

	mu    sync.Mutex
	cols  []*Column
	many  map[string]*Many
	links map[int]*links // links not yet turned into rows

	origin *origin // of a table of an earlier day

	converting sync.Mutex            // held while amounts are converted
	converted  map[string]*Converted // by how; see Convert
}

// Snapshot is all tables at one moment; a run reads one snapshot. Tables are loaded when first asked for.
type Snapshot struct {
	Schema *schema.Schema
	Cal    *period.Calendar

	source Source
	mu     sync.Mutex
	tables map[string]*loading
	bin    map[string]*Table                // what was deleted, by type, once asked for
	past   *past                            // of the state of an earlier day
	then   []*Snapshot                      // states of earlier days, those asked for lately last
	whole  *Snapshot                        // that this one shows a part of the fields of; nil where it is whole
	seen   [schema.Administrators]*Snapshot // by rank, once asked for
}

// Source gives the records of a type; a folder of CSV files or the application's database.
type Source interface {
	Load(ctx context.Context, b *Builder) error
}

type loading struct {
	mu    sync.Mutex // held while the table is loaded
	table *Table     // nil until it is loaded
}

// NewSnapshot makes a snapshot that loads its tables from a source.
func NewSnapshot(s *schema.Schema, source Source) *Snapshot {
	return &Snapshot{Schema: s, Cal: period.New(s.Zone, s.WeekStart(), s.Settings.FiscalMonth), source: source,
		tables: map[string]*loading{}}
}

// For is the snapshot as a rank sees it: the same records, with the fields that the rank may see (schema.For).
func (s *Snapshot) For(r schema.Rank) *Snapshot {
	seen := s.Schema.For(r)
	if seen == s.Schema {
		return s
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.seen[r] == nil {
		s.seen[r] = &Snapshot{Schema: seen, Cal: s.Cal, whole: s}
	}
	return s.seen[r]
}

// Whole is the snapshot with all fields.
func (s *Snapshot) Whole() *Snapshot {
	if s.whole != nil {
		return s.whole
	}
	return s
}

// Table is the records of a type, loaded if they are not yet.
func (s *Snapshot) Table(key string) (*Table, error) {
	if s.whole != nil {
		return s.whole.Table(key)
	}
	s.mu.Lock()
	l := s.tables[key]
	if l == nil {
		l = &loading{}
		s.tables[key] = l
	}
	s.mu.Unlock()
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.table != nil {
		return l.table, nil
	}
	// What could not be loaded is tried again when it is next asked for.
	table, err := s.load(key)
	l.table = table
	return table, err
}

func (s *Snapshot) load(key string) (*Table, error) {
	t := s.Schema.Type(key)
	if t == nil {
		return nil, fmt.Errorf("no record type %q", key)
	}
	if s.past != nil {
		return s.asItWas(key)
	}
	b := NewBuilder(t, s.Cal)
	if err := s.source.Load(context.Background(), b); err != nil {
		return nil, err
	}
	return b.finish()
}

// shared is a snapshot that shares all tables with this one.
func (s *Snapshot) shared() *Snapshot {
	s.mu.Lock()
	defer s.mu.Unlock()
	return &Snapshot{Schema: s.Schema, Cal: s.Cal, source: s.source, tables: maps.Clone(s.tables), bin: maps.Clone(s.bin)}
}

// Column is the values of a field of a type.
func (s *Snapshot) Column(typ, field string) (*Column, error) {
	if s.whole != nil {
		return s.whole.Column(typ, field)
	}
	t, err := s.Table(typ)
	if err != nil {
		return nil, err
	}
	i := t.Type.Place(field)
	if i < 0 {
		return nil, fmt.Errorf("%s has no field %q", typ, field)
	}
	f := &t.Type.Fields[i]
	t.mu.Lock()
	c, l := t.cols[i], t.links[i]
	t.mu.Unlock()
	if c != nil {
		return c, nil
	}
	if l != nil {
		to, err := s.Table(f.To)
		if err != nil {
			return nil, err
		}
		c = l.column(f, to)
	} else if s.past != nil && f.Worked == nil {
		if c, err = s.columnAsItWas(t, i); err != nil {
			return nil, err
		}
	} else if c, err = s.work(t, f); err != nil {
		return nil, err
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.cols[i] == nil {
		t.cols[i] = c
		delete(t.links, i)
	}
	return t.cols[i], nil
}

// Many is the link back from a type over one of its links to many.
func (s *Snapshot) Many(typ, back string) (*Many, error) {
	t, err := s.Table(typ)
	if err != nil {
		return nil, err
	}
	b := t.Type.Back(back)
	if b == nil {
		return nil, fmt.Errorf("%s has no link to many %q", typ, back)
	}
	col, err := s.Column(b.Type, b.Via)
	if err != nil {
		return nil, err
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if m := t.many[back]; m != nil {
		return m, nil
	}
	m := invert(col, t.N)
	t.many[back] = m
	return m, nil
}

func invert(link *Column, n int) *Many {
	m := &Many{off: make([]int32, n+2)}
	total := link.Ints.Len()
	buf := make([]int64, chunkSize)
	each := func(do func(row int32, to int64)) {
		for first := 0; first < total; first += chunkSize {
			part := buf[:min(chunkSize, total-first)]
			link.Run(int32(first), part)
			for i, v := range part {
				if v != Null {
					do(int32(first+i), v)
				}
			}
		}
	}
	linked := 0
	each(func(_ int32, to int64) { m.off[to+2]++; linked++ })
	for i := 2; i < len(m.off); i++ {
		m.off[i] += m.off[i-1]
	}
	m.rows = make([]int32, linked)
	each(func(row int32, to int64) {
		m.rows[m.off[to+1]] = row
		m.off[to+1]++
	})
	m.off = m.off[:n+1]
	return m
}

// Name is the name of a record for people: its name, else its subject, else its id (the type says which field).
func (s *Snapshot) Name(typ string, row int32) string {
	t, err := s.Table(typ)
	if err != nil || row < 0 {
		return ""
	}
	if t.Type.Name != "" {
		if c, err := s.Column(typ, t.Type.Name); err == nil {
			if v := c.At(row); v != Null {
				return c.Dict.Values()[v]
			}
		}
	}
	return t.IDs.At(row)
}

// Text writes one value of a column in its CSV form, links as ids.
func (s *Snapshot) Text(c *Column, v int64, self *Table) string {
	if v == Null {
		return ""
	}
	switch c.Kind {
	case schema.Text, schema.Choice:
		return c.Dict.Values()[v]
	case schema.ID:
		return self.IDs.At(int32(v))
	case schema.Link:
		if to, err := s.Table(c.To); err == nil {
			return to.IDs.At(int32(v))
		}
		return ""
	}
	return Format(c.Kind, v, s.Cal)
}

func sortPerm(n int, less func(a, b int) bool) []int {
	perm := make([]int, n)
	for i := range perm {
		perm[i] = i
	}
	sort.SliceStable(perm, func(i, j int) bool { return less(perm[i], perm[j]) })
	return perm
}

// Bytes is about how much memory the columns that are loaded take.
func (s *Snapshot) Bytes() int64 {
	s.mu.Lock()
	defer s.mu.Unlock()
	n := int64(0)
	for _, l := range s.tables {
		t := l.table
		if t == nil {
			continue
		}
		t.mu.Lock()
		n += int64(len(t.IDs.nums)) * 8
		for _, c := range t.cols {
			if c == nil {
				continue
			}
			if c.Ints != nil {
				n += c.Ints.Bytes()
			}
			if c.days != nil {
				n += c.days.Bytes()
			}
			if c.Dict != nil {
				for _, v := range c.Dict.Values() {
					n += int64(len(v)) + 16
				}
			}
		}
		for _, c := range t.converted {
			if !c.plain() {
				n += c.Ints.Bytes()
			}
		}
		for _, m := range t.many {
			n += int64(len(m.off)+len(m.rows)) * 4
		}
		t.mu.Unlock()
	}
	return n
}

// Rows is how many records the tables that are loaded hold.
func (s *Snapshot) Rows() int {
	s.mu.Lock()
	defer s.mu.Unlock()
	n := 0
	for _, l := range s.tables {
		if l.table != nil {
			n += l.table.N
		}
	}
	return n
}

// NameOf is Name by id, with the id behind it where another record has the same name; "" where there is no such record.
// sees says which records there are for who asks; nil for all.
func (s *Snapshot) NameOf(typ, id string, sees func(row int32) bool) string {
	t, err := s.Table(typ)
	if err != nil {
		return ""
	}
	row := t.IDs.Row(id)
	if row < 0 || (sees != nil && !sees(row)) {
		return ""
	}
	name := s.Name(typ, row)
	if name != "" && s.sharesName(t, row, sees) {
		name += " (number " + id + ")"
	}
	return name
}

// Named lists the ids of the records that go by a name, without the number of a shared one: those named just so first,
// then those that differ in case or in blanks around.
func (s *Snapshot) Named(typ, name string) []string {
	t, err := s.Table(typ)
	if err != nil {
		return nil
	}
	want := Fold(strings.TrimSpace(name))
	var just, like []string
	for row := range int32(t.N) {
		switch got := s.Name(typ, row); {
		case got == name:
			just = append(just, t.IDs.At(row))
		case Fold(strings.TrimSpace(got)) == want:
			like = append(like, t.IDs.At(row))
		}
	}
	return append(just, like...)
}

// sharesName says whether another record of a table has the name of a row.
func (s *Snapshot) sharesName(t *Table, row int32, sees func(row int32) bool) bool {
	if t.Type.Name == "" {
		return false
	}
	c, err := s.Column(t.Type.Key, t.Type.Name)
	if err != nil {
		return false
	}
	name, n := c.At(row), 0
	marks := make([]bool, chunkSize)
	for first := 0; first < t.N; first += chunkSize {
		part := marks[:min(chunkSize, t.N-first)]
		if !c.Within(int32(first), name, name, part) {
			return false
		}
		for i, m := range part {
			if m && (sees == nil || sees(int32(first+i))) {
				n++
			}
		}
	}
	return n > 1
}

// EachText gives the filled values of a field as texts, in the order of the rows, with the record that each is of.
func (s *Snapshot) EachText(typ, field string, do func(row int32, id, text string)) error {
	t, err := s.Table(typ)
	if err != nil {
		return err
	}
	c, err := s.Column(typ, field)
	if err != nil {
		return err
	}
	for row := range int32(t.N) {
		if v := c.At(row); v != Null {
			do(row, t.IDs.At(row), s.Text(c, v, t))
		}
	}
	return nil
}
