package column

import (
	"fmt"
	"runtime"
	"sync"

	"uzzel/core/period"
	"uzzel/core/schema"
)

// Builder takes the records of one type. Values of a field are set row after row; those that are left out are empty.
type Builder struct {
	Type *schema.Type
	Cal  *period.Calendar

	ids  IDs
	n    int
	cols []*Column
	link map[int]*links
}

// links are ids that name records of another table, until they are turned into its rows.
type links struct {
	nums *Ints // while all are plain whole numbers
	dict *Dict // otherwise nums are codes of these
}

// NewBuilder makes a builder for a type.
func NewBuilder(t *schema.Type, cal *period.Calendar) *Builder {
	b := &Builder{Type: t, Cal: cal, cols: make([]*Column, len(t.Fields)), link: map[int]*links{}}
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Worked != nil {
			continue
		}
		c := &Column{Kind: f.Kind, To: f.To, cal: cal}
		switch f.Kind {
		case schema.ID:
		case schema.Link:
			b.link[i] = &links{nums: NewInts(1)}
			c = nil
		case schema.Text, schema.Choice:
			c.Dict, c.Ints = NewDict(f.Choices...), NewInts(1)
		case schema.Number, schema.Percent:
			c.Ints = NewInts(Micro)
		default:
			c.Ints = NewInts(1)
		}
		b.cols[i] = c
	}
	return b
}

// Row begins a record.
func (b *Builder) Row(id string) {
	b.n++
	if b.ids.texts == nil {
		if n, ok := plainInt(id); ok {
			b.ids.nums = append(b.ids.nums, n)
			return
		}
		b.ids.texts = make([]string, 0, len(b.ids.nums)+1)
		for _, n := range b.ids.nums {
			b.ids.texts = append(b.ids.texts, fmt.Sprint(n))
		}
		b.ids.nums = nil
	}
	b.ids.texts = append(b.ids.texts, id)
}

// RowNumber begins a record whose id is a whole number.
func (b *Builder) RowNumber(id int64) {
	if b.ids.texts != nil {
		b.Row(fmt.Sprint(id))
		return
	}
	b.n++
	b.ids.nums = append(b.ids.nums, id)
}

// Len is the number of records begun.
func (b *Builder) Len() int { return b.n }

// pad fills up a field with empty values before a row.
func pad(ints *Ints, row int) *Ints {
	for ints.Len() < row {
		ints.Append(Null)
	}
	return ints
}

func (b *Builder) padAll() {
	for i, c := range b.cols {
		if ints := b.intsOf(i, c); ints != nil {
			pad(ints, b.n)
		}
	}
}

func (b *Builder) intsOf(i int, c *Column) *Ints {
	if l := b.link[i]; l != nil {
		return l.nums
	}
	if c != nil {
		return c.Ints
	}
	return nil
}

// SetTexts sets a text or choice of the records from one on; empty text is no value.
func (b *Builder) SetTexts(field, first int, list []string) {
	c := b.cols[field]
	pad(c.Ints, first).Extend(c.Dict.encode(list))
}

// SetInner sets values in their inner form in the records from one on; those of links are ids.
func (b *Builder) SetInner(field, first int, vals []int64) {
	l := b.link[field]
	switch {
	case l == nil:
		pad(b.cols[field].Ints, first).Extend(vals)
	case l.dict == nil:
		pad(l.nums, first).Extend(vals)
	default:
		for i, v := range vals {
			if v != Null {
				b.setLink(field, first+i, fmt.Sprint(v))
			}
		}
	}
}

// setLink sets a link by the id of the record it names; no id is no link.
func (b *Builder) setLink(field, row int, id string) {
	l := b.link[field]
	if id == "" {
		return
	}
	pad(l.nums, row)
	if l.dict == nil {
		if n, ok := plainInt(id); ok && n != Null {
			l.nums.Append(n)
			return
		}
		l.dict = NewDict()
		coded := NewInts(1)
		for i, n := 0, l.nums.Len(); i < n; i++ {
			v := l.nums.At(int32(i))
			if v != Null {
				v = int64(l.dict.Code(fmt.Sprint(v)))
			}
			coded.Append(v)
		}
		l.nums = coded
	}
	l.nums.Append(int64(l.dict.Code(id)))
}

// Join takes over the records of another builder of the same type, whose ids are whole numbers as this one's are and
// come after them. The other is not used again.
func (b *Builder) Join(other *Builder) {
	b.padAll()
	other.padAll()
	b.ids.nums = append(b.ids.nums, other.ids.nums...)
	b.n += other.n
	var all sync.WaitGroup
	running := make(chan struct{}, runtime.GOMAXPROCS(0))
	for i := range b.cols {
		running <- struct{}{}
		all.Go(func() {
			b.joinColumn(i, other)
			<-running
		})
	}
	all.Wait()
}

// joinColumn adds the values of one field of another builder.
func (b *Builder) joinColumn(i int, other *Builder) {
	c := b.cols[i]
	ints := b.intsOf(i, c)
	if ints == nil {
		return
	}
	from := other.intsOf(i, other.cols[i])
	var codes []int64
	if c != nil && c.Dict != nil {
		for _, text := range other.cols[i].Dict.Values() {
			codes = append(codes, int64(c.Dict.Code(text)))
		}
	}
	buf := make([]int64, chunkSize)
	for first, n := 0, from.Len(); first < n; first += chunkSize {
		part := buf[:min(chunkSize, n-first)]
		from.Run(int32(first), part)
		for i, v := range part {
			if codes != nil && v != Null {
				part[i] = codes[v]
			}
		}
		ints.Extend(part)
	}
}

// Set reads a value of the record begun last in its CSV form; links and ids included.
func (b *Builder) Set(field int, s string) error { return b.SetAt(field, b.n-1, s) }

// SetAt is Set for any row that comes after those the field was set in.
func (b *Builder) SetAt(field, row int, s string) error {
	f := &b.Type.Fields[field]
	switch {
	case s == "" || f.Worked != nil || f.Kind == schema.ID:
		return nil
	case f.Kind.Coded():
		c := b.cols[field]
		pad(c.Ints, row).Append(int64(c.Dict.Code(s)))
	case f.Kind == schema.Link:
		b.setLink(field, row, s)
	default:
		v, err := Parse(f.Kind, s, b.Cal)
		if err != nil {
			return err
		}
		pad(b.cols[field].Ints, row).Append(v)
	}
	return nil
}

// column turns links into rows of the table that they lead to.
func (l *links) column(f *schema.Field, to *Table) *Column {
	c := &Column{Kind: schema.Link, To: f.To}
	c.Ints = l.resolve(to.IDs, func(row int32) {
		if c.lost == nil {
			c.lost = map[int32]string{}
		}
		c.lost[row] = l.id(row)
	})
	return c
}

// resolve gives the rows of ids; lost is told which of them no record has.
func (l *links) resolve(ids *IDs, lost func(row int32)) *Ints {
	rows := NewInts(1)
	for i, n := 0, l.nums.Len(); i < n; i++ {
		v := l.nums.At(int32(i))
		row := int32(-1)
		switch {
		case v == Null:
		case l.dict != nil:
			row = ids.Row(l.dict.Values()[v])
		case ids.texts != nil:
			row = ids.Row(fmt.Sprint(v))
		default:
			row = ids.rowOf(v)
		}
		if row < 0 {
			if v != Null {
				lost(int32(i))
			}
			rows.Append(Null)
		} else {
			rows.Append(int64(row))
		}
	}
	return rows
}

// finish makes the table, its rows in the order of ids. An id that occurs twice is an error.
func (b *Builder) finish() (*Table, error) {
	b.padAll()
	if err := b.sortRows(); err != nil {
		return nil, err
	}
	t := &Table{Type: b.Type, N: b.n, IDs: &b.ids, cols: b.cols, links: b.link, many: map[string]*Many{}}
	if b.ids.texts != nil {
		b.ids.rows = make(map[string]int32, b.n)
		for i, id := range b.ids.texts {
			b.ids.rows[id] = int32(i)
		}
	}
	return t, nil
}

func (b *Builder) sortRows() error {
	ordered := true
	for i := 1; i < b.n && ordered; i++ {
		ordered = b.less(i-1, i)
	}
	if ordered {
		return nil
	}
	perm := sortPerm(b.n, b.less)
	for i := 1; i < b.n; i++ {
		if !b.less(perm[i-1], perm[i]) {
			return fmt.Errorf("%s: the id %s stands twice", b.Type.Key, b.ids.At(int32(perm[i])))
		}
	}
	for i, c := range b.cols {
		if ints := b.intsOf(i, c); ints != nil {
			sorted := NewInts(ints.unit)
			for _, p := range perm {
				sorted.Append(ints.At(int32(p)))
			}
			*ints = *sorted
		}
	}
	if b.ids.texts != nil {
		texts := make([]string, b.n)
		for i, p := range perm {
			texts[i] = b.ids.texts[p]
		}
		b.ids.texts = texts
		return nil
	}
	nums := make([]int64, b.n)
	for i, p := range perm {
		nums[i] = b.ids.nums[p]
	}
	b.ids.nums = nums
	return nil
}

func (b *Builder) less(i, j int) bool {
	if b.ids.texts != nil {
		return LessID(b.ids.texts[i], b.ids.texts[j])
	}
	return b.ids.nums[i] < b.ids.nums[j]
}
