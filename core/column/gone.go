package column

import (
	"context"
	"fmt"

	"uzzel/core/schema"
)

// Bin is a source that knows what was deleted, with its last values.
type Bin interface {
	LoadDeleted(ctx context.Context, b *Builder) error
}

// HistoryDeleted is the field by which the history says that a record was deleted ("true") and brought back ("").
const HistoryDeleted = "deleted"

// Gone are the records of a type that were deleted since, with their last values; nil where there are none.
func (t *Table) Gone() *Table {
	if t.origin == nil {
		return nil
	}
	return t.origin.gone
}

// Linked is the id that a link of a deleted record names, "" for none.
func (t *Table) Linked(field string, row int32) string {
	if i := t.Type.Place(field); i >= 0 && t.links[i] != nil {
		return t.links[i].id(row)
	}
	return ""
}

func (l *links) id(row int32) string {
	v := l.nums.At(row)
	switch {
	case v == Null:
		return ""
	case l.dict != nil:
		return l.dict.Values()[v]
	}
	return fmt.Sprint(v)
}

// Deleted are the records of a type that were deleted, with their last values; nil where there are none. Their links are
// not turned into rows.
func (s *Snapshot) Deleted(typ string) (*Table, error) {
	if s.whole != nil {
		return s.whole.Deleted(typ)
	}
	bin, ok := s.source.(Bin)
	if !ok {
		return nil, nil
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if t, ok := s.bin[typ]; ok {
		return t, nil
	}
	b := NewBuilder(s.Schema.Type(typ), s.Cal)
	if err := bin.LoadDeleted(context.Background(), b); err != nil {
		return nil, err
	}
	t, err := b.finish()
	if err != nil {
		return nil, fmt.Errorf("what was deleted: %w", err)
	}
	if t.N == 0 {
		t = nil
	}
	if s.bin == nil {
		s.bin = map[string]*Table{}
	}
	s.bin[typ] = t
	return t, nil
}

// Last is the last value of a field of a deleted record in its CSV form.
func (t *Table) Last(s *Snapshot, field string, row int32) string {
	i := t.Type.Place(field)
	if i < 0 {
		return ""
	}
	kind := t.Type.Fields[i].Kind
	switch c := t.cols[i]; {
	case kind == schema.ID:
		return t.IDs.At(row)
	case t.links[i] != nil:
		return t.links[i].id(row)
	case c == nil || c.At(row) == Null:
		return ""
	case c.Dict != nil:
		return c.Dict.Values()[c.At(row)]
	default:
		return Format(kind, c.At(row), s.Cal)
	}
}

// Deletions gives each deletion of a record of a type that the history tells of, with its moment.
func (s *Snapshot) Deletions(typ string, each func(id string, at int64)) error {
	h := s.Schema.History()
	if h == nil {
		return nil
	}
	table, err := s.Table(h.Key)
	if err != nil {
		return err
	}
	var cols [5]*Column
	for i, key := range []string{schema.HistoryType, schema.HistoryRecord, schema.HistoryField, "to", "at"} {
		if cols[i], err = s.Column(h.Key, key); err != nil {
			return err
		}
	}
	kind, field, to := cols[0].Dict.known(typ), cols[2].Dict.known(HistoryDeleted), cols[3].Dict.known("true")
	if kind < 0 || field < 0 || to < 0 {
		return nil // nothing of the type was ever deleted
	}
	fields := make([]int64, chunkSize)
	for first := 0; first < table.N; first += chunkSize {
		some := fields[:min(chunkSize, table.N-first)]
		cols[2].Run(int32(first), some)
		for i, f := range some {
			row := int32(first + i)
			if f == field && cols[0].At(row) == kind && cols[3].At(row) == to &&
				cols[1].At(row) != Null && cols[4].At(row) != Null {
				each(cols[1].Dict.Values()[cols[1].At(row)], cols[4].At(row))
			}
		}
	}
	return nil
}

// LostSince counts the records of a type that were deleted since a day and are gone for good: the state of the day lacks
// them.
func (s *Snapshot) LostSince(typ string, day int32) (int, error) {
	table, err := s.Table(typ)
	if err != nil {
		return 0, err
	}
	gone, err := s.Deleted(typ)
	if err != nil {
		return 0, err
	}
	end, lost := s.Cal.StartOf(day+1), map[string]bool{}
	err = s.Deletions(typ, func(id string, at int64) {
		if at >= end && table.IDs.Row(id) < 0 && (gone == nil || gone.IDs.Row(id) < 0) {
			lost[id] = true
		}
	})
	return len(lost), err
}

// wasDeleted says of the records of a type that were deleted or brought back since whether they were deleted then.
func (p *past) wasDeleted(typ string) map[string]bool {
	out := map[string]bool{}
	for _, w := range p.back[typ+"."+HistoryDeleted] {
		out[p.records.Values()[w.record]] = p.text(w.was) == "true"
	}
	return out
}

// goneThere says which records that are deleted by now were there; nothing of none.
func (p *past) goneThere(gone *Table) []bool {
	if gone == nil {
		return nil
	}
	there, deleted := make([]bool, gone.N), p.wasDeleted(gone.Type.Key)
	created := gone.Type.Place("created")
	for row := range there {
		was, ok := deleted[gone.IDs.At(int32(row))]
		if there[row] = ok && !was; there[row] && created >= 0 {
			at := gone.cols[created].At(int32(row))
			there[row] = at == Null || at < p.end
		}
	}
	return there
}

// goneValues are the values of a field of deleted records, as those of now are kept.
func goneValues(gone *Table, i int, dict *Dict, to *Table) []int64 {
	out := make([]int64, gone.N)
	if l := gone.links[i]; l != nil {
		for row := range out {
			if out[row] = Null; l.id(int32(row)) != "" {
				out[row] = rowOrNull(to, l.id(int32(row)))
			}
		}
		return out
	}
	c := gone.cols[i]
	for row := range out {
		if out[row] = c.At(int32(row)); dict != nil && out[row] != Null {
			out[row] = int64(dict.Code(c.Dict.Values()[out[row]]))
		}
	}
	return out
}
