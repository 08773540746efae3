package column

import "uzzel/core/schema"

// ChangesOf gives the table of changes, and for each of them the row of the record of a type that it is of, Null where it
// is of another type or of a record that is no more. Both are nil where the schema has no changes.
func (s *Snapshot) ChangesOf(typ string) (*Table, *Column, error) {
	h := s.Schema.History()
	if h == nil {
		return nil, nil, nil
	}
	changes, err := s.Table(h.Key)
	if err != nil {
		return nil, nil, err
	}
	// Where changes have a link to the type, its rows are there already.
	for _, f := range h.Links() {
		if f.To == typ && !s.Schema.Type(typ).Readers {
			of, err := s.Column(h.Key, f.Key)
			return changes, of, err
		}
	}
	t, err := s.Table(typ)
	if err != nil {
		return nil, nil, err
	}
	types, err := s.Column(h.Key, schema.HistoryType)
	if err != nil {
		return nil, nil, err
	}
	records, err := s.Column(h.Key, schema.HistoryRecord)
	if err != nil {
		return nil, nil, err
	}
	code := int64(types.Dict.Code(typ))
	of := &Column{Kind: schema.Link, To: typ, Ints: NewInts(1)}
	ids := records.Dict.Values()
	for r := int32(0); int(r) < changes.N; r++ {
		row, record := int64(Null), records.At(r)
		if record != Null && types.At(r) == code {
			row = rowOrNull(t, ids[record])
		}
		of.Ints.Append(row)
	}
	return changes, of, nil
}
