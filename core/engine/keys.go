package engine

import (
	"fmt"
	"math"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// dim is how one group or across field of one part gives each row a key: an int64 that stands for the group, Null
// for an empty value. A key is a code, a row number, the ordinal of a unit of time, or the value itself.
type dim struct {
	node  *node
	shift int64 // added to ordinals of the earlier period, so that indices match (docs/brief.md, compare)
	// Keys from base to base+card−1 are dense; where card is 0 they are not.
	base int64
	card int
	// sure says that no key lies outside of those: they are row numbers, or codes of one dictionary.
	sure bool
	key  func(vals []int64)
	// hidden marks rows whose group the reader may not see; their key is hiddenKey.
	hidden func(b *batch, out []bool)
}

// hiddenKey stands for a group that the reader may not see.
const hiddenKey = math.MaxInt64

// places is how many different keys there are, dense ones, with the one of empties and of what is hidden.
func (d *dim) places() int {
	if d.hidden != nil {
		return d.card + 2
	}
	return d.card + 1
}

// values reads the keys of a batch.
func (d *dim) values(b *batch, out []int64) {
	d.node.eval(b, out)
	if d.key != nil {
		d.key(out)
	}
	if d.hidden == nil {
		return
	}
	b.marked(d.hidden, func(i int) { out[i] = hiddenKey })
}

// maxDense is how many cells of dense keys are found by their index alone.
const maxDense = 1 << 20

func (r *run) dim(g *brief.BoundGroup, part int, shift int64) (*dim, error) {
	v := g.Values[part]
	n, err := r.value(v)
	if err != nil {
		return nil, err
	}
	d := &dim{node: n, shift: shift, hidden: n.hidden}
	switch {
	case v.Kind.Dated():
		r.dated(d, g.Group.By)
	case n.dict != nil:
		d.card, d.sure = len(n.dict.values), true
	case v.Kind == schema.YesNo:
		d.card = 2
	case v.Kind == schema.Link || v.Kind == schema.ID:
		t, err := r.snap.Table(v.To)
		if err != nil {
			return nil, err
		}
		d.card, d.sure = t.N, true
	default:
		if written := n.written(); written != nil {
			d.key = func(vals []int64) {
				for i, x := range vals {
					if x != column.Null {
						vals[i] = written(x)
					}
				}
			}
		}
	}
	return d, nil
}

// dated keys a date or time by a unit. Days of some 120 years are looked up in a table.
func (r *run) dated(d *dim, unit period.Unit) {
	cal := r.cal
	if unit == period.ByHour {
		d.card = 24
		d.key = func(vals []int64) {
			for i, x := range vals {
				if x != column.Null {
					vals[i] = int64(cal.HourOf(x))
				}
			}
		}
		return
	}
	d.node = r.asDays(d.node)
	first, last := period.Day(1960, 1, 1), period.Day(2080, 1, 1)
	table := make([]int32, last-first)
	for i := range table {
		table[i] = int32(cal.Ordinal(unit, first+int32(i)))
	}
	shift := d.shift
	d.key = func(vals []int64) {
		for i, x := range vals {
			switch {
			case x == column.Null:
			case x >= int64(first) && x < int64(last):
				vals[i] = int64(table[x-int64(first)]) + shift
			default:
				vals[i] = int64(cal.Ordinal(unit, int32(x))) + shift
			}
		}
	}
	if n := unit.Round(); n > 0 {
		d.card = n
	} else if unit != period.ByDay {
		d.base, d.card = int64(table[0])+shift, int(table[len(table)-1]-table[0])+1
	}
}

// keyer gives each row of a batch the number of its leaf: the combination of its keys. Each worker has one.
type keyer struct {
	dims   []*dim
	dense  []int32 // place → leaf+1, while all keys are dense
	size   int
	chains []map[uint64]int32 // otherwise: number so far and key → number, dim by dim
	values []map[int64]int32
	keys   []int64 // of each leaf, one after the other
	n      int     // leaves
	// seen says of each index whether it has rows, where leaves are indices: see flatten.
	seen []bool
}

// maxFlat is how many indices there are at most where leaves are indices.
const maxFlat = 1 << 18

// flattens says that so many of the indices of the one field have rows that leaves had better be indices: then a row's
// leaf is not looked up, and what workers found is put together index by index.
func (k *keyer) flattens() bool {
	return k.seen == nil && k.dense != nil && len(k.dims) == 1 && k.dims[0].sure && k.size <= maxFlat &&
		k.n > manyLeaves &&
		k.n > k.size/16
}

// flatten makes leaves indices, and gives the index that each leaf had.
func (k *keyer) flatten() []int32 {
	d, to := k.dims[0], make([]int32, k.n)
	k.seen = make([]bool, k.size)
	for leaf, v := range k.keys {
		to[leaf] = int32(d.place(v))
		k.seen[to[leaf]] = true
	}
	k.n, k.keys, k.dense = k.size, nil, nil
	return to
}

// place is where a key of a sure field lies: empties first, what is hidden last.
func (d *dim) place(v int64) int {
	switch v {
	case column.Null:
		return 0
	case hiddenKey:
		return d.card + 1
	}
	return int(v-d.base) + 1
}

// at is the key that lies at an index.
func (d *dim) at(place int) int64 {
	switch {
	case place == 0:
		return column.Null
	case place > d.card:
		return hiddenKey
	}
	return d.base + int64(place) - 1
}

// flat writes the index of each row of a batch, where leaves are indices.
func (k *keyer) flat(vals []int64, out []int32) {
	d, base, seen := k.dims[0], k.dims[0].base, k.seen
	for j, v := range vals[:len(out)] {
		c := uint64(v-base) + 1
		if c > uint64(d.card) || v == column.Null {
			c = uint64(d.place(v))
		}
		seen[c] = true
		out[j] = int32(c)
	}
}

func newKeyer(dims []*dim) *keyer {
	k := &keyer{dims: dims, size: 1}
	for _, d := range dims {
		if d.card == 0 || k.size > maxDense/d.places() {
			k.size = 0
			break
		}
		k.size *= d.places()
	}
	if k.size > 0 {
		k.dense = make([]int32, k.size)
		return k
	}
	return newChains(dims)
}

func newChains(dims []*dim) *keyer {
	k := &keyer{dims: dims, chains: make([]map[uint64]int32, len(dims)), values: make([]map[int64]int32, len(dims))}
	for i := range dims {
		k.chains[i], k.values[i] = map[uint64]int32{}, map[int64]int32{}
	}
	return k
}

// leaves writes the leaf of each row of a batch.
func (k *keyer) leaves(b *batch, out []int32) {
	vals := make([][]int64, len(k.dims))
	for i, d := range k.dims {
		vals[i] = take(&b.pool.ints, b.n)
		d.values(b, vals[i])
	}
	if k.seen != nil {
		k.flat(vals[0], out)
	} else if k.dense == nil || !k.place(vals, out) {
		k.chain(vals, out)
	}
	for _, v := range vals {
		give(&b.pool.ints, v)
	}
}

// place finds leaves by index. It says false where a key lies outside what is dense, and turns to chains for good.
func (k *keyer) place(vals [][]int64, out []int32) bool {
	for i, d := range k.dims {
		base, card := d.base, uint64(d.card)
		first, size := i == 0, int32(d.places())
		for j, v := range vals[i][:len(out)] {
			c := uint64(v-base) + 1
			if c-1 >= card {
				switch {
				case v == column.Null:
					c = 0
				case v == hiddenKey && d.hidden != nil:
					c = card + 1
				default:
					k.toChains()
					return false
				}
			}
			if first {
				out[j] = int32(c)
			} else {
				out[j] = out[j]*size + int32(c)
			}
		}
	}
	if len(k.dims) == 0 {
		clear(out)
	}
	dense := k.dense
	for j, a := range out {
		leaf := dense[a]
		if leaf == 0 {
			for i := range k.dims {
				k.keys = append(k.keys, vals[i][j])
			}
			k.n++
			leaf = int32(k.n)
			dense[a] = leaf
		}
		out[j] = leaf - 1
	}
	return true
}

func (k *keyer) toChains() {
	old := *k
	*k = *newChains(k.dims)
	for leaf := range old.n {
		k.intern(old.key(leaf))
	}
}

func (k *keyer) chain(vals [][]int64, out []int32) {
	key := make([]int64, len(k.dims))
	for j := range out {
		for i := range key {
			key[i] = vals[i][j]
		}
		out[j] = k.intern(key)
	}
}

// intern is the leaf of a combination of keys.
func (k *keyer) intern(key []int64) int32 {
	at := int32(0)
	for i, v := range key {
		n, ok := k.values[i][v]
		if !ok {
			n = int32(len(k.values[i]))
			k.values[i][v] = n
		}
		pair := uint64(uint32(at))<<32 | uint64(uint32(n))
		next, ok := k.chains[i][pair]
		if !ok {
			next = int32(len(k.chains[i]))
			k.chains[i][pair] = next
			if i == len(key)-1 {
				k.keys = append(k.keys, key...)
				k.n++
			}
		}
		at = next
	}
	if len(key) == 0 {
		k.n = 1
	}
	return at
}

// most is how many leaves there can be, 0 where that is not known.
func (k *keyer) most() int {
	if len(k.dims) != 1 {
		return 0
	}
	return k.size
}

// key is the keys of a leaf, one of each field, where leaves are no indices.
func (k *keyer) key(leaf int) []int64 { return k.keys[leaf*len(k.dims) : (leaf+1)*len(k.dims)] }

// MaxLeaves is how many groups a result may have.
const MaxLeaves = 2_000_000

func (k *keyer) tooMany() error {
	if k.n > MaxLeaves {
		return &TooLargeError{
			"/groups",
			fmt.Sprintf("the report has more than %s groups; group by fewer or coarser fields", thousands(MaxLeaves)),
		}
	}
	return nil
}
