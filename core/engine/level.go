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

// levelAdds adds up on one level, taking each record once in each cell: the rows of a record stand together, so that a
// cell need only know the last one it took.
type levelAdds struct {
	adds adds
	last []int32
}

func (a *levelAdds) take(fn string, cells *levelCells, marks []bool, owners []int32, vals []int64, leaf []int32) {
	a.adds.grow(len(cells.leaf))
	for len(a.last) < len(cells.leaf) {
		a.last = append(a.last, -1)
	}
	counts := fn == "count" || fn == "filled"
	for i, ok := range marks {
		c := cells.of[leaf[i]]
		if !ok || owners[i] < 0 || vals[i] == column.Null || a.last[c] == owners[i] {
			continue
		}
		a.last[c] = owners[i]
		if counts {
			a.adds.count[c]++
		} else {
			a.adds.add(c, vals[i])
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
	s.adds.grow(len(s.leaf))
	for c := range a.adds.count {
		s.adds.merge(int32(base+c), &a.adds, c, false)
	}
}
