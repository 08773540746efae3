package engine

import "uzzel/core/column"

// levelCells are a worker's cells on one level of groups with one of across: which cell each leaf lies in.
type levelCells struct {
	rows, across int // how many fields of each the level goes by
	of           []int32
	leaf         []int32 // one leaf of each cell
	find         map[[maxDims]int64]int32
}

// newLevels makes the levels of so many groups and fields across, in the order rows·(across+1)+across.
func newLevels(rows, across int) []*levelCells {
	var list []*levelCells
	for i := range rows + 1 {
		for j := range across + 1 {
			list = append(list, &levelCells{rows: i, across: j, find: map[[maxDims]int64]int32{}})
		}
	}
	return list
}

// grow finds the cells of leaves that are new; rows is how many of their fields are groups.
func (l *levelCells) grow(keyer *keyer, rows int) {
	for leaf := len(l.of); leaf < keyer.n; leaf++ {
		var k [maxDims]int64
		key := keyer.key(leaf)
		copy(k[:], key[:l.rows])
		copy(k[l.rows:], key[rows:rows+l.across])
		c, ok := l.find[k]
		if !ok {
			c = int32(len(l.find))
			l.find[k] = c
			l.leaf = append(l.leaf, int32(leaf))
		}
		l.of = append(l.of, c)
	}
}

// firsts picks from each batch the rows that count on each level: the first one of each record in each cell. The rows
// of a record are adjacent, so that a cell need only know the last record it took.
type firsts struct{ levels []first }

type first struct {
	last []int32 // by cell
	cell []int32 // of each row that counts …
	row  []int32 // … and its index in the batch
}

func (f *firsts) of(levels []*levelCells, marks []bool, owners, leaf []int32) {
	for l, cells := range levels {
		p := &f.levels[l]
		for len(p.last) < len(cells.leaf) {
			p.last = append(p.last, -1)
		}
		if cap(p.cell) < batchSize {
			p.cell, p.row = make([]int32, batchSize), make([]int32, batchSize)
		}
		cell, row := p.cell[:len(leaf)], p.row[:len(leaf)]
		n := 0
		for i, at := range leaf {
			c, o := cells.of[at], owners[i]
			if o < 0 || p.last[c] == o || (marks != nil && !marks[i]) {
				continue
			}
			p.last[c] = o
			cell[n], row[n] = c, int32(i)
			n++
		}
		p.cell, p.row = cell[:n], row[:n]
	}
}

// levelAdds adds up on one level, taking each record once in each cell.
type levelAdds struct{ adds adds }

func (f *found) take(t *tally, levels []*levelCells, marks []bool, owners []int32, vals []int64, leaf []int32) {
	if f.lead {
		f.firsts.of(levels, marks, owners, leaf)
	}
	for l, cells := range levels {
		a := &f.levels[l].adds
		a.grow(len(cells.leaf), 0)
		f.levels[l].take(t, &f.firsts.levels[l], vals)
	}
}

func (a *levelAdds) take(t *tally, p *first, vals []int64) {
	switch {
	case vals == nil:
		for _, c := range p.cell {
			a.adds[c].count++
		}
	case t.fn == "count" || t.fn == "filled":
		for i, c := range p.cell {
			if vals[p.row[i]] != column.Null {
				a.adds[c].count++
			}
		}
	default:
		for i, c := range p.cell {
			if v := vals[p.row[i]]; v != column.Null {
				a.adds[c].add(v)
			}
		}
	}
}

// levelSums is what all workers found on one level; leaf is a leaf of the space in each cell.
type levelSums struct {
	adds adds
	leaf []int32
}

func (s *levelSums) absorb(a *levelAdds, cells *levelCells, to []int32) {
	base := len(s.leaf)
	for _, leaf := range cells.leaf {
		s.leaf = append(s.leaf, to[leaf])
	}
	s.adds.grow(len(s.leaf), 0)
	for c := range a.adds {
		s.adds[base+c].merge(&a.adds[c], false)
	}
}
