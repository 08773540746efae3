package column

import (
	"fmt"
	"slices"

	"uzzel/core/schema"
)

// columnAsItWas makes the column of a field that people write, or that the program keeps.
func (s *Snapshot) columnAsItWas(t *Table, i int) (*Column, error) {
	p, f := s.past, &t.Type.Fields[i]
	now, err := p.now.Column(t.Type.Key, f.Key)
	if err != nil {
		return nil, err
	}
	var to *Table
	if f.Kind == schema.Link {
		if to, err = s.Table(f.To); err != nil {
			return nil, err
		}
	}
	set, err := s.over(t, f, now, to)
	if err != nil {
		return nil, err
	}
	moved := to != nil && (to.origin.at != nil || len(now.lost) > 0)
	if t.origin.from == nil && len(set) == 0 && !moved {
		return now, nil
	}
	c := &Column{Kind: now.Kind, To: now.To, Dict: now.Dict, cal: now.cal, Ints: NewInts(now.Ints.unit)}
	var gone []int64
	if t.origin.gone != nil {
		gone = goneValues(t.origin.gone, i, c.Dict, to)
	}
	vals, rows := make([]int64, chunkSize), make([]int32, chunkSize)
	next := 0
	for first := 0; first < t.N; first += chunkSize {
		part := vals[:min(chunkSize, t.N-first)]
		from := rows[:len(part)]
		if t.origin.from == nil {
			now.Run(int32(first), part)
			for k := range from {
				from[k] = int32(first + k)
			}
		} else {
			copy(from, t.origin.from[first:])
			for k, at := range from {
				from[k] = max(at, -1)
			}
			now.Gather(from, part)
			copy(from, t.origin.from[first:])
		}
		for k, at := range from {
			switch {
			case at < 0:
				part[k] = gone[-1-at]
			case to == nil:
			case part[k] == Null:
				if id, ok := now.lost[at]; ok {
					part[k] = rowOrNull(to, id)
				}
			case to.origin.at != nil:
				if part[k] = int64(to.origin.at[part[k]]); part[k] < 0 {
					part[k] = Null
				}
			}
		}
		for ; next < len(set) && set[next].row < int32(first+len(part)); next++ {
			part[set[next].row-int32(first)] = set[next].value
		}
		c.Ints.Extend(part)
	}
	return c, nil
}

// valueAt is a value of a row.
type valueAt struct {
	row   int32
	value int64
}

// over are the values that the history gives back to the rows of a table, in the order of the rows.
func (s *Snapshot) over(t *Table, f *schema.Field, now *Column, to *Table) ([]valueAt, error) {
	p := s.past
	if p.today(t.Type) {
		return nil, nil
	}
	if len(p.back[t.Type.Key+"."+f.Key]) == 0 {
		return nil, nil
	}
	var list []valueAt
	ids, read := p.records.Values(), map[int64]int64{}
	for _, w := range p.back[t.Type.Key+"."+f.Key] {
		row := t.IDs.Row(ids[w.record])
		if row < 0 {
			continue
		}
		v, ok := read[w.was]
		if !ok {
			var err error
			if v, err = s.wasValue(f, now, to, p.text(w.was)); err != nil {
				return nil, fmt.Errorf("the history of %s of %s %s: %w", f.Key, t.Type.Key, ids[w.record], err)
			}
			read[w.was] = v
		}
		list = append(list, valueAt{row, v})
	}
	slices.SortFunc(list, func(a, b valueAt) int { return int(a.row) - int(b.row) })
	return list, nil
}

func rowOrNull(t *Table, id string) int64 {
	if row := t.IDs.Row(id); row >= 0 {
		return int64(row)
	}
	return Null
}

// In is the row of another table of the same type that has the id of a row of this one, −1 where none has it.
func (ids *IDs) In(other *IDs, row int32) int32 {
	if ids.texts == nil && other.texts == nil {
		return other.rowOf(ids.nums[row])
	}
	return other.Row(ids.At(row))
}
